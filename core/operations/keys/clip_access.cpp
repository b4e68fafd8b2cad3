#include "core/operations/keys/clip_access.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/operations/keys/retime.h"

namespace pivrak {

ArgumentSpec clip_argument() {
    return {"clip", ArgumentKind::Text, "name of the clip; the first one when left out", false, {}, {}};
}

Result<const Clip*> clip_named(const Document& document, const Arguments& a) {
    if (!a.has("clip")) return &clip_or_first(document);
    for (const Clip& clip : document.clips)
        if (clip.name == a.text("clip")) return &clip;
    return Error{"clip.unknown", fmt::format("there is no clip '{}'", a.text("clip")), "clip"};
}

ArgumentSpec keep_argument() {
    return {"keep",
            ArgumentKind::Choice,
            "when the rate changes: keys keep their frames, or their seconds",
            false,
            "frames",
            {kept_words.begin(), kept_words.end()}};
}

Result<void> check_clip_range(const Clip& clip) {
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

Result<void> check_key_frame(double frame) {
    if (std::abs(frame) <= farthest_frame) return {};
    return Error{
        "key.frame",
        fmt::format("frame {:g} is out of range: keys stand within 10 000 000 frames of frame 0", frame),
        "frame"};
}

void put_key(Track& track, const Key& key) {
    const auto at = std::lower_bound(track.keys.begin(), track.keys.end(), key.frame,
                                     [](const Key& k, double f) { return k.frame < f; });
    if (at != track.keys.end() && at->frame == key.frame)
        *at = key;
    else
        track.keys.insert(at, key);
}

}  // namespace pivrak
