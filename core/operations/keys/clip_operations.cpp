// Clips: made, copied, changed, removed.
#include <fmt/format.h>

#include <algorithm>

#include "core/operations/all_operations.h"
#include "core/operations/keys/clip_access.h"

namespace pivrak {
namespace {

/// What is given of name, range and loop, into a clip. Errors: `name.empty`, `clip.*`.
Result<void> read_clip(const Document& document, const Arguments& a, Clip& clip) {
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
    return {};
}

Result<Outcome> clip_set(const Document& document, const Arguments& a, const OperationContext&) {
    PIVRAK_TRY(source, clip_named(document, a));
    Clip clip = *source;
    PIVRAK_CHECK(read_clip(document, a, clip));
    Outcome out{document};
    out.document.clips.set(clip);
    return out;
}

/// With the range and the loop of another one; with its keys when that is asked.
Result<Outcome> clip_add(const Document& document, const Arguments& a, const OperationContext&) {
    PIVRAK_TRY(source, clip_named(document, a));
    Outcome out{document};
    Clip clip = *source;
    clip.id = out.document.new_id<ClipId>();
    if (!a.flag("keys")) clip.tracks.clear();
    PIVRAK_CHECK(read_clip(document, a, clip));
    out.document.clips.set(clip);
    out.messages.push_back(
        fmt::format("clip '{}' added{}", clip.name,
                    a.flag("keys") ? fmt::format(", with the keys of '{}'", source->name) : ""));
    return out;
}

Result<Outcome> clip_remove(const Document& document, const Arguments& a, const OperationContext&) {
    PIVRAK_TRY(source, clip_named(document, a));
    if (document.clips.size() < 2)
        return Error{"clip.last", fmt::format("'{}' is the only clip", source->name), "clip"};
    Outcome out{document};
    out.document.clips.erase(source->id);
    out.messages.push_back(fmt::format("clip '{}' removed", source->name));
    return out;
}

}  // namespace

void add_clip_operations(Registry& registry) {
    ArgumentSpec like = clip_argument();
    like.summary = "the clip whose range it takes; the first one when left out";
    registry.add({"clip.add",
                  "New clip",
                  "Another clip on the same rig, empty or with the keys of one that is there.",
                  {like,
                   {"name", ArgumentKind::Text, "its name", true, {}, {}},
                   {"keys", ArgumentKind::Flag, "with that clip's keys", false, false, {}},
                   {"first_frame", ArgumentKind::Number, "first frame played", false, {}, {}},
                   {"last_frame", ArgumentKind::Number, "last frame played", false, {}, {}},
                   {"loop", ArgumentKind::Flag, "whether it plays again and again", false, {}, {}}},
                  clip_add});
    registry.add({"clip.remove", "Remove a clip", "Its keys go with it.", {clip_argument()}, clip_remove});
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
