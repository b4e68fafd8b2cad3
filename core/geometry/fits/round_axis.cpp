#include "core/geometry/fits/round_axis.h"

#include <algorithm>
#include <cmath>
#include <optional>

#include "core/geometry/direction.h"
#include "core/geometry/fits/angle_gap.h"
#include "core/geometry/fits/cylinder_fit.h"
#include "core/geometry/fits/revolution_fit.h"
#include "core/geometry/fits/ring_fit.h"
#include "core/geometry/mesh/extent.h"
#include "core/geometry/mesh/facing.h"
#include "core/geometry/mesh/topology.h"
#include "core/geometry/teeth/tooth_count.h"

namespace pivrak {
namespace {

constexpr double widest_ring = 0.025;  ///< of the size: scatter of corners about their rings
/// Nothing but a round thing has most corners in such rings.
constexpr RingRules round_only{10, 60 * rad_per_deg, 0.6};
constexpr double seen_off = 1e-5;  ///< of the size: what corners are off their cylinders
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
    return angles.size() >= 6 && widest_angle_gap(std::move(angles)) <= widest_gap_rad;
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

RoundAxis on_rings(const Mesh& mesh, const RingFit& rings, double support) {
    RoundAxis axis{rings.point, mostly_positive(rings.direction), 0, rings.residual_m, support};
    const Extent extent = extent_along(mesh, axis.point, axis.direction);
    axis.point += extent.middle() * axis.direction;
    for (const Vec3f& p : mesh.positions)
        axis.radius_m = std::max(axis.radius_m, axis.direction.cross(p.cast<double>() - axis.point).norm());
    return axis;
}

/// The axis of the rings about one that noise has moved; false where there are none.
bool steady(const Mesh& mesh, RoundAxis& axis) {
    const auto rings = fit_rings(mesh, axis.point, axis.direction);
    if (!rings || rings->residual_m > widest_ring * mesh_bounds(mesh).longest()) return false;
    const Vec3 direction = mostly_positive(rings->direction), from = axis.point - rings->point;
    axis.point = rings->point + from.dot(direction) * direction;
    axis.direction = direction;
    axis.residual_m = rings->residual_m;
    return true;
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
    if (cylinder) {
        RoundAxis axis{cylinder->axis_point, cylinder->axis_direction, cylinder->radius_m,
                       cylinder->residual_m, cylinder->support};
        // Corners that lie on their cylinders need no more.
        if (axis.residual_m > seen_off * mesh_bounds(mesh).longest()) steady(mesh, axis);
        return axis;
    }
    const auto rings = [&mesh]() -> std::optional<RoundAxis> {
        const auto found = find_rings(mesh, round_only);
        if (!found || found->residual_m > widest_ring * mesh_bounds(mesh).longest()) return std::nullopt;
        return on_rings(mesh, *found, found->share);
    };
    if (const auto turned = fit_revolution(mesh)) {
        RoundAxis axis{turned->axis_point, turned->axis_direction, turned->outer_radius_m, 0,
                       turned->support};
        if (steady(mesh, axis)) return axis;
        const auto better = rings();
        return better ? *better : axis;
    }
    if (const auto axis = rings()) return *axis;
    if (auto blank = toothed_blank(mesh)) {
        steady(mesh, *blank);
        return *blank;
    }
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
