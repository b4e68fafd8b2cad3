#pragma once

#include <algorithm>

#include "core/geometry/mesh/mesh.h"

namespace pivrak {

/// How far a mesh reaches along a line, measured from a point of it.
struct Extent {
    double low = 1e300, high = -1e300;
    double middle() const { return 0.5 * (low + high); }
    double length() const { return high - low; }
};

/// Pre: `direction` is a unit vector, the mesh has a vertex.
inline Extent extent_along(const Mesh& mesh, const Vec3& point, const Vec3& direction) {
    Extent extent;
    for (const Vec3f& p : mesh.positions) {
        const double along = direction.dot(p.cast<double>() - point);
        extent.low = std::min(extent.low, along);
        extent.high = std::max(extent.high, along);
    }
    return extent;
}

}  // namespace pivrak
