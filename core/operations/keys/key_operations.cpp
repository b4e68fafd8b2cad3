#include <fmt/format.h>

#include <algorithm>

#include "core/base/words.h"
#include "core/io/project/project_json.h"
#include "core/model/element_channels.h"
#include "core/motion/evaluator.h"
#include "core/operations/all_operations.h"
#include "core/operations/channel_access.h"
#include "core/operations/keys/clip_access.h"

namespace pivrak {
namespace {

/// Every channel of an owner that a hand may move, but those of a rider's or any other part that stand at
/// rest and have no keys, when others do not.
Result<std::vector<ChannelRef>> all_to_key(const Drivers& drivers, const Clip& clip, OwnerId owner) {
    const Document& document = drivers.document();
    std::vector<ChannelRef> free, moved;
    const std::vector<ChannelRef> channels = channels_of(document, owner);
    for (const ChannelRef channel : channels) {
        if (!check_free_channel(drivers, channel)) continue;
        free.push_back(channel);
        if (channel.kind >= ChannelKind::Along || clip.track(channel) ||
            find_channel(document, channel)->value != 0)
            moved.push_back(channel);
    }
    if (free.empty()) {
        const ChannelRef told = channels.empty() ? ChannelRef{owner} : channels.back();
        return check_free_channel(drivers, told).error();
    }
    return moved.empty() ? free : moved;
}

/// The channel named of all parts and elements; or with "all" every one of theirs.
Result<std::vector<ChannelRef>> channels_to_key(const Document& document, const Clip& clip,
                                                const Arguments& a) {
    const Drivers drivers(document);
    if (a.text("channel") != "all") {
        PIVRAK_TRY(channels, channels_asked(a));
        for (const ChannelRef channel : channels) PIVRAK_CHECK(check_free_channel(drivers, channel));
        return channels;
    }
    std::vector<ChannelRef> all;
    for (const OwnerId owner : owners_asked(a)) {
        PIVRAK_TRY(channels, all_to_key(drivers, clip, owner));
        all.insert(all.end(), channels.begin(), channels.end());
    }
    if (all.empty()) return channels_asked(a).error();
    return all;
}

/// How a key runs on of which that is not said: as the one that stands there, or as the one before it.
Key key_like(const Track& track, double frame) {
    if (const Key* here = track.key_at(frame)) return *here;
    if (track.keys.empty()) return {};
    const auto next = std::lower_bound(track.keys.begin(), track.keys.end(), frame,
                                       [](const Key& key, double f) { return key.frame < f; });
    const Key& before = next == track.keys.begin() ? *next : *(next - 1);
    return {0, 0, before.interpolation == Interpolation::Own ? Interpolation::Smooth : before.interpolation};
}

Result<Outcome> key_set(const Document& document, const Arguments& a, const OperationContext&) {
    PIVRAK_TRY(source, clip_named(document, a));
    const double frame = a.number("frame");
    PIVRAK_CHECK(check_key_frame(frame));
    PIVRAK_TRY(evaluator, Evaluator::compile(document, source->id));
    Pose pose = evaluator.make_pose();
    if (!a.has("value")) evaluator.evaluate(frame, pose);
    Clip clip = *source;
    PIVRAK_TRY(channels, channels_to_key(document, *source, a));
    for (const ChannelRef channel : channels) {
        const std::size_t slot = *evaluator.channel_slot(channel);
        // What sways, or is added by a layer, comes on top again.
        double value = pose.asked[slot] - evaluator.layered(slot, frame);
        if (a.has("value")) {
            PIVRAK_TRY(typed, channel_value(document, a, channel));
            value = typed;
        }
        Track& track = clip.track_or_new(channel);
        Key key = key_like(track, frame);
        key.frame = frame;
        key.value = value;
        if (a.has("interpolation")) key = {frame, value, *interpolation_from(a.text("interpolation"))};
        put_key(track, key);
    }
    Outcome out{document};
    out.document.clips.set(clip);
    // What was just keyed, in words.
    const Key& last = *clip.track(channels.back())->key_at(frame);
    out.messages.push_back(
        channels.size() == 1
            ? fmt::format("{} keyed at frame {:g}: {}", channel_name(document, channels.back()), frame,
                          format_channel(channels.back().kind, last.value, document))
            : fmt::format("{} keyed at frame {:g}", counted(channels.size(), "channel"), frame));
    return out;
}

Result<Outcome> key_remove(const Document& document, const Arguments& a, const OperationContext&) {
    PIVRAK_TRY(source, clip_named(document, a));
    Clip clip = *source;
    const auto frame = a.number_if("frame");
    std::size_t removed = 0;
    PIVRAK_TRY(channels, channels_asked(a));
    for (const ChannelRef channel : channels) {
        Track& track = clip.track_or_new(channel);
        removed += std::erase_if(track.keys, [&](const Key& key) { return !frame || key.frame == *frame; });
    }
    if (removed == 0)
        return Error{"key.none",
                     frame ? fmt::format("there is no key at frame {}", *frame) : "there is no key to remove",
                     ""};
    std::erase_if(clip.tracks, [](const Track& track) { return track.keys.empty(); });
    Outcome out{document};
    out.document.clips.set(clip);
    out.messages.push_back(counted(removed, "key") + " removed");
    return out;
}

}  // namespace

void add_key_operations(Registry& registry) {
    ArgumentSpec channel = channel_argument();
    channel.summary += "; all that can be moved";
    channel.choices.emplace_back("all");
    registry.add({"key.set",
                  "Set a key",
                  "Keys a channel of parts at a frame.",
                  {parts_argument("parts to key", false),
                   elements_argument(),
                   channel,
                   {"frame", ArgumentKind::Number, "where the key stands", true, {}, {}},
                   {"value", ArgumentKind::Value, "as it stands at that frame when left out", false, {}, {}},
                   {"interpolation",
                    ArgumentKind::Choice,
                    "how it runs on to the next key; as the key there or before, else smooth, when left out",
                    false,
                    {},
                    {"linear", "smooth", "stepped", "flat"}},
                   clip_argument()},
                  key_set});
    registry.add({"key.remove",
                  "Remove keys",
                  "Takes the key at a frame away, or all keys of a channel.",
                  {parts_argument("parts whose keys go", false),
                   elements_argument(),
                   channel_argument(),
                   {"frame", ArgumentKind::Number, "only the key at this frame", false, {}, {}},
                   clip_argument()},
                  key_remove});
}

}  // namespace pivrak
