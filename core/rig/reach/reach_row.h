#pragma once

#include <functional>

#include "core/base/result.h"
#include "core/model/document.h"
#include "core/rig/reach/reach_solver.h"

namespace pivrak {

/// The joints of a reach, from its root to its tip.
struct ReachRow {
    std::vector<PartId> joints;        ///< that can move, outermost first
    std::vector<ChannelRef> channels;  ///< of these, one after the other
};

/// Errors: `reach.not_below` (the tip does not hang below the root), `reach.nothing_moves`, `reach.rider`.
Result<ReachRow> reach_row(const Document& document, const Reach& reach);

/// The row made ready; a channel that is held stands at its value in the frame.
/// Errors: as above.
Result<ReachSolver> build_reach(const Document& document, const Reach& reach, const ReachRow& row,
                                const std::vector<bool>& held);

}  // namespace pivrak
