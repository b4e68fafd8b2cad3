#include "core/geometry/near/surface_side.h"

#include <algorithm>
#include <array>
#include <cmath>

#include "core/geometry/mesh/weld.h"

namespace pivrak {

SurfaceSide::SurfaceSide(const Mesh& mesh) : mesh_(&mesh) {
    const WeldedPoints welded = weld_points(mesh.positions);
    point_of_ = welded.of_vertex;
    at_points_.assign(welded.count(), Vec3(0, 0, 0));
    for (std::size_t t = 0; t < mesh.triangle_count(); ++t) {
        const std::array<Vec3, 3> at{mesh.corner(t, 0), mesh.corner(t, 1), mesh.corner(t, 2)};
        const Vec3 cross = (at[1] - at[0]).cross(at[2] - at[0]);
        if (!(cross.norm() > 0)) continue;
        const Vec3 normal = cross.normalized();
        for (std::size_t k = 0; k < 3; ++k) {
            const Vec3 one = at[(k + 1) % 3] - at[k], other = at[(k + 2) % 3] - at[k];
            const std::uint32_t a = point_of_[mesh.indices[3 * t + k]],
                                b = point_of_[mesh.indices[3 * t + (k + 1) % 3]];
            at_points_[a] += std::atan2(one.cross(other).norm(), one.dot(other)) * normal;
            at_edges_.try_emplace(std::minmax(a, b), Vec3(0, 0, 0)).first->second += normal;
        }
    }
}

/// Of the face, of one of its edges, or of one of its corners, whichever the place is on.
Vec3 SurfaceSide::normal_at(std::uint32_t t, const Vec3& nearest) const {
    constexpr double on_it = 1e-9;  ///< share of the triangle
    const std::array<Vec3, 3> at{mesh_->corner(t, 0), mesh_->corner(t, 1), mesh_->corner(t, 2)};
    const Vec3 cross = (at[1] - at[0]).cross(at[2] - at[0]);
    const double area = cross.squaredNorm();
    if (!(area > 0)) return cross;
    std::array<double, 3> share;  // of each corner
    for (std::size_t k = 0; k < 3; ++k)
        share[k] = (at[(k + 1) % 3] - nearest).cross(at[(k + 2) % 3] - nearest).dot(cross) / area;
    const auto point = [&](std::size_t k) { return point_of_[mesh_->indices[3 * t + k]]; };
    for (std::size_t k = 0; k < 3; ++k)
        if (share[k] > 1 - on_it) return at_points_[point(k)];
    for (std::size_t k = 0; k < 3; ++k)
        if (share[k] < on_it) return at_edges_.at(std::minmax(point((k + 1) % 3), point((k + 2) % 3)));
    return cross;
}

bool SurfaceSide::is_inside(const Vec3& place, std::uint32_t triangle, const Vec3& nearest) const {
    return (place - nearest).dot(normal_at(triangle, nearest)) < 0;
}

}  // namespace pivrak
