#pragma once

#include <cmath>

#include "core/operations/intake/stand_in_counts.h"
#include "core/operations/registry.h"

namespace pivrak {

/// Whether two pitches are of one chain.
inline bool is_pitch(double pitch_m, double other_m) {
    return std::abs(pitch_m - other_m) < 1e-6 * other_m;
}

/// Chains take over teeth, the pitch of their sprockets when all have the same new one, and radii of rollers;
/// they have as many links as go round then. Errors: `stand_in.pitch`, and those of chains.
Result<void> change_chains(const Document& before, Outcome& out, const std::vector<Changed>& changes);

}  // namespace pivrak
