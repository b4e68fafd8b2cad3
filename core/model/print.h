#pragma once

#include <string>

#include "core/base/id.h"

namespace pivrak {

/// A track that a wheel prints on the ground: a ribbon along the way of its contact that grows as it goes.
/// Its picture lies on the ground in metres, so nothing of it ever slides.
struct Print {
    PrintId id;
    std::string name;
    PartId wheel;           ///< a hinge about its axle
    PartId ground;          ///< a part with a mesh; none for the floor
    double width_m = 0;     ///< 0: that of the tread
    double tile_m = 0.5;    ///< length of way that one picture covers
    double lift_m = 0.003;  ///< above the ground, so that it shows
    MaterialId material;
    bool operator==(const Print&) const = default;
};

}  // namespace pivrak
