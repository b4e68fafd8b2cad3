#pragma once

#include <string>
#include <vector>

#include "core/base/id.h"

namespace pivrak {

/// A wheel of a vehicle: the hinge that rolls, and what it hangs from.
struct VehicleWheel {
    PartId wheel;       ///< a hinge about the axle
    PartId suspension;  ///< a slide along the body's up; none for a rigid axle
    PartId steering;    ///< a hinge about its kingpin; none for a wheel that is not steered
    bool operator==(const VehicleWheel&) const = default;
};

/// A vehicle that stands on its wheels. Its frame `follow` heaves, pitches and rolls as the ground under the
/// wheels asks, and each suspension sets its wheel down on the ground.
struct Vehicle {
    VehicleId id;
    std::string name;
    PartId root;    ///< what moves it about: a free part, a rider or one that is towed
    PartId skid;    ///< a hinge between root and follow that turns the body without steering it; may be none
    PartId follow;  ///< free; its shift z, turn x and turn y are driven
    PartId body;    ///< free, for leaning by hand; carries everything sprung
    PartId steering;  ///< a hinge that steers; may be none
    PartId ground;    ///< a part with a mesh; none for the floor
    std::vector<VehicleWheel> wheels;
    double heave = 1, pitch = 1, roll = 1;  ///< how much the body follows the ground, 0 to 1
    double track_thickness_m = 0;  ///< thickness of the track that runs between its wheels and the ground
    std::vector<PartId> runners;   ///< turn with a track without standing: sprockets and idlers
    bool operator==(const Vehicle&) const = default;
};

}  // namespace pivrak
