#pragma once

#include <optional>

#include "core/geometry/mesh/mesh.h"

namespace pivrak {

/// Teeth on the outline of a part, seen along the z axis of a frame.
struct ToothCount {
    int teeth = 0;
    double tip_radius_m = 0, root_radius_m = 0;
    double clearness = 0;    ///< share of the outline's unevenness that repeats with the teeth, 0 to 1
    double width_share = 0;  ///< of a tooth half way up, of the way from tooth to tooth
    double evenness = 0;     ///< how much both flanks are alike: 1 for gears, less for saws

    /// How deep they are in modules, of gears with their tip circle: 2.25 by ISO 53. For teeth inside a ring
    /// too.
    double depth_modules() const;
};

/// Counts outside teeth: the farthest point of the part in each direction makes a profile that repeats with
/// the teeth, whatever spokes, holes and keyways lie inside. From 5 to 300 teeth; none when the profile does
/// not repeat clearly, or is shallower than teeth are.
std::optional<ToothCount> count_outside_teeth(const Mesh& mesh, const Frame& axis_from_mesh);

/// The same for lugs, which may be far shallower than teeth, and have some width at their tips: no polygon.
std::optional<ToothCount> count_lugs(const Mesh& mesh, const Frame& axis_from_mesh);

/// Share of all directions in which the outline reaches at least `share_of_radius` of its farthest point: 1
/// for anything round, less for plates and hexagons.
double outline_roundness(const Mesh& mesh, const Frame& axis_from_mesh, double share_of_radius = 0.92);

/// Counts the teeth inside a ring, by the nearest point in each direction.
std::optional<ToothCount> count_inside_teeth(const Mesh& mesh, const Frame& axis_from_mesh);

}  // namespace pivrak
