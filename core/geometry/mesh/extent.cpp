#include "core/geometry/mesh/extent.h"

namespace pivrak {
namespace {

double to_segment(const Vec2& a, const Vec2& b) {
    const Vec2 along = b - a;
    const double length = along.squaredNorm();
    const double share = length > 0 ? std::clamp(-a.dot(along) / length, 0.0, 1.0) : 0;
    return (a + share * along).norm();
}

double turn(const Vec2& a, const Vec2& b) {
    return a.x() * b.y() - a.y() * b.x();
}

}  // namespace

double free_radius(const Mesh& mesh, const Vec3& point, const Vec3& direction) {
    const Vec3 u = any_perpendicular(direction), v = direction.cross(u);
    double nearest = 1e300;
    for (std::size_t t = 0; t < mesh.triangle_count(); ++t) {
        Vec2 at[3];
        for (int k = 0; k < 3; ++k) {
            const Vec3 from = mesh.corner(t, k) - point;
            at[k] = {u.dot(from), v.dot(from)};
        }
        // Seen along the line, it may lie round it.
        const double ab = turn(at[0], at[1]), bc = turn(at[1], at[2]), ca = turn(at[2], at[0]);
        if ((ab > 0 && bc > 0 && ca > 0) || (ab < 0 && bc < 0 && ca < 0)) return 0;
        for (int k = 0; k < 3; ++k) nearest = std::min(nearest, to_segment(at[k], at[(k + 1) % 3]));
    }
    return nearest;
}

}  // namespace pivrak
