#pragma once

#include "core/geometry/teeth/gear_shapes.h"

namespace pivrak {

/// A straight rack by the basic rack of ISO 53: along x, teeth up along z, its pitch line on the x axis with
/// the middle of a tooth at x = 0 or half a pitch off, so that whole teeth lie evenly about it. All lengths
/// in one unit.
struct RackShape {
    int teeth;
    double module, width;
    double base = 0;         ///< thickness below the roots; 0: two modules
    double thinning = 0.01;  ///< of each tooth at the pitch line, in modules: backlash
    double pressure_angle_rad = 20 * rad_per_deg;
};
Solid rack(const RackShape& rack);

/// A worm whose axial section is the basic rack (flank form ZA of ISO/TR 10828): z along its axis, the middle
/// of a thread on the x axis at z = 0. `module` is the axial one.
struct WormShape {
    int starts;
    double module, pitch_radius, length;
    bool left_hand = false;
    double thinning = 0.01;
    double pressure_angle_rad = 20 * rad_per_deg;
};
Solid worm(const WormShape& worm);

/// A straight bevel gear with spherical involute teeth: the middle of its outer pitch circle at the origin, z
/// along its axis away from the cone's apex, the middle of a tooth above the x axis. `module` is that of the
/// outer end.
struct BevelShape {
    int teeth, mate_teeth;
    double module, width;
    double shaft_angle_rad = pi / 2;
    double thinning = 0.01;
    double pressure_angle_rad = 20 * rad_per_deg;

    /// Half the angle of the pitch cone. Source: ISO 23509:2016, tan d1 = sin S / (z2 / z1 + cos S).
    double pitch_cone_rad() const;
    double outer_cone_distance() const;
};
Solid bevel_gear(const BevelShape& gear, int flank_points = 7);

/// A spur gear whose teeth wind about its axis: by `helix_rad` at the pitch circle, above zero right-handed.
Solid helical_gear(const GearShape& gear, double helix_rad);

}  // namespace pivrak
