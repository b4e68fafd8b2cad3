#pragma once

#include <vector>

#include "core/base/result.h"
#include "core/geometry/frame.h"
#include "core/geometry/mesh/mesh.h"

namespace pivrak {

/// The axis of a part that is round, whether cylinders show it or some other turned profile (a tyre's).
struct RoundAxis {
    Vec3 point;           ///< on the axis, half way along the round surface [m]
    Vec3 direction;       ///< unit; its largest component is positive
    double radius_m = 0;  ///< of the cylinder with the most surface, or the largest of the profile
    double residual_m =
        0;               ///< root mean square distance of corners from their cylinders, or from their rings
    double support = 0;  ///< share of the surface that agrees, 0 to 1
};

/// Cylinders first, then any turned profile; where corners are off their surface, as noise puts them, their
/// rings tell the axis better than the faces' normals, and may tell one where normals tell none. Then the
/// middle of what has teeth or lugs all round: it lies flat, so its axis is the direction in which it shows
/// most of its surface. Errors: those of `fit_cylinder`.
Result<RoundAxis> round_axis(const Mesh& mesh);

/// A frame on the axis, which is its z.
Frame axis_from_mesh(const RoundAxis& axis);

/// Points of one mesh that lie on a turned surface at one radius from its axis.
struct RoundBand {
    double radius_m = 0;
    double area = 0;  ///< of the faces they belong to
    std::vector<Vec3> points;
};

/// The bands of a mesh about an axis: corners of faces whose normals meet the axis, by radius (to a
/// thousandth), where they leave no gap of more than 100 degrees round the axis. Flat ends are left out. The
/// largest radius comes first.
std::vector<RoundBand> round_bands(const Mesh& mesh, const Vec3& axis_point, const Vec3& axis_direction);

}  // namespace pivrak
