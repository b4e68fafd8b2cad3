#pragma once

#include "core/rig/linkages/linkage_loops.h"

namespace pivrak {

/// How far an input can go from rest, all others at zero.
struct InputRange {
    double least = 0, most = 0;  ///< [rad] or [m]
    LinkageStop at_least, at_most;
    /// Whether it went a whole turn, or ten times the machine's size, both ways without a stop.
    bool free() const { return at_least.why == Stops::Not && at_most.why == Stops::Not; }
};

/// Moves the mechanism from rest, both ways.
InputRange input_range(const BuiltLinkage& built, std::uint32_t input);

/// How far an input goes from rest, and why no further.
std::string range_words(const Document& document, const BuiltLinkage& built, std::uint32_t input,
                        const InputRange& range);

/// `dead point`, or the joint that stands at its limit.
std::string stop_words(const Document& document, const BuiltLinkage& built, const LinkageStop& stop);

}  // namespace pivrak
