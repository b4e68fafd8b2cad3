#include "core/geometry/fits/outline_sides.h"

#include <algorithm>
#include <cmath>
#include <vector>

#include "core/geometry/direction.h"
#include "core/geometry/mesh/topology.h"

namespace pivrak {
namespace {

constexpr double at_rim = 0.99;
constexpr double apart_rad = 1 * rad_per_deg, uneven_rad = 2 * rad_per_deg;
constexpr double beside = 0.5;           ///< |normal . axis| below this is a side
constexpr double sides_that_fit = 0.98;  ///< of their area

/// Distinct directions, sorted.
std::vector<double> distinct(std::vector<double> angles) {
    std::sort(angles.begin(), angles.end());
    std::vector<double> out;
    for (const double a : angles)
        if (out.empty() || a - out.back() > apart_rad) out.push_back(a);
    if (out.size() > 1 && out.front() + 2 * pi - out.back() < apart_rad) out.pop_back();
    return out;
}

bool evenly_spaced(const std::vector<double>& angles) {
    const double step = 2 * pi / static_cast<double>(angles.size());
    for (std::size_t i = 1; i < angles.size(); ++i)
        if (std::abs(angles[i] - angles[0] - static_cast<double>(i) * step) > uneven_rad) return false;
    return angles.size() > 2;
}

}  // namespace

OutlineSides outline_sides(const Mesh& mesh, const Vec3& point, const Vec3& direction) {
    const Vec3 u = any_perpendicular(direction), v = direction.cross(u);
    const auto flat = [&](const Vec3& p) { return Vec2(u.dot(p), v.dot(p)); };
    double radius = 0;
    for (const Vec3f& p : mesh.positions) radius = std::max(radius, flat(p.cast<double>() - point).norm());
    std::vector<double> angles;
    for (const Vec3f& p : mesh.positions)
        if (const Vec2 at = flat(p.cast<double>() - point); at.norm() >= at_rim * radius)
            angles.push_back(std::atan2(at.y(), at.x()));
    const std::vector<double> corners = distinct(std::move(angles));
    OutlineSides out{static_cast<int>(corners.size()), evenly_spaced(corners), false};
    if (!out.regular) return out;
    const double step = 2 * pi / out.count, first = corners.front() + 0.5 * step;
    double all = 0, agreeing = 0;
    const std::vector<Vec3> normals = face_normals(mesh);
    for (std::size_t t = 0; t < normals.size(); ++t) {
        if (normals[t].norm() == 0 || std::abs(normals[t].dot(direction)) > beside) continue;
        const Vec2 looks = flat(normals[t]);
        const double area = triangle_area(mesh, t);
        all += area;
        // Holes look inwards: half a turn on, which is a whole number of sides or half a one more.
        const double from_side = std::remainder(std::atan2(looks.y(), looks.x()) - first, step),
                     inward = std::remainder(std::atan2(-looks.y(), -looks.x()) - first, step);
        if (std::min(std::abs(from_side), std::abs(inward)) < uneven_rad) agreeing += area;
    }
    out.alone = all > 0 && agreeing >= sides_that_fit * all;
    return out;
}

}  // namespace pivrak
