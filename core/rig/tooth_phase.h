#pragma once

#include <optional>

#include "core/model/document.h"

namespace pivrak {

/// The value of the driven channel, the smallest there is, that puts teeth in the middle of gaps where a
/// bevel, worm or rack pair touches, with the driver at zero [rad], or [m] of a rack. None for other kinds,
/// and where a shape does not show its teeth. Source: both pitch surfaces go by the touching place alike, so
/// teeth are counted there in pitches along their common way.
std::optional<double> crossed_phase(const Document& document, const GearPair& pair);

}  // namespace pivrak
