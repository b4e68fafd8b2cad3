#pragma once

#include "core/base/result.h"
#include "core/rig/linkages/common_pin.h"

namespace pivrak {

/// The eye at one end of a ram.
struct RamEye {
    Vec3 place;          ///< on the ram's line [m]
    Vec3 axis{0, 0, 0};  ///< unit; zero where no round eye was found
    double radius_m = 0;
};

/// What two shapes say of the ram that they make, in the world at rest.
struct RamShape {
    Vec3 way;  ///< unit, from the barrel's eye to the rod's
    RamEye barrel, rod;
    double length_m = 0;    ///< from eye to eye
    double goes_in_m = 0;   ///< until the rod's head meets the barrel
    double goes_out_m = 0;  ///< until the rod's inner end is as deep in the barrel as it is thick
};

/// What is known of a ram's two ends: what they are pinned to, and where.
struct RamEnd {
    PartId held_by;  ///< none when it is not known yet
    std::optional<Vec3> place;
};

/// An eye is where it was said to be; else the round one of the half itself; else a round one of what holds
/// it near the half's end; else that end. Errors: `ram.not_coaxial` (no round surfaces of the two lie on one
/// line), `ram.no_length`.
Result<RamShape> ram_shape(const Document& document, PartId barrel, PartId rod, const RamEnd& barrel_end = {},
                           const RamEnd& rod_end = {});

/// The part in which an eye sits, by a round surface on the same line; none when there is none.
PartId part_at_eye(const Document& document, const RamEye& eye, const std::vector<PartId>& but);

}  // namespace pivrak
