#pragma once

#include <span>
#include <vector>

#include "core/geometry/frame.h"

namespace pivrak {

struct ThinOptions {
    double rotation_rad = 2e-7;   ///< largest error of a rotation that is left out
    double translation_m = 1e-7;  ///< largest error of a translation that is left out
    double longest_turn_rad =
        2.0;  ///< between two kept rotations, so that the short way round is never in doubt
};

/// Which samples must stay so that linear interpolation (slerp for rotations) gives the rest within the
/// tolerance. First and last stay; a stretch of constant speed keeps few. Greedy, in one direction, each
/// kept stretch checked at every sample in it. Pre: times rise.
std::vector<std::size_t> thin_rotations(std::span<const double> times, std::span<const Quat> values,
                                        const ThinOptions& options);
std::vector<std::size_t> thin_translations(std::span<const double> times, std::span<const Vec3> values,
                                           const ThinOptions& options);

}  // namespace pivrak
