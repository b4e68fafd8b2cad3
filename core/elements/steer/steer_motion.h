#pragma once

#include "core/elements/ride/ride_motion.h"

namespace pivrak {

struct SteerStep {
    static constexpr StepRank rank = StepRank::Channels;
    static constexpr bool stateful = false;
    std::uint32_t driver, driven;
    double reference_m, forward_m, left_m;
    std::optional<RideStep> ride;  ///< whose bends it steers too
    void run(RunContext& context) const;
};

}  // namespace pivrak
