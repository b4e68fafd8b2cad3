#pragma once

#include "demo/solid.h"

namespace pivrak::demo {

/// A spur gear by ISO 53 basic rack: pressure angle 20 deg, addendum 1, dedendum 1.25 modules.
struct GearData {
    int teeth;
    double module_mm;
    double width_mm;
    double bore_radius_mm;
    double hub_radius_mm = 0;  ///< 0: solid disc
    double hub_extra_mm = 0;   ///< how far the hub stands out on each side
    double web_mm = 0;         ///< thickness of the web between rim and hub; 0: full width
    int holes = 0;
    double hole_radius_mm = 0;
    double thinning = 0.01;      ///< of each tooth at the pitch circle, in modules: backlash
    double first_tooth_rad = 0;  ///< angle of the middle of one tooth
};

/// Outline of outside teeth; `inside` gives the space that a ring gear leaves free.
Loop involute_outline(const GearData& gear, int flank_points = 7, bool inside = false);
Solid gear(const GearData& gear);
/// A ring with inside teeth and an outer radius.
Solid ring_gear(const GearData& gear, double outer_radius_mm, const std::vector<Loop>& bolt_holes);

/// A sprocket for a roller chain: seats for the rollers on the pitch circle p / sin(180 deg / z).
/// Source: ISO 606:2015, pitch diameter and roller seating radius 0.505 d1 (+ 0.069 cube root of d1).
struct SprocketData {
    int teeth;
    double pitch_mm, roller_mm, width_mm, bore_radius_mm;
    double hub_radius_mm, hub_mm;
};
Solid sprocket(const SprocketData& sprocket);

/// One inner and one outer link of a roller chain, lying along x with pins along z. Each is one piece.
Solid inner_link(double pitch, double roller, double inner_width, double plate_height);
Solid outer_link(double pitch, double pin, double inner_width, double plate_height);

}  // namespace pivrak::demo
