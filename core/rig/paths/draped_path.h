#pragma once

#include "core/geometry/ground/ground_map.h"
#include "core/rig/paths/path_curve.h"

namespace pivrak {

/// A path laid on the ground, and how well it lies.
struct DrapedPath {
    PathCurve curve;
    double burial_m = 0, float_m = 0;  ///< the most it lies below and above the ground, its own height apart
    double missing_m = 0;              ///< length of it that has no ground below
};

/// Lays a path on the ground: the height at every place is the ground's, evened out over `ease_m`, plus
/// `height_m`. Where there is no ground the path keeps its own height. The answer is in the same frame as
/// the path, which `world_from_path` puts into the ground's world. Errors: those of `PathCurve::make`.
Result<DrapedPath> drape(const Path& path, const Frame& world_from_path, const GroundMap& ground);

/// Control points of the uniform cubic B-spline that runs through places (closed: round and round). Pre: two
/// places at least, three for a closed one.
std::vector<Vec3> controls_through(const std::vector<Vec3>& places, bool closed);

}  // namespace pivrak
