#pragma once

#include "core/base/result.h"
#include "core/geometry/mesh/mesh.h"

namespace pivrak {

/// What round surfaces of a part agree on. Given in the frame of the mesh.
struct CylinderFit {
    Vec3 axis_point;            ///< on the axis, half way along the round surfaces [m]
    Vec3 axis_direction;        ///< unit; its largest component is positive
    double radius_m = 0;        ///< of the cylinder with the most surface
    double outer_radius_m = 0;  ///< farthest vertex from the axis [m]
    double length_m = 0;        ///< extent of the whole part along the axis [m]
    double residual_m = 0;      ///< root mean square distance of the used vertices from their cylinders [m]
    double support = 0;         ///< share of the side surface that lies on cylinders about the axis, 0 to 1
};

struct CylinderFitOptions {
    /// Least share of the side surface that must be round before a fit is given.
    double least_support = 0.12;
    /// Least angle round the axis that the round surface must cover [rad].
    double least_coverage_rad = 1.5 * pi;
};

/// Fits coaxial cylinders to a whole part: shafts with steps, gears, wheels with spokes, bolts and rims.
///
/// The direction comes from the normals: faces beside and across the axis make it an eigenvector of their
/// covariance, whatever their number. The centre is where the normals of cylindrical faces meet, found by
/// reweighted least squares so that teeth, keyways and spokes lose their say; direction, centre and all
/// radii are then refined together by Gauss-Newton on the vertices of the round faces (at most 10 steps,
/// stopped at 1e-13 relative), and again with every side face within four residuals of a cylinder, whichever
/// way noise tilts it. Deterministic.
/// Errors: `fit.empty` (no area), `fit.not_round` (best support and coverage are named).
Result<CylinderFit> fit_cylinder(const Mesh& mesh, const CylinderFitOptions& options = {});

}  // namespace pivrak
