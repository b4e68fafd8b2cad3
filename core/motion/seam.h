#pragma once

#include <optional>

#include "core/motion/evaluator.h"

namespace pivrak {

/// The frame at which a loop closes for one part: its last one, or the one after (a cycle whose first key
/// stands again one frame after the last one played), where the part is in the world where it was at the
/// first, within a millimetre. None when the clip does not loop, the part is nowhere near, or never left.
std::optional<double> seam_frame(const Evaluator& evaluator, const Clip& clip, PartId part);

}  // namespace pivrak
