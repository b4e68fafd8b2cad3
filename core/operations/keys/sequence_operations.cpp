// Steps of parts one after the other.
#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/base/words.h"
#include "core/model/element_channels.h"
#include "core/motion/curve.h"
#include "core/operations/all_operations.h"
#include "core/operations/channel_access.h"
#include "core/operations/drivers/driven_channel.h"
#include "core/operations/keys/clip_access.h"
#include "core/operations/keys/key_picks.h"

namespace pivrak {
namespace {

/// The value of a channel where a step begins: what its keys say there, or how it stands without.
double value_before(const Document& document, const Track& track, ChannelRef channel, double frame) {
    if (track.keys.empty()) return find_channel(document, channel).value_or(Channel{}).value;
    return sample_curve(compile_curve(track.keys, track.before, track.after), track.before, track.after,
                        frame);
}

/// Behind the last key of what is in the sequence so far, or the clip's first frame.
double end_of(const Clip& clip, const std::vector<ChannelRef>& of) {
    double end = clip.first_frame;
    for (const Track& track : clip.tracks)
        if (!track.keys.empty() && (of.empty() || std::ranges::find(of, track.channel) != of.end()))
            end = std::max(end, track.keys.back().frame);
    return end;
}

/// A move of each part, in the order in which they are named: each begins a gap behind the end of the one
/// before; of a gap below nothing they overlap.
Result<Outcome> sequence_add(const Document& document, const Arguments& a, const OperationContext&) {
    PIVRAK_TRY(source, clip_named(document, a));
    Clip clip = *source;
    const double frames = a.number("frames"), gap = a.number("gap");
    if (!(frames > 0 && frames <= most_clip_frames))
        return Error{"sequence.frames", "a step takes more than no frame, up to 1 000 000", "frames"};
    const Interpolation runs = a.text("eases") == "no" ? Interpolation::Linear : Interpolation::Flat;
    const Drivers drivers(document);
    double start = a.has("frame") ? a.number("frame") : end_of(clip, {}) + gap;
    double end = start;
    for (const PartId part : a.parts("parts")) {
        PIVRAK_TRY(channel, channel_at(document, part, a.values().at("channel")));
        PIVRAK_CHECK(check_free_channel(drivers, channel));
        PIVRAK_TRY(to, a.value("to", dimension_of(channel.kind), document.settings.length_unit));
        Track& track = clip.track_or_new(channel);
        const double from = value_before(document, track, channel, start);
        if (a.flag("by")) to += from;
        PIVRAK_CHECK(check_in_range(channel.kind, to));
        PIVRAK_CHECK(check_key_frame(start + frames));
        std::erase_if(track.keys,
                      [&](const Key& key) { return key.frame > start && key.frame < start + frames; });
        put_key(track, {start, from, runs});
        put_key(track, {start + frames, within_limits(document, channel, to), runs});
        end = start + frames;
        start = end + gap;
    }
    if (end > clip.last_frame && !clip.loop) clip.last_frame = end;
    return with_clip(document, std::move(clip),
                     fmt::format("{} in sequence, the last one ends at frame {:g}",
                                 counted(a.parts("parts").size(), "step"), end));
}

/// The moves that parts have are put one behind the other, each as long and as it is.
Result<Outcome> sequence_space(const Document& document, const Arguments& a, const OperationContext&) {
    PIVRAK_TRY(source, clip_named(document, a));
    Clip clip = *source;
    const double gap = a.number("gap");
    double start = 0;
    bool first = true;
    for (const PartId part : a.parts("parts")) {
        double low = 1e300, high = -1e300;
        const auto is_meant = [&](const Track& track) {
            return track.channel.owner == OwnerId(part) && !track.keys.empty() &&
                   (!a.has("channel") || track.channel.kind == channel_of(a));
        };
        for (const Track& track : clip.tracks)
            if (is_meant(track)) {
                low = std::min(low, track.keys.front().frame);
                high = std::max(high, track.keys.back().frame);
            }
        if (low > high)
            return Error{"key.none",
                         fmt::format("'{}' has no keys in '{}'", name_of(document, part), clip.name),
                         name_of(document, part)};
        if (first) start = a.number_if("frame").value_or(low);
        first = false;
        for (Track& track : clip.tracks)
            if (is_meant(track))
                for (Key& key : track.keys) {
                    key.frame += start - low;
                    PIVRAK_CHECK(check_key_frame(key.frame));
                }
        start += high - low + gap;
    }
    if (clip == *source) return nothing_to_do(document, "they stand so already");
    return with_clip(document, std::move(clip),
                     fmt::format("{} one behind the other, until frame {:g}",
                                 counted(a.parts("parts").size(), "part"), start - gap));
}

}  // namespace

void add_sequence_operations(Registry& registry) {
    const auto number = [](const char* name, const char* summary, bool needed, nlohmann::json usual = {}) {
        return ArgumentSpec{name, ArgumentKind::Number, summary, needed, std::move(usual), {}};
    };
    registry.add(
        {"sequence.add",
         "Step",
         "Each of the parts makes a move, one after the other, with gaps or overlaps.",
         {parts_argument("parts that move, in their order"),
          driven_channel_argument("channel", "which channel of theirs; the joint's own when left out"),
          {"to", ArgumentKind::Value, "where each of them gets to", true, {}, {}},
          {"by", ArgumentKind::Flag, "that much further than it stands", false, false, {}},
          number("frames", "how long each takes", true),
          number("gap", "frames between two of them; below nothing they overlap", false, 0),
          number("frame", "where the first begins; behind all keys when left out", false),
          {"eases", ArgumentKind::Choice, "at both ends", false, "yes", {"yes", "no"}},
          clip_argument()},
         sequence_add});
    ArgumentSpec channel = channel_argument();
    channel.fallback = {};
    channel.summary = "only this channel of them";
    registry.add(
        {"sequence.space",
         "One after the other",
         "The moves that parts have are put one behind the other, with gaps or overlaps.",
         {parts_argument("parts, in their order"), channel,
          number("gap", "frames between two of them; below nothing they overlap", false, 0),
          number("frame", "where the first begins; where it does now when left out", false), clip_argument()},
         sequence_space});
}

}  // namespace pivrak
