#pragma once

#include <optional>
#include <vector>

#include "core/geometry/near/sweep_clearance.h"

namespace pivrak {

/// Clearance of a moving from a standing body at many values, in their order, on as many threads as the
/// machine has: each takes a stretch of values, and trees of its own that it divides where it comes by. None
/// when cancelled.
std::optional<std::vector<Clearance>> clearance_curve(const SweepBody& moving, const SweepBody& standing,
                                                      SweepKind kind, const std::vector<double>& values,
                                                      const Progress& progress = {});

}  // namespace pivrak
