#pragma once

#include "core/base/progress.h"
#include "core/base/result.h"
#include "core/model/document.h"

namespace pivrak {

struct SwingOptions {
    double from = 0, to = 0;                 ///< values of the channel [rad or m]; rest need not lie between
    int steps = 180;                         ///< of the curve; 0 looks for contacts alone
    std::vector<PartId> neighbours;          ///< what it may touch; empty: everything it does not carry
    double tolerance = 0.002 * rad_per_deg;  ///< of contacts [rad or m]
};

/// Where a part first touches a neighbour on its way from rest.
struct SwingContact {
    double value = 0;  ///< the last value that is free
    PartId moving, neighbour;
    Vec3 place{0, 0, 0};  ///< in the world, at that value
    bool operator==(const SwingContact&) const = default;
};

/// What a part meets when its joint goes through a range, all other joints at rest.
struct SwingCheck {
    ChannelRef channel;
    struct Sample {
        double value, clearance_m;
        PartId neighbour;  ///< the nearest one
    };
    std::vector<Sample> curve;                 ///< by rising value
    std::optional<SwingContact> below, above;  ///< first contact from rest towards smaller and larger values
    std::vector<PartId>
        resting;  ///< neighbours that it lies on at the start; in the contacts, not in the curve
    std::vector<PartId> touching;  ///< those that it touches on several sides or cuts into; in neither
};

/// Sweeps the part with all it carries. What it lies on at the start, as a lid on its box, is looked at from
/// a hair above: where the way goes into it the contact is the start itself, where it goes away the next one
/// is found. What it touches on several sides, as a pin its sleeve, is listed and left out. Errors:
/// `swing.fixed` (the joint neither turns about nor shifts along one axis), `swing.range`, `swing.no_shape`,
/// `swing.cancelled`.
Result<SwingCheck> swing_check(const Document& document, PartId part, const SwingOptions& options,
                               const Progress& progress = {});

}  // namespace pivrak
