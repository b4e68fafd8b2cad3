#pragma once

#include <memory>
#include <vector>

#include "core/motion/evaluator.h"
#include "core/motion/step_list.h"
#include "core/rig/formulas/formula_program.h"

namespace pivrak {

/// A formula's value for a channel. All that have one text work with one program.
struct FormulaStep {
    static constexpr StepRank rank = StepRank::Channels;
    static constexpr bool stateful = false;
    /// A program of each text, by `program`.
    struct Common {
        std::vector<FormulaProgram> programs;
    };
    /// `fixed + of_channel * channel + of_moment * frame`.
    struct Input {
        double fixed = 0, of_channel = 0, of_moment = 0;
        std::uint32_t channel = 0;
    };
    std::uint32_t driven;
    std::uint32_t program;
    std::shared_ptr<const FormulaTree> tree;
    std::vector<Input> inputs;
    double scale;  ///< of what it gives, to radians, metres or shares

    static Common common(std::span<const FormulaStep> steps);
    /// Where arithmetic has no answer the channel is what keys or a hand ask.
    void run(RunContext& context, Common& common) const;
};

/// One that takes the time goes on behind the last key.
struct TimedFormulaStep : FormulaStep {
    static constexpr bool goes_on = true;
    static Common common(std::span<const TimedFormulaStep> steps);
};

/// What a formula gives in a pose, as it counts, by a reading of its own; none where it has no answer.
std::optional<double> formula_value(const Document& document, const Clip& clip, const Formula& formula,
                                    const Evaluator& evaluator, const Pose& pose, double frame);

}  // namespace pivrak
