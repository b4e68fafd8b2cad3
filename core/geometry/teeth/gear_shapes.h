#pragma once

#include "core/geometry/mesh/solid.h"

namespace pivrak {

/// Bottom clearance of the basic rack, in modules. Source: ISO 53:1998, profile A.
constexpr double clearance_modules = 0.25;

/// A spur gear by the basic rack of ISO 53: addendum 1, dedendum 1.25 modules. All lengths in one unit.
struct GearShape {
    int teeth;
    double module;
    double width;
    double bore_radius;     ///< 0: no bore
    double hub_radius = 0;  ///< 0: solid disc
    double hub_extra = 0;   ///< how far the hub stands out on each side
    double web = 0;         ///< thickness of the web between rim and hub; 0: full width
    int holes = 0;          ///< in the web
    double hole_radius = 0;
    double thinning = 0.01;      ///< of each tooth at the pitch circle, in modules: backlash
    double first_tooth_rad = 0;  ///< angle of the middle of one tooth
    double pressure_angle_rad = 20 * rad_per_deg;
};

/// Outline of outside teeth; `inside` gives the space that a ring gear leaves free.
Loop involute_outline(const GearShape& gear, int flank_points = 7, bool inside = false);
Solid gear(const GearShape& gear);
/// A ring with inside teeth and an outer radius.
Solid ring_gear(const GearShape& gear, double outer_radius, const std::vector<Loop>& bolt_holes);

/// A sprocket for a roller chain: seats for the rollers on the pitch circle p / sin(180 deg / z).
/// Source: ISO 606:2015, pitch diameter and roller seating radius 0.505 d1 (+ 0.069 cube root of d1).
struct SprocketShape {
    int teeth;
    double pitch, roller, width, bore_radius;
    double hub_radius = 0, hub = 0;  ///< 0: no hub
};
Solid sprocket(const SprocketShape& sprocket);

/// One inner and one outer link of a roller chain, lying along x with pins along z. Each is one piece.
/// `roller` and `pin` are diameters; the plates of the outer link run just outside those of the inner one.
Solid inner_link(double pitch, double roller, double inner_width, double plate_height, double plate);
Solid outer_link(double pitch, double pin, double inner_width, double plate_height, double plate);

/// A wheel with a tyre: round profile, `lugs` blocks round its tread, a rim and a dished disc with holes.
/// One piece, z along its axis.
struct WheelShape {
    double radius, width;
    double rim_radius;  ///< of the bead, where the tyre sits
    double bore_radius;
    int lugs = 0;  ///< 0: a smooth tread
    double lug_depth = 0;
    int holes = 0;  ///< in the disc
};
Solid wheel(const WheelShape& wheel);

/// A flat plate with rounded corners, lying in the xy-plane.
Solid plate(double length, double width, double thickness, double corner_radius);

}  // namespace pivrak
