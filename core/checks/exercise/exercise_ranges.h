#pragma once

#include <vector>

#include "core/model/document.h"
#include "core/rig/rig_facts.h"

namespace pivrak {

/// A channel that a hand can move, and how far it is exercised.
struct ExerciseRange {
    ChannelRef channel;
    Limits range;          ///< [rad], [m], or a share
    bool assumed = false;  ///< it has no limits of its own: one turn, or as far as what it carries is long
    bool operator==(const ExerciseRange&) const = default;
};

/// All channels of parts and elements that nothing drives and no lock holds, in the order of the tree. A size
/// counts only with limits; a rider goes along its whole path, a chain once round.
std::vector<ExerciseRange> exercise_ranges(const Document& document, RigFacts& facts);

}  // namespace pivrak
