#pragma once

#include <span>

#include "core/elements/ride/ride.h"
#include "core/geometry/frame.h"
#include "core/rig/paths/path_curve.h"

namespace pivrak {

/// A path as riders find it: its curve, its rolls, and the frame of what carries it. Lengths of riders count
/// in the measure of that frame: where it is half as large, a metre of theirs is half a metre in the world.
struct RiddenPath {
    const PathCurve& curve;
    std::span<const PathRoll> rolls;
    Frame world_from_path;
};

/// The frame of a rider so far along a path [m], before its joint moves it, as large as the path's. Two
/// points that carry it lie on the path, their straight distance exact to 1e-10 m.
Frame ride_frame(const RiddenPath& path, const Ride& ride, double along_m);

/// Where a rider's coupler is in the world: so far ahead of its pivot [m of its frame], or behind it below
/// zero.
Vec3 coupler_place(const Frame& world_from_rider, const Ride& ride, double ahead_m);

/// How far along a coupled rider is, for its coupler to be straight `gap_m` behind the one ahead of it.
/// `guess_m` is where to begin, `ahead_m` where the one ahead is. The answer is exact to 1e-10 m wherever a
/// place within two lengths behind that one has it, however tight the bend; else the one that comes nearest.
double coupled_along(const RiddenPath& path, const Ride& ride, const Vec3& coupler_ahead, double guess_m,
                     double ahead_m);

/// How far along the second point is that carries a rider; its pivot where one point does.
double rear_point_along(const PathCurve& curve, const Ride& ride, double along_m);

/// A path's roll so far along it [rad].
double roll_at(std::span<const PathRoll> rolls, double along_m, double length_m, bool closed);

}  // namespace pivrak
