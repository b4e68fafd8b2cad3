#include "core/geometry/fits/barrels.h"

#include <algorithm>

#include "core/geometry/fits/primitive_fits.h"
#include "core/geometry/mesh/mesh_edit.h"
#include "core/geometry/mesh/regions.h"

namespace pivrak {
namespace {

/// Facets of a cylinder of nine sides still meet smoothly, chamfers do not.
constexpr double barrel_smooth_rad = 41 * rad_per_deg;
constexpr std::size_t barrel_triangles = 6;
constexpr double barrel_agreeing = 0.9, barrel_residual = 0.02, barrel_round_rad = 2 * pi / 3;

/// How far round its axis a region reaches, and along it.
struct AlongAxis {
    double round_rad, least_m, most_m;
};

AlongAxis along_axis_of(const Mesh& mesh, const std::vector<std::uint32_t>& triangles, const RoundFit& fit) {
    const Vec3 side = any_perpendicular(fit.axis_direction), other = fit.axis_direction.cross(side);
    std::vector<double> turns;
    AlongAxis reach{0, 1e300, -1e300};
    for (const std::uint32_t t : triangles)
        for (int k = 0; k < 3; ++k) {
            const Vec3 at = mesh.corner(t, k) - fit.axis_point;
            turns.push_back(std::atan2(at.dot(other), at.dot(side)));
            reach.least_m = std::min(reach.least_m, at.dot(fit.axis_direction));
            reach.most_m = std::max(reach.most_m, at.dot(fit.axis_direction));
        }
    std::sort(turns.begin(), turns.end());
    double gap = turns.front() + 2 * pi - turns.back();
    for (std::size_t i = 1; i < turns.size(); ++i) gap = std::max(gap, turns[i] - turns[i - 1]);
    reach.round_rad = 2 * pi - gap;
    return reach;
}

}  // namespace

std::vector<Barrel> barrels(const Mesh& mesh) {
    const TriangleLabels labels = label_by_crease(mesh, barrel_smooth_rad, 1e-5);
    std::vector<std::vector<std::uint32_t>> regions(labels.count);
    for (std::uint32_t t = 0; t < mesh.triangle_count(); ++t) regions[labels.of_triangle[t]].push_back(t);
    std::vector<Barrel> found;
    for (const auto& region : regions) {
        if (region.size() < barrel_triangles) continue;
        FaceMask mask(mesh.triangle_count(), false);
        for (const std::uint32_t t : region) mask[t] = true;
        const auto fit = fit_round_faces(mesh, mask);
        if (!fit || fit->agreeing < barrel_agreeing || fit->residual_m > barrel_residual * fit->radius_m)
            continue;
        const AlongAxis reach = along_axis_of(mesh, region, *fit);
        if (reach.round_rad < barrel_round_rad) continue;
        found.push_back({fit->axis_point + 0.5 * (reach.least_m + reach.most_m) * fit->axis_direction,
                         fit->axis_direction, fit->radius_m, reach.most_m - reach.least_m});
    }
    std::stable_sort(found.begin(), found.end(),
                     [](const Barrel& a, const Barrel& b) { return a.radius_m > b.radius_m; });
    return found;
}

}  // namespace pivrak
