#pragma once

#include <string>
#include <vector>

#include "core/base/id.h"

namespace pivrak {

/// A wheel that a chain goes round.
struct ChainWheel {
    PartId part;           ///< a hinge about its axle
    int teeth = 0;         ///< of a sprocket: pins sit on its pitch circle; 0 for a roller
    double radius_m = 0;   ///< of a roller: the circle on which pins go round it
    bool outside = false;  ///< the loop leaves it out: the chain runs by with its back
    double phase_rad = 0;  ///< turn at which pins sit in its gaps, the chain's travel at zero
    bool operator==(const ChainWheel&) const = default;
};

/// A closed loop of links, all of one pitch, round sprockets and rollers. It lies in the x-y plane of a datum
/// that carries the links and may be carried about itself; links go counterclockwise about that plane's z
/// round the wheels inside. How far they have gone is the datum's channel `Travel`.
struct Chain {
    ChainId id;
    std::string name;
    PartId frame;  ///< that datum
    double pitch_m = 0;
    int link_count = 0;
    int pattern = 1;                 ///< different links in a row: 2 where inner and outer ones alternate
    std::vector<ChainWheel> wheels;  ///< in the order in which links reach them
    std::size_t slack_after = 0;     ///< the run after this wheel hangs with what the loop has too much
    double start_rad = 0;            ///< place of a pin on the first sprocket, travel at zero
    PartId take_up;  ///< a hinge or slide that carries wheels and keeps the chain at its slack; may be none
    double spare_m = 0;         ///< that slack: what the tensioner leaves to hang
    std::vector<PartId> links;  ///< one for each, or none while they are not built
    bool operator==(const Chain&) const = default;

    /// The wheel from which pins are counted: the first sprocket, or the first roller when there is none.
    std::size_t reference() const {
        for (std::size_t i = 0; i < wheels.size(); ++i)
            if (wheels[i].teeth > 0) return i;
        return 0;
    }
};

}  // namespace pivrak
