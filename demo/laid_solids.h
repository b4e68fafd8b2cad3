#pragma once

#include "core/geometry/mesh/solid.h"

namespace pivrak::demo {

/// A profile in the side view (x forward, z up) drawn out across the vehicle, from y0 to y1.
inline Solid across(const Loop& side_view, const std::vector<Loop>& holes, double y0, double y1,
                    double chamfer = 0) {
    Solid s = extrude(side_view, holes, -y1, -y0, chamfer);
    // Drawn flat: x stays, the profile's up becomes z, what was drawn out runs to the right.
    return s.turn(0, pi / 2);
}

/// A solid of revolution about z, laid along y at a place.
inline Solid round_at(Solid solid, const Vec3& at) {
    return solid.lay_along(1).move(at);
}

}  // namespace pivrak::demo
