#pragma once

#include "core/motion/rig_plan.h"

namespace pivrak {

/// Where a part rests that is carried by others than the tree says.
struct CarryStep {
    static constexpr StepRank rank = StepRank::Frames;
    static constexpr bool stateful = false;
    struct Carrier {
        std::int32_t node;
        std::uint32_t blend;  ///< channel
        Frame carrier_from_rest;
    };
    std::uint32_t base;  ///< the frame that it gives
    std::int32_t parent;
    Frame parent_from_rest;
    std::vector<Carrier> carriers;  ///< in their order

    void run(RunContext& context) const;
};

}  // namespace pivrak
