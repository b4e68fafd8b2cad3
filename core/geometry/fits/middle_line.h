#pragma once

#include <algorithm>

#include "core/geometry/mesh/mesh.h"

namespace pivrak {

/// The line half way between the corners of a side face across its normal, seen along an axis:
/// `across . x = offset`. For the two triangles of a cylinder's facet both are the same and pass through the
/// centre.
struct MiddleLine {
    Vec2 across;
    double offset;
};

/// `plane.project` sees along the axis.
template <class Plane>
MiddleLine middle_line(const Mesh& mesh, std::size_t triangle, const Vec3& normal, const Plane& plane) {
    const Vec2 n = plane.project(normal).normalized(), across(-n.y(), n.x());
    double low = 1e300, high = -1e300;
    for (int k = 0; k < 3; ++k) {
        const double side = across.dot(plane.project(mesh.corner(triangle, k)));
        low = std::min(low, side);
        high = std::max(high, side);
    }
    return {across, 0.5 * (low + high)};
}

}  // namespace pivrak
