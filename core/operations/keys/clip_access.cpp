#include "core/operations/keys/clip_access.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

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
