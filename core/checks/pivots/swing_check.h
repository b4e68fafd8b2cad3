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
    std::vector<PartId> touching;  ///< neighbours that it touches at rest already; not in the curve
};

/// Sweeps the part with all it carries. What touches it at the start is listed and left out, since hinges do.
/// Errors: `swing.fixed` (the joint neither turns about nor shifts along one axis), `swing.range`,
/// `swing.no_shape`, `swing.cancelled`.
Result<SwingCheck> swing_check(const Document& document, PartId part, const SwingOptions& options,
                               const Progress& progress = {});

}  // namespace pivrak
