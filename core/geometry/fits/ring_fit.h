#pragma once

#include <optional>

#include "core/geometry/mesh/mesh.h"

namespace pivrak {

/// An axis that corners go round in rings.
struct RingFit {
    Vec3 point, direction;  ///< the point is no particular one on the axis
    double residual_m = 0;  ///< root mean square distance of the corners from their rings
    double share = 0;       ///< of all corners, those in rings
};

/// What counts as a ring.
struct RingRules {
    std::size_t least_corners = 8;
    double widest_gap_rad = 100 * rad_per_deg;
    double least_share = 0.5;  ///< of all corners in rings, or there is no fit
};

/// Least squares over the corners of a turned shape: those of one ring have one radius and one place along
/// the axis, whatever the profile. Noise of the corners scatters it no more than it must, while the normals
/// of small faces are turned by it much. Rings are found about a first axis, which may be off by a hundredth
/// of the size; what is none by the rules counts for nothing. None when too few of the corners lie in rings.
/// Gauss-Newton on distances along and across the axis.
std::optional<RingFit> fit_rings(const Mesh& mesh, const Vec3& point, const Vec3& direction,
                                 const RingRules& rules = {});

/// The same without a first axis: about the middle of the corners, along those of their principal directions
/// whose rings fit best.
std::optional<RingFit> find_rings(const Mesh& mesh, const RingRules& rules);

}  // namespace pivrak
