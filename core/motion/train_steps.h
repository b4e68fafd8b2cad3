#pragma once

#include <utility>
#include <vector>

#include "core/motion/step_list.h"

namespace pivrak {

/// `driven = ratio * driver + phase`: shafts of a train that one other turns, wheels that roll along their
/// path.
struct LinearStep {
    static constexpr StepRank rank = StepRank::Channels;
    static constexpr bool stateful = false;
    std::uint32_t driver, driven;
    double ratio, phase;
    void run(RunContext& context) const { context.set(driven, ratio * context.channels[driver] + phase); }
};

/// A shaft that several others turn together: `driven = constant + sum of share * channel`.
struct SumStep {
    static constexpr StepRank rank = StepRank::Channels;
    static constexpr bool stateful = false;
    struct Term {
        std::uint32_t channel;
        double share;
    };
    std::uint32_t driven;
    double constant;
    std::vector<Term> terms;
    void run(RunContext& context) const {
        double value = constant;
        for (const Term& term : terms) value += term.share * context.channels[term.channel];
        context.set(driven, value);
    }
};

}  // namespace pivrak
