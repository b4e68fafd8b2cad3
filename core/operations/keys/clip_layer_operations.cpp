// What a clip has beside its keys: named frames, and other clips that are added to it.
#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/operations/all_operations.h"
#include "core/operations/keys/clip_access.h"

namespace pivrak {
namespace {

/// A name for a frame, at most one; without a name it goes. `to_frame` takes it elsewhere.
Result<Outcome> marker_set(const Document& document, const Arguments& a, const OperationContext&) {
    PIVRAK_TRY(source, clip_named(document, a));
    Clip clip = *source;
    const double frame = a.number("frame");
    PIVRAK_CHECK(check_key_frame(frame));
    Marker marker{frame, a.has("name") ? a.text("name") : std::string()};
    const auto here = std::ranges::find(clip.markers, frame, &Marker::frame);
    const bool known = here != clip.markers.end();
    if (known && !a.has("name") && a.has("to_frame")) marker.name = here->name;
    if (known) clip.markers.erase(here);
    if (const auto to = a.number_if("to_frame")) {
        PIVRAK_CHECK(check_key_frame(*to));
        marker.frame = *to;
    }
    if (marker.name.empty() && !known)
        return Error{"marker.none", fmt::format("there is no marker at frame {:g}", frame), "frame"};
    if (!marker.name.empty()) {
        if (std::ranges::find(clip.markers, marker.frame, &Marker::frame) != clip.markers.end())
            return Error{"marker.there", fmt::format("there is another marker at frame {:g}", marker.frame),
                         "to_frame"};
        clip.markers.insert(std::ranges::upper_bound(clip.markers, marker.frame, {}, &Marker::frame), marker);
    }
    if (clip == *source) return nothing_to_do(document, "it stands there already");
    Outcome out{document};
    out.document.clips.set(std::move(clip));
    return out;
}

/// Another clip is added to one, or not any more with a share of nothing.
Result<Outcome> layer_set(const Document& document, const Arguments& a, const OperationContext&) {
    PIVRAK_TRY(source, clip_named(document, a));
    const Clip* added = nullptr;
    for (const Clip& clip : document.clips)
        if (clip.name == a.text("add")) added = &clip;
    if (!added) return Error{"clip.unknown", fmt::format("there is no clip '{}'", a.text("add")), "add"};
    const double share = a.number("share");
    if (!(std::abs(share) <= 1000))
        return Error{"layer.share", "a clip is added at most 1000 times as far", "share"};
    Clip clip = *source;
    ClipLayer layer{added->id, share, a.number_if("from_frame").value_or(clip.first_frame)};
    PIVRAK_CHECK(check_key_frame(layer.from_frame));
    const auto known = std::ranges::find(clip.layers, added->id, &ClipLayer::clip);
    if (share == 0 && known == clip.layers.end())
        return nothing_to_do(document, fmt::format("'{}' is not added to '{}'", added->name, clip.name));
    if (share == 0)
        clip.layers.erase(known);
    else if (known != clip.layers.end())
        *known = layer;
    else
        clip.layers.push_back(layer);
    Outcome out{document};
    out.document.clips.set(clip);
    if (layer_circle(out.document))
        return Error{"layer.circle", fmt::format("'{}' would be added to itself", clip.name), clip.name};
    out.messages.push_back(share == 0 ? fmt::format("'{}' is not added any more", added->name)
                                      : fmt::format("'{}' is added to '{}'", added->name, clip.name));
    return out;
}

}  // namespace

void add_clip_layer_operations(Registry& registry) {
    registry.add({"marker.set",
                  "Marker",
                  "Names a frame of a clip, moves that name, or takes it away.",
                  {clip_argument(),
                   {"frame", ArgumentKind::Number, "where it stands", true, {}, {}},
                   {"name", ArgumentKind::Text, "its name; empty takes it away", false, {}, {}},
                   {"to_frame", ArgumentKind::Number, "where it is to stand", false, {}, {}}},
                  marker_set});
    registry.add({"layer.set",
                  "Add a clip to another",
                  "What another clip's channels do beyond where they stand without keys is added to a clip: "
                  "a shake over a drive.",
                  {clip_argument(),
                   {"add", ArgumentKind::Text, "name of the clip that is added", true, {}, {}},
                   {"share", ArgumentKind::Number, "how much of it; 0 takes it away", false, 1, {}},
                   {"from_frame",
                    ArgumentKind::Number,
                    "where its first frame plays; at the start when left out",
                    false,
                    {},
                    {}}},
                  layer_set});
}

}  // namespace pivrak
