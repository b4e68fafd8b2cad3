#include "core/geometry/fits/round_axis.h"

#include <algorithm>
#include <cmath>
#include <optional>

#include "core/geometry/fits/cylinder_fit.h"
#include "core/geometry/fits/revolution_fit.h"
#include "core/geometry/mesh/facing.h"
#include "core/geometry/mesh/topology.h"
#include "core/geometry/teeth/tooth_count.h"

namespace pivrak {
namespace {

constexpr double flat_end = 0.99;  ///< |normal . axis| above this is a flat end
constexpr double meets_axis_sin =
    0.12;  ///< a facet's normal passes the axis within this, seen from its middle
constexpr double same_radius = 1e-3;
constexpr double widest_gap_rad = 100 * rad_per_deg;

struct OutlineCorner {
    double radius, area, angle;
    Vec3 place;
};

bool goes_round(std::vector<double> angles) {
    if (angles.size() < 6) return false;
    std::sort(angles.begin(), angles.end());
    double gap = 2 * pi - (angles.back() - angles.front());
    for (std::size_t i = 1; i < angles.size(); ++i) gap = std::max(gap, angles[i] - angles[i - 1]);
    return gap <= widest_gap_rad;
}

/// The normal through the middle of the surface, if what is seen along it has teeth.
std::optional<RoundAxis> toothed_blank(const Mesh& mesh) {
    const auto looks = facing(mesh);
    if (!looks) return std::nullopt;
    RoundAxis axis{looks->middle, looks->most};
    if (!count_outside_teeth(mesh, axis_from_mesh(axis))) return std::nullopt;
    for (const Vec3f& p : mesh.positions)
        axis.radius_m = std::max(axis.radius_m, axis.direction.cross(p.cast<double>() - axis.point).norm());
    return axis;
}

}  // namespace

Frame axis_from_mesh(const RoundAxis& axis) {
    Mat3 columns;
    const Vec3 u = any_perpendicular(axis.direction);
    columns << u, axis.direction.cross(u), axis.direction;
    return Frame{Quat(columns), axis.point}.inverse();
}

Result<RoundAxis> round_axis(const Mesh& mesh) {
    const auto cylinder = fit_cylinder(mesh);
    if (cylinder)
        return RoundAxis{cylinder->axis_point, cylinder->axis_direction, cylinder->radius_m,
                         cylinder->residual_m, cylinder->support};
    if (const auto turned = fit_revolution(mesh))
        return RoundAxis{turned->axis_point, turned->axis_direction, turned->outer_radius_m, 0,
                         turned->support};
    if (const auto blank = toothed_blank(mesh)) return *blank;
    return cylinder.error();
}

std::vector<RoundBand> round_bands(const Mesh& mesh, const Vec3& axis_point, const Vec3& axis_direction) {
    const Vec3 u = any_perpendicular(axis_direction), v = axis_direction.cross(u);
    const std::vector<Vec3> normals = face_normals(mesh);
    std::vector<OutlineCorner> corners;
    for (std::size_t t = 0; t < mesh.triangle_count(); ++t) {
        const double along = normals[t].dot(axis_direction);
        if (normals[t].norm() == 0 || std::abs(along) > flat_end) continue;
        const Vec3 middle = (mesh.corner(t, 0) + mesh.corner(t, 1) + mesh.corner(t, 2)) / 3 - axis_point;
        const Vec3 out = middle - middle.dot(axis_direction) * axis_direction,
                   side = (normals[t] - along * axis_direction).normalized();
        if (std::abs(out.normalized().cross(side).dot(axis_direction)) > meets_axis_sin) continue;
        for (int k = 0; k < 3; ++k) {
            const Vec3 from = mesh.corner(t, k) - axis_point;
            const Vec2 flat(u.dot(from), v.dot(from));
            corners.push_back(
                {flat.norm(), triangle_area(mesh, t) / 3, std::atan2(flat.y(), flat.x()), mesh.corner(t, k)});
        }
    }
    std::sort(corners.begin(), corners.end(),
              [](const OutlineCorner& a, const OutlineCorner& b) { return a.radius > b.radius; });
    std::vector<RoundBand> bands;
    for (std::size_t i = 0; i < corners.size();) {
        RoundBand band{corners[i].radius, 0, {}};
        std::vector<double> angles;
        while (i < corners.size() && corners[i].radius >= band.radius_m * (1 - same_radius)) {
            band.area += corners[i].area;
            band.points.push_back(corners[i].place);
            angles.push_back(corners[i++].angle);
        }
        if (band.radius_m > 0 && goes_round(std::move(angles))) bands.push_back(std::move(band));
    }
    return bands;
}

}  // namespace pivrak
