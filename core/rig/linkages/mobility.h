#pragma once

#include "core/rig/linkages/linkage_solver.h"

namespace pivrak {

/// How many ways a mechanism can move.
struct Mobility {
    int ways = 0;     ///< by the rank of its closures beside the pose, so that machines that move though more
                      ///< is closed than is needed are told right
    int at_once = 0;  ///< by the rank in that very pose: more than the above where it may go on either way
    int counted = 0;  ///< freedoms of joints less those that closures take of bodies in space
};

/// Pre: the values close it. Columns that are `held` do not move; given ones do.
Mobility mobility(const LinkageModel& model, std::span<const double> values, const std::vector<bool>& held);

/// Columns which, when they are given, leave nothing free: of those in `preferred` the first that do. Fewer
/// than `ways` when `preferred` lacks some.
std::vector<std::uint32_t> inputs_for(const LinkageModel& model, std::span<const double> values,
                                      const std::vector<bool>& held,
                                      const std::vector<std::uint32_t>& preferred);

/// Whether something can move while all that is given stands, at rest or beside it.
bool is_loose(const LinkageModel& model);

}  // namespace pivrak
