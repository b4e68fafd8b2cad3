#pragma once

#include <optional>

#include "core/geometry/fits/barrels.h"
#include "core/model/document.h"

namespace pivrak {

/// A line in the world that round surfaces of two parts have in common, at rest.
struct CommonPin {
    Vec3 place;                     ///< on it, half way along what both share [m]
    Vec3 direction;                 ///< unit
    double off_m = 0, off_rad = 0;  ///< by which the two miss each other
};

/// The round surfaces of a part and all that is fixed to it, in the world at rest.
std::vector<Barrel> barrels_of_part(const Document& document, PartId part);

/// Of all pairs of round surfaces of two parts that could be one pin, that with the least play; none when no
/// two lie on one line and overlap along it.
std::optional<CommonPin> common_pin(const Document& document, PartId a, PartId b);

}  // namespace pivrak
