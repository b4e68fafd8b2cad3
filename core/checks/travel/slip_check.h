#pragma once

#include "core/base/progress.h"
#include "core/motion/evaluator.h"

namespace pivrak {

/// How a wheel touches and slides over a clip.
struct WheelSlip {
    PartId wheel;
    double radius_m = 0;
    double travelled_m = 0;    ///< by its middle, forwards and backwards alike
    double slip_m = 0;         ///< the most it has slid along its own way by any frame
    double sideways_m = 0;     ///< slid across its way, all of it
    bool has_ground = false;   ///< whether a ground is known to it; without one there are no gaps
    double largest_gap_m = 0;  ///< between tyre and ground, between frames too
    double deepest_m = 0;      ///< pressed into the ground
    double gap_frame = 0, deep_frame = 0;
    std::vector<double> slip_by_frame_m;  ///< slid so far along its way, by frame

    /// Slip along the way for each metre travelled; 0 for one that stands.
    double share() const { return travelled_m > 1e-9 ? slip_m / travelled_m : 0; }
};

struct SlipCheck {
    std::vector<double> frames;
    std::vector<WheelSlip> wheels;  ///< in the order of the document's couplings
};

/// Slip of every rolling wheel over a clip, from the world's frames of the wheel alone, whatever moves it:
/// how far the place that touches is dragged, between moments a sixteenth of a frame apart. A wheel touches
/// across from its hub's way in its own plane, on slopes, loops and ceilings alike; one that hangs above its
/// ground does not slide. Gaps are looked for at every quarter of a frame. Errors: those of
/// `Evaluator::compile`, `slip.none` (no wheel rolls), `slip.cancelled`.
Result<SlipCheck> slip_check(const Document& document, ClipId clip, const Progress& progress = {});

}  // namespace pivrak
