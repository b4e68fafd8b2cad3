#pragma once

#include "core/base/id.h"
#include "core/geometry/types.h"

namespace pivrak {

/// What keeps a rider upright: the world's up; the path's own frame, which never turns about its direction
/// (so nothing flips); the world's up leaned into bends; or plumb, level however steep the path is, as what
/// hangs from a rope.
enum class Upright : std::uint8_t { World, Path, Bank, Plumb };

/// A part carried along a path. Its rest frame is where the path puts it, and its joint moves it from there.
/// The channel `Along` says how far [m]. Carried at two points it follows the chord between them.
struct Ride {
    PathId path;
    int axis = 0;          ///< own axis that leads: 0 x, 1 y, 2 z
    bool against = false;  ///< the axis looks back along the path
    int up_axis = 2;       ///< own axis that is kept up; not the leading one
    Upright upright = Upright::World;
    double bank_speed_m_s = 0;        ///< lean so that this speed pushes straight down
    double bank_gain = 1;             ///< of that lean
    double side_m = 0, height_m = 0;  ///< off the path, to its left and up
    double front_m = 0, rear_m = 0;   ///< points that carry it, ahead of and behind the pivot
    PartId ahead;                     ///< a rider it is coupled to; none for one that goes by itself
    bool along_path = false;          ///< the gap is a length of path between the pivots, not of a coupler
    double gap_m = 0;                 ///< straight distance between the couplers
    double coupler_front_m = 0, coupler_rear_m = 0;  ///< couplers, ahead of and behind the pivot
    bool operator==(const Ride&) const = default;
};

/// A part drawn along behind a hitch: its frame stands over its rear axle, level, and heads where the axle
/// was pulled. With a turntable, the drawbar steers a front axle `wheelbase_m` before the rear one.
struct Tow {
    PartId hitch;            ///< the part that pulls
    Vec3 hitch_m{0, 0, 0};   ///< where, in its frame
    double drawbar_m = 1;    ///< from the hitch to the axle, or to the turntable
    PartId turntable;        ///< a hinge that the drawbar turns; none for a rigid drawbar
    double wheelbase_m = 0;  ///< from the turntable back to the rear axle
    PartId drawbar;          ///< a hinge that lets the drawbar nod towards the hitch; may be none
    bool operator==(const Tow&) const = default;
};

}  // namespace pivrak
