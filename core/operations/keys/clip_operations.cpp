// Clips: made, copied, changed, removed.
#include <fmt/format.h>

#include <algorithm>

#include "core/io/project/project_json.h"
#include "core/operations/all_operations.h"
#include "core/operations/keys/clip_access.h"
#include "core/operations/keys/retime.h"

namespace pivrak {
namespace {

constexpr const char* no_color = "none";

/// A rate of its own, or the project's again. Errors: `settings.frame_rate`.
Result<void> read_rate(const Document& document, const Arguments& a, Clip& clip) {
    if (!a.has("rate")) return {};
    const double before = frame_rate_of(document, clip), rate = a.number("rate");
    if (rate != 0 && (rate < 1 || rate > 1000))
        return Error{
            "settings.frame_rate",
            fmt::format("{} frames a second is out of range: 1 to 1000, or 0 for the project's", rate),
            "rate"};
    clip.rate = rate == 0 ? std::nullopt : std::optional(rate);
    if (a.text("keep") == "seconds") scale_frames(clip, frame_rate_of(document, clip) / before);
    return {};
}

/// What is given of a clip's name, range, loop, colour and rate. Errors: `name.empty`, `clip.*`,
/// `settings.*`.
Result<void> read_clip(const Document& document, const Arguments& a, Clip& clip) {
    if (a.has("name")) clip.name = a.text("name");
    if (clip.name.empty()) return Error{"name.empty", "a clip needs a name", "name"};
    for (const Clip& other : document.clips)
        if (other.id != clip.id && other.name == clip.name)
            return Error{"clip.duplicate", fmt::format("there is another clip '{}'", clip.name), "name"};
    clip.first_frame = a.number_if("first_frame").value_or(clip.first_frame);
    clip.last_frame = a.number_if("last_frame").value_or(clip.last_frame);
    if (a.has("loop")) clip.loop = a.flag("loop");
    if (a.has("color"))
        clip.color = a.text("color") == no_color ? std::nullopt : control_color_from(a.text("color"));
    PIVRAK_CHECK(read_rate(document, a, clip));
    return check_clip_range(clip);
}

/// In the list before another one, or last; all get places anew.
void put_in_order(Document& document, ClipId moved, ClipId before) {
    std::vector<ClipId> order;
    for (const Clip* clip : clips_in_order(document)) {
        if (clip->id == before) order.push_back(moved);
        if (clip->id != moved) order.push_back(clip->id);
    }
    if (!before) order.push_back(moved);
    int place = 0;
    for (const ClipId id : order) {
        Clip clip = *document.clips.find(id);
        clip.place = place++;
        document.clips.set(std::move(clip));
    }
}

Result<Outcome> clip_set(const Document& document, const Arguments& a, const OperationContext&) {
    PIVRAK_TRY(source, clip_named(document, a));
    Clip clip = *source;
    PIVRAK_CHECK(read_clip(document, a, clip));
    Outcome out{document};
    out.document.clips.set(clip);
    if (a.has("before")) {
        ClipId before;
        for (const Clip& other : document.clips)
            if (other.name == a.text("before")) before = other.id;
        if (!before && !a.text("before").empty())
            return Error{"clip.unknown", fmt::format("there is no clip '{}'", a.text("before")), "before"};
        if (before != clip.id) put_in_order(out.document, clip.id, before);
    }
    return out;
}

/// With the range and the loop of another one; with its keys when that is asked.
Result<Outcome> clip_add(const Document& document, const Arguments& a, const OperationContext&) {
    PIVRAK_TRY(source, clip_named(document, a));
    Outcome out{document};
    Clip clip = *source;
    clip.id = out.document.new_id<ClipId>();
    if (!a.flag("keys")) {
        clip.tracks.clear();
        clip.markers.clear();
        clip.layers.clear();
    }
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
    const SharedTable<Clip> others = out.document.clips;
    for (Clip clip : others) {
        if (!std::erase_if(clip.layers, [&](const ClipLayer& layer) { return layer.clip == source->id; }))
            continue;
        out.messages.push_back(fmt::format("it is not added to '{}' any more", clip.name));
        out.document.clips.set(std::move(clip));
    }
    return out;
}

/// What a clip is given beside its name.
std::vector<ArgumentSpec> with_range(std::vector<ArgumentSpec> others) {
    others.insert(others.end(), {{"first_frame", ArgumentKind::Number, "first frame played", false, {}, {}},
                                 {"last_frame",
                                  ArgumentKind::Number,
                                  "last frame played; of a loop it stands like the first",
                                  false,
                                  {},
                                  {}},
                                 {"loop", ArgumentKind::Flag, "whether it loops", false, {}, {}},
                                 {"rate",
                                  ArgumentKind::Number,
                                  "frames a second, instead of the project's; 0 for that again",
                                  false,
                                  {},
                                  {}},
                                 keep_argument(),
                                 {"color",
                                  ArgumentKind::Choice,
                                  "in the list",
                                  false,
                                  {},
                                  {no_color, "petrol", "steel", "leaf", "saffron", "rust", "ink", "plum"}}});
    return others;
}

}  // namespace

void add_clip_operations(Registry& registry) {
    ArgumentSpec like = clip_argument();
    like.summary = "the clip whose range it takes; the first one when left out";
    registry.add({"clip.add", "New clip",
                  "Another clip on the same rig, empty or with the keys of one that is there.",
                  with_range({like,
                              {"name", ArgumentKind::Text, "its name", true, {}, {}},
                              {"keys", ArgumentKind::Flag, "with that clip's keys", false, false, {}}}),
                  clip_add});
    registry.add({"clip.remove", "Remove a clip", "Its keys go with it.", {clip_argument()}, clip_remove});
    registry.add(
        {"clip.set", "Clip", "Changes the name, range, loop, rate, colour and place of a clip.",
         with_range(
             {clip_argument(),
              {"name", ArgumentKind::Text, "new name", false, {}, {}},
              {"before", ArgumentKind::Text, "its place: before that clip; last when empty", false, {}, {}}}),
         clip_set});
}

}  // namespace pivrak
