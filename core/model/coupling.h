#pragma once

#include "core/model/channel.h"

namespace pivrak {

/// Two gears with outside teeth that run together. The driven turn follows the driver's:
/// `driven = ratio * driver + phase`, with a ratio of -driver_teeth / driven_teeth for axes that point the
/// same way and the opposite sign for axes that point against each other.
struct GearPair {
    ChannelRef driver, driven;
    int driver_teeth = 1, driven_teeth = 1;
    double phase_rad = 0;         ///< turn of the driven gear at which teeth interleave, driver at zero
    bool phase_measured = false;  ///< found from the shapes, not typed
    bool operator==(const GearPair&) const = default;
};

/// A channel moved by another one.
struct Coupling {
    CouplingId id;
    GearPair gear;
    bool operator==(const Coupling&) const = default;
};

}  // namespace pivrak
