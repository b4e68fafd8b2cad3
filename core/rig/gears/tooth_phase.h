#pragma once

#include <optional>

#include "core/model/document.h"

namespace pivrak {

/// The least strength of a tooth profile that is taken for teeth. Found by trial on made and foreign gears.
constexpr double clear_teeth = 0.3;

/// The value of the driven channel, the smallest there is, that puts teeth in the middle of gaps where a
/// bevel, worm or rack pair touches, with the driver at zero [rad], or [m] of a rack. None for other kinds,
/// and where a shape does not show its teeth. Source: both pitch surfaces go by the touching place alike, so
/// teeth are counted there in pitches along their common way.
std::optional<double> crossed_phase(const Document& document, const GearPair& pair);

/// Threads of a worm, and whether they are left-handed.
struct CountedThreads {
    int starts = 1;
    bool left_hand = false;
};
/// Counts them on the driver's shape, by the teeth of the wheel and the distance of the axes; none when no
/// thread shows. Pre: a worm pair whose parts exist, the wheel's teeth known.
std::optional<CountedThreads> counted_threads(const Document& document, const GearPair& pair);

}  // namespace pivrak
