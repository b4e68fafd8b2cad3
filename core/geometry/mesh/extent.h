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

/// The same of what lies at least so far from the line [m]; none of it: `length()` is far below 0.
inline Extent extent_beyond(const Mesh& mesh, const Vec3& point, const Vec3& direction, double radius) {
    Extent extent;
    for (const Vec3f& p : mesh.positions) {
        const Vec3 from = p.cast<double>() - point;
        if (direction.cross(from).norm() < radius) continue;
        const double along = direction.dot(from);
        extent.low = std::min(extent.low, along);
        extent.high = std::max(extent.high, along);
    }
    return extent;
}

/// How near the surface comes to the line: what turns on it within that radius is free [m].
double free_radius(const Mesh& mesh, const Vec3& point, const Vec3& direction);

}  // namespace pivrak
