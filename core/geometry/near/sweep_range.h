#pragma once

#include "core/geometry/near/triangle_distance.h"

namespace pivrak {

/// What a body sweeps over in cylinder coordinates about z: a turn about z changes nothing but its angles, by
/// the turn. All ends are on the safe side.
struct SweepRange {
    double r_min = 0, r_max = 0, z_min = 0, z_max = 0;
    double angle = 0;  ///< where the arc begins, -pi to pi
    double arc = 0;    ///< its extent [rad], up to 2 pi where it goes all round

    static SweepRange of(const Triangle& triangle);
    /// The smallest range known to hold both.
    SweepRange with(const SweepRange& other) const;

    /// Whether no turn at all brings the two together.
    bool is_always_clear_of(const SweepRange& other) const {
        return r_min > other.r_max || other.r_min > r_max || z_min > other.z_max || other.z_min > z_max;
    }
    /// How far this one, turned by `turn`, can turn on before its arc reaches the other's; 0 when the arcs
    /// lie over each other. `way` is +1 or -1.
    double free_turn(const SweepRange& other, double turn, double way) const;
};

}  // namespace pivrak
