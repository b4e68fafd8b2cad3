#pragma once

#include <optional>

#include "core/geometry/mesh/mesh.h"

namespace pivrak {

/// The axis that a surface of revolution turns about, and how much of the surface is one.
struct RevolutionFit {
    Vec3 axis_point;      ///< on the axis, half way along the surface [m]
    Vec3 axis_direction;  ///< unit; its largest component is positive
    double outer_radius_m = 0;
    double length_m = 0;  ///< extent along the axis
    double support = 0;   ///< share of the area whose normals meet the axis within two degrees, 0 to 1
};

/// Fits an axis that the normals of all faces meet, which is so for cylinders, cones, tori and any turned
/// profile: tyres too, that no cylinder fits. Normals as lines form a linear complex, so the axis is an
/// eigenvector; reweighting makes spokes, keyways and bolts lose their say. None when no direction is clear
/// (spheres, planes) or less than `least_support` of the area agrees.
/// Source: Pottmann and Randrup, Rotational and helical surface approximation (1998).
std::optional<RevolutionFit> fit_revolution(const Mesh& mesh, double least_support = 0.5);

/// Share of the area outside a radius from an axis whose normals meet that axis within two degrees.
double revolved_share(const Mesh& mesh, const Vec3& axis_point, const Vec3& axis_direction,
                      double least_radius_m = 0);

}  // namespace pivrak
