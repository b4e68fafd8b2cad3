#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/checks/drive_mapper.h"
#include "core/checks/element_check.h"
#include "core/rig/ride_frame.h"

namespace pivrak {

namespace {
constexpr double flip_rad = 60 * rad_per_deg;  // between neighbours a fiftieth of a turn apart
}

/// Whether a rider that keeps the world's up is turned over where its path goes straight up.
void check(const Ride& ride, const Part& part, ElementCheck& out) {
    const Path* path = out.document.paths.find(ride.path);
    if (!path || ride.upright == Upright::Path || ride.upright == Upright::Plumb) return;
    const auto measured = out.facts.path(out.document, *path);
    if (!measured) return;
    const PathCurve& curve = (*measured)->curve;
    const RiddenPath ridden{curve, path->rolls, world_from_rest(out.document, path->carrier)};
    constexpr int looks = 400;
    Vec3 last(0, 0, 0), last_way(0, 0, 0);
    for (int i = 0; i <= looks; ++i) {
        const double along = curve.length() * i / looks;
        const Frame frame = ride_frame(ridden, ride, along);
        const Vec3 up = frame.axis(ride.up_axis), way = frame.axis(ride.axis);
        const double bend = std::acos(std::clamp(way.dot(last_way), -1.0, 1.0));
        if (i > 0 && std::acos(std::clamp(up.dot(last), -1.0, 1.0)) > bend + flip_rad)
            return out.add(Stage::Rig, "ride.flips", part.id,
                           fmt::format("'{}' turns over {} along '{}', where the path goes straight up",
                                       part.name, format_length(along), path->name),
                           {{"op", "ride.set"}, {"parts", {part.id.value}}, {"upright", "path"}},
                           "Keep it upright by its path");
        last = up;
        last_way = way;
    }
}

void map(const Ride& ride, const Part& part, DriveMapper& out) {
    if (ride.ahead) out.add({ride.ahead, ChannelKind::Along}, {part.id, ChannelKind::Along}, "coupled");
}

}  // namespace pivrak
