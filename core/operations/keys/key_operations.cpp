#include <fmt/format.h>

#include <algorithm>

#include "core/base/words.h"
#include "core/io/project/project_json.h"
#include "core/motion/evaluator.h"
#include "core/operations/all_operations.h"
#include "core/operations/channel_access.h"
#include "core/operations/keys/clip_access.h"

namespace pivrak {
namespace {

/// The channel named; or with "all" every one of a part that a hand may move, but those of a rider's or any
/// other part that stand at rest and have no keys, when others do not.
Result<std::vector<ChannelKind>> channels_to_key(const Document& document, const Clip& clip, PartId id,
                                                 const std::string& wanted) {
    if (wanted != "all") {
        const ChannelKind kind = *channel_kind_from(wanted);
        PIVRAK_CHECK(check_free_channel(document, {id, kind}));
        return std::vector{kind};
    }
    const Part& part = *document.parts.find(id);
    std::vector<ChannelKind> free, moved;
    for (const ChannelKind kind : part.channels()) {
        if (!check_free_channel(document, {id, kind})) continue;
        free.push_back(kind);
        if (kind == ChannelKind::Along || kind == ChannelKind::Travel || clip.track({id, kind}) ||
            part.joint.channel(kind).value != 0)
            moved.push_back(kind);
    }
    if (free.empty())
        return check_free_channel(document, {id, part.chain  ? ChannelKind::Travel
                                                 : part.ride ? ChannelKind::Along
                                                             : ChannelKind::Turn})
            .error();
    return moved.empty() ? free : moved;
}

Result<Outcome> key_set(const Document& document, const Arguments& a, const OperationContext&) {
    PIVRAK_TRY(source, clip_named(document, a));
    const double frame = a.number("frame");
    PIVRAK_CHECK(check_key_frame(frame));
    PIVRAK_TRY(evaluator, Evaluator::compile(document, source->id));
    Pose pose = evaluator.make_pose();
    if (!a.has("value")) evaluator.evaluate(frame, pose);
    Clip clip = *source;
    for (const PartId part : a.parts("parts")) {
        PIVRAK_TRY(kinds, channels_to_key(document, *source, part, a.text("channel")));
        for (const ChannelKind kind : kinds) {
            double value = pose.channels[*evaluator.channel_slot({part, kind})];
            if (a.has("value")) {
                PIVRAK_TRY(typed, channel_value(document, a, {part, kind}));
                value = typed;
            }
            put_key(clip.track_or_new({part, kind}),
                    {frame, value, *interpolation_from(a.text("interpolation"))});
        }
    }
    Outcome out{document};
    out.document.clips.set(clip);
    return out;
}

Result<Outcome> key_remove(const Document& document, const Arguments& a, const OperationContext&) {
    PIVRAK_TRY(source, clip_named(document, a));
    Clip clip = *source;
    const auto frame = a.number_if("frame");
    std::size_t removed = 0;
    for (const PartId part : a.parts("parts")) {
        Track& track = clip.track_or_new({part, channel_of(a)});
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

Result<Outcome> clip_set(const Document& document, const Arguments& a, const OperationContext&) {
    PIVRAK_TRY(source, clip_named(document, a));
    Clip clip = *source;
    if (a.has("name")) clip.name = a.text("name");
    if (clip.name.empty()) return Error{"name.empty", "a clip needs a name", "name"};
    for (const Clip& other : document.clips)
        if (other.id != clip.id && other.name == clip.name)
            return Error{"clip.duplicate", fmt::format("there is another clip '{}'", clip.name), "name"};
    clip.first_frame = a.number_if("first_frame").value_or(clip.first_frame);
    clip.last_frame = a.number_if("last_frame").value_or(clip.last_frame);
    if (a.has("loop")) clip.loop = a.flag("loop");
    if (clip.first_frame >= clip.last_frame)
        return Error{
            "clip.range",
            fmt::format("a clip from frame {} to {} has no length", clip.first_frame, clip.last_frame),
            "last_frame"};
    if (clip.last_frame - clip.first_frame > most_clip_frames)
        return Error{"clip.range", "a clip may have at most 1 000 000 frames", "last_frame"};
    if (std::max(std::abs(clip.first_frame), std::abs(clip.last_frame)) > farthest_frame)
        return Error{"clip.range", "a clip lies within 10 000 000 frames of frame 0", "first_frame"};
    Outcome out{document};
    out.document.clips.set(clip);
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
                  {parts_argument("parts to key"),
                   channel,
                   {"frame", ArgumentKind::Number, "where the key stands", true, {}, {}},
                   {"value", ArgumentKind::Value, "as it stands at that frame when left out", false, {}, {}},
                   {"interpolation",
                    ArgumentKind::Choice,
                    "how it runs on to the next key",
                    false,
                    "smooth",
                    {"linear", "smooth"}},
                   clip_argument()},
                  key_set});
    registry.add({"key.remove",
                  "Remove keys",
                  "Takes the key at a frame away, or all keys of a channel.",
                  {parts_argument("parts whose keys go"),
                   channel_argument(),
                   {"frame", ArgumentKind::Number, "only the key at this frame", false, {}, {}},
                   clip_argument()},
                  key_remove});
    registry.add({"clip.set",
                  "Clip",
                  "Changes the name, the range and the loop of a clip.",
                  {clip_argument(),
                   {"name", ArgumentKind::Text, "new name", false, {}, {}},
                   {"first_frame", ArgumentKind::Number, "first frame played", false, {}, {}},
                   {"last_frame", ArgumentKind::Number, "last frame played", false, {}, {}},
                   {"loop", ArgumentKind::Flag, "whether it plays again and again", false, {}, {}}},
                  clip_set});
}

}  // namespace pivrak
