#pragma once

#include <functional>

#include "core/base/result.h"
#include "core/model/document.h"
#include "core/rig/linkages/linkage_solver.h"

namespace pivrak {

/// What lies in the loops of closures.
struct LinkageLoops {
    PartId top;                        ///< carries all of them; none for the world
    std::vector<PartId> joints;        ///< that move one part of a loop against another, outermost first
    std::vector<ChannelRef> channels;  ///< of these, one after the other
};

/// Errors: `linkage.itself` (a part is closed with itself), `linkage.nothing_moves`, `linkage.rider` (what
/// rides or is towed stands between), `rig.missing_part`.
Result<LinkageLoops> linkage_loops(const Document& document, const std::vector<Closure>& closures);

/// A linkage made ready.
struct BuiltLinkage {
    LinkageSolver solver;
    std::vector<ChannelRef> channels;  ///< by column
    std::vector<double> rest;          ///< where all closes with what is given at zero
    double apart_m = 0;                ///< what it lacks of closing there
};

/// Which channels no hand and no closure moves.
std::vector<bool> locked_columns(const Document& document, const std::vector<ChannelRef>& channels);

/// \param is_given by channel of the loops: what is asked or driven by something else; all others follow.
/// Errors: as above.
Result<BuiltLinkage> build_linkage(const Document& document, const std::vector<Closure>& closures,
                                   const std::function<bool(ChannelRef)>& is_given);

}  // namespace pivrak
