#include "core/geometry/near/graded.h"

#include <algorithm>
#include <cmath>

namespace pivrak {
namespace {

using FlatPolygon = std::vector<Vec3>;

/// What of a convex polygon lies on one side of a plane square to x or y: `side * p[axis] >= at`.
FlatPolygon beyond_side(const FlatPolygon& polygon, int axis, double side, double at) {
    FlatPolygon out;
    for (std::size_t i = 0; i < polygon.size(); ++i) {
        const Vec3 &a = polygon[i], &b = polygon[(i + 1) % polygon.size()];
        const double da = side * a[axis] - at, db = side * b[axis] - at;
        if (da >= 0) out.push_back(a);
        if ((da > 0 && db < 0) || (da < 0 && db > 0)) out.push_back(a + (da / (da - db)) * (b - a));
    }
    return out;
}

void add_polygon(const FlatPolygon& polygon, Mesh& out) {
    if (polygon.size() < 3) return;
    const auto first = static_cast<std::uint32_t>(out.positions.size());
    for (const Vec3& corner : polygon) out.positions.push_back(corner.cast<float>());
    for (std::uint32_t i = 1; i + 1 < polygon.size(); ++i)
        out.indices.insert(out.indices.end(), {first, first + i, first + i + 1});
}

/// The ring between two squares takes its four sides; what is left lies within.
FlatPolygon outside_of_square(const FlatPolygon& polygon, double half, Mesh& out) {
    FlatPolygon rest = polygon;
    for (const int axis : {0, 1})
        for (const double side : {1.0, -1.0}) {
            add_polygon(beyond_side(rest, axis, side, half), out);
            rest = beyond_side(rest, axis, -side, -half);
            if (rest.size() < 3) return {};
        }
    return rest;
}

}  // namespace

Mesh graded_about_z(const Mesh& mesh, double finest_m) {
    Mesh out;
    for (std::size_t t = 0; t < mesh.triangle_count(); ++t) {
        FlatPolygon rest{mesh.corner(t, 0), mesh.corner(t, 1), mesh.corner(t, 2)};
        double widest = 0;
        for (const Vec3& corner : rest)
            widest = std::max({widest, std::abs(corner.x()), std::abs(corner.y())});
        double half = finest_m;
        while (half < widest) half *= 4;
        for (half /= 4; half >= finest_m && rest.size() > 2; half /= 4)
            rest = outside_of_square(rest, half, out);
        add_polygon(rest, out);
    }
    out.submeshes = {{MaterialId{}, 0, static_cast<std::uint32_t>(out.indices.size()), {}}};
    return out;
}

}  // namespace pivrak
