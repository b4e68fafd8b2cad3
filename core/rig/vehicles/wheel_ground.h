#pragma once

#include <memory>
#include <optional>

#include "core/rig/rig_facts.h"

namespace pivrak {

/// What a wheel is meant to stand on, by its vehicle or its lean.
struct WheelGround {
    bool stands = false;                          ///< whether anything says so
    bool leans = false;                           ///< touches with any circle of its outline
    std::shared_ptr<const GroundMap> map;         ///< null for the floor, z = 0
    double track_m = 0;                           ///< thickness of a crawler track between the two
    std::shared_ptr<const WheelProfile> profile;  ///< of one that leans
};
WheelGround wheel_ground(const Document& document, RigFacts& facts, PartId wheel);

/// How far the tread of a wheel stands off its ground [m], across its axle; below zero it is pressed in. None
/// where there is no ground below it. `size.radius_m` is out to the ground: with a track around it, the
/// track's.
std::optional<double> tyre_gap(const WheelGround& ground, const Frame& world_from_wheel, int axis,
                               const WheelSize& size);
/// The same straight down for a wheel that leans, over the circles of its outline.
std::optional<double> leaning_gap(const WheelGround& ground, const Frame& world_from_wheel, int axis);

}  // namespace pivrak
