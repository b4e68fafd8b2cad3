#pragma once

#include <cstdint>

#include "core/motion/evaluator.h"
#include "core/motion/step_list.h"

namespace pivrak {

/// A wave of the time on top of what is asked.
struct SwayStep {
    static constexpr StepRank rank = StepRank::Channels;
    static constexpr bool stateful = false;
    /// It sways on behind the last key.
    static constexpr bool goes_on = true;
    std::uint32_t driven;
    bool swings;
    double strength;
    double per_frame, fixed;  ///< swings gone at a frame: `fixed + per_frame * frame`
    std::uint32_t seed;
    int period;  ///< swings after which chance begins again; 0 for never

    double wave(double frame) const;
    void run(RunContext& context) const {
        context.set(driven, context.asked[driven] + strength * wave(context.moment));
    }
};

}  // namespace pivrak
