#pragma once

#include <optional>

#include "core/geometry/fits/outline_sides.h"
#include "core/geometry/fits/round_axis.h"
#include "core/geometry/mesh/mesh.h"
#include "core/geometry/teeth/tooth_count.h"

namespace pivrak {

/// A part that is round on the outside: a wheel, a shaft, a gear. What has a round hole is none for that.
struct RoundBody {
    Vec3 middle;          ///< on the axis, half way along the part [m]
    double radius_m = 0;  ///< of the point farthest from the axis
    double width_m = 0;   ///< along the axis
    double rim = 0;       ///< share of the surface near that radius that is turned about the axis, 0 to 1
    double support = 0;   ///< share of the surface that its axis was found on, 0 to 1
    std::optional<ToothCount> teeth;  ///< of gears, and of tyres with lugs
    OutlineSides sides;
    RoundAxis axis;
};

/// The one notion of roundness that recognition, fits and the vehicle search share: about the axis of
/// `round_axis`, the outline either repeats with teeth or lugs, or reaches 92 % of the radius in 95 % of all
/// directions on a rim of which at least 60 % is turned, or has six or more even sides and the part nothing
/// that is rounder. None for anything else.
std::optional<RoundBody> round_body(const Mesh& mesh);

/// Whether what is round about this axis is so on its outside.
std::optional<RoundBody> round_body(const Mesh& mesh, const RoundAxis& axis);

}  // namespace pivrak
