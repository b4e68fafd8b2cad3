#include "core/elements/formula/formula_motion.h"

#include <cmath>

#include "core/elements/plans.h"
#include "core/rig/formulas/formula_inputs.h"

namespace pivrak {
namespace {

template <class Step>
FormulaStep::Common programs_of(std::span<const Step> steps) {
    // Steps of one text name one program; the order of first appearance is not that of the steps.
    std::vector<const FormulaStep*> first;
    for (const FormulaStep& step : steps) {
        if (step.program >= first.size()) first.resize(step.program + 1, nullptr);
        if (!first[step.program]) first[step.program] = &step;
    }
    FormulaStep::Common common;
    for (const FormulaStep* step : first)
        common.programs.push_back(step ? FormulaProgram(*step->tree, step->inputs.size())
                                       : FormulaProgram(FormulaTree{{FormulaNode{}}, {}, 0}, 0));
    return common;
}

}  // namespace

FormulaStep::Common FormulaStep::common(std::span<const FormulaStep> steps) {
    return programs_of(steps);
}
FormulaStep::Common TimedFormulaStep::common(std::span<const TimedFormulaStep> steps) {
    return programs_of(steps);
}

void FormulaStep::run(RunContext& context, Common& common) const {
    FormulaProgram& program = common.programs[this->program];
    const std::span<double> values = program.inputs();
    for (std::size_t i = 0; i < inputs.size(); ++i) {
        const Input& input = inputs[i];
        values[i] = input.fixed + input.of_channel * context.channels[input.channel] +
                    input.of_moment * context.moment;
    }
    const double value = scale * program.value();
    context.set(driven, std::isfinite(value) ? value : context.asked[driven]);
}

/// Before trains of shafts, which take it as given.
PlanPhase phase_of(const Formula*) {
    return PlanPhase::Rolls;
}

namespace {

/// But for the slot of its channel.
FormulaStep::Input input_of(const FormulaInput& input, const Formula& formula, const Document& document,
                            const Clip& clip) {
    const double unit = in_formula(quantity_of(input), formula.unit_m);
    switch (input.kind) {
        case InputKind::Channel:
            return {.of_channel = input.against ? -unit : unit};
        case InputKind::Constant:
            return {.fixed = unit * input.value};
        case InputKind::Progress: {
            const double frames = std::max(clip.last_frame - clip.first_frame, 1e-9);
            return {.fixed = -clip.first_frame / frames, .of_moment = 1 / frames};
        }
        case InputKind::Frame:
            return {.of_moment = 1};
        case InputKind::Seconds:
            return {.of_moment = 1 / frame_rate_of(document, clip)};
        case InputKind::Number:
            return {.fixed = static_cast<double>(formula.number)};
    }
    return {};
}

bool takes_time(const FormulaInput& input) {
    return input.kind == InputKind::Progress || input.kind == InputKind::Frame ||
           input.kind == InputKind::Seconds;
}

/// What two formulas have to share to be worked out by one program: the text, its unit, its names.
std::string key_of(const Formula& formula) {
    std::string key = formula.text + '\0' + std::to_string(formula.unit_m);
    for (const FormulaInput& input : formula.inputs) key += '\0' + input.name;
    return key;
}

}  // namespace

void plan(const Formula& formula, CouplingId, RigPlan& plan) {
    const auto driven = plan.require(formula.driven);
    if (!driven) return;
    ReadFormula read = read_formula(formula);
    if (read.problem) return;  // a finding tells
    StepLinks links(plan);
    links.gives_channel(*driven);
    links.needs_asked(*driven);
    FormulaStep step{*driven,
                     plan.number_of(key_of(formula)),
                     std::make_shared<const FormulaTree>(std::move(read.tree)),
                     {},
                     1};
    bool timed = false;
    for (const FormulaInput& input : formula.inputs) {
        step.inputs.push_back(input_of(input, formula, plan.document(), plan.clip()));
        timed |= takes_time(input);
        if (input.kind != InputKind::Channel) continue;
        const auto channel = plan.require(input.channel);
        if (!channel) return;
        links.needs_channel(*channel);
        step.inputs.back().channel = *channel;
    }
    step.scale = (formula.against ? -1 : 1) / in_formula(quantity_of(formula.driven.kind), formula.unit_m);
    const std::string by(Formula::moved_by_words);
    if (timed)
        plan.add(TimedFormulaStep{std::move(step)}, std::move(links), by);
    else
        plan.add(std::move(step), std::move(links), by);
}

std::optional<double> formula_value(const Document& document, const Clip& clip, const Formula& formula,
                                    const Evaluator& evaluator, const Pose& pose, double frame) {
    const ReadFormula read = read_formula(formula);
    if (read.problem) return std::nullopt;
    FormulaProgram program(read.tree, formula.inputs.size());
    for (std::size_t i = 0; i < formula.inputs.size(); ++i) {
        const FormulaStep::Input taken = input_of(formula.inputs[i], formula, document, clip);
        program.inputs()[i] = taken.fixed + taken.of_moment * frame;
        if (formula.inputs[i].kind != InputKind::Channel) continue;
        const auto slot = evaluator.channel_slot(formula.inputs[i].channel);
        if (!slot) return std::nullopt;
        program.inputs()[i] += taken.of_channel * pose.channels[*slot];
    }
    const double value = program.value();
    return std::isfinite(value) ? std::optional(value) : std::nullopt;
}

}  // namespace pivrak
