#include <fmt/format.h>

#include <algorithm>

#include "core/base/words.h"
#include "core/elements/formula/formula_motion.h"
#include "core/io/project/project_json.h"
#include "core/model/element_channels.h"
#include "core/operations/all_operations.h"
#include "core/operations/constraints/posed.h"
#include "core/operations/drivers/driven_channel.h"
#include "core/operations/keys/clip_access.h"
#include "core/rig/formulas/formula_inputs.h"

namespace pivrak {
namespace {

using nlohmann::json;

/// What a name stands for. Errors: `channel.none`, `formula.constant`, `formula.name`.
Result<FormulaInput> input_from(const Document& document, const std::string& name, const json& given) {
    if (!is_formula_name(name))
        return Error{
            "formula.name",
            fmt::format("'{}' cannot stand for an input: letters, digits and _ can, but no function's or "
                        "unit's name",
                        name),
            name};
    FormulaInput input{.name = name};
    if (given.is_object()) {
        input.kind = InputKind::Channel;
        if (given.contains("part")) {
            PIVRAK_TRY(channel, channel_at(document, OwnerId(PartId{given.at("part").get<std::uint64_t>()}),
                                           given.at("channel")));
            input.channel = channel;
            return input;
        }
        PIVRAK_TRY(channel,
                   channel_at(document, OwnerId(CouplingId{given.at("element").get<std::uint64_t>()}),
                              given.at("channel")));
        input.channel = channel;
        return input;
    }
    if (given.is_string())
        for (const InputKind kind :
             {InputKind::Progress, InputKind::Frame, InputKind::Seconds, InputKind::Number})
            if (given.get<std::string>() == word_of(input_kind_words, kind)) {
                input.kind = kind;
                return input;
            }
    return constant_from(
        name, given.is_string() ? given.get<std::string>() : fmt::format("{}", given.get<double>()));
}

/// Those there are, with what is given put in place or taken out.
Result<std::vector<FormulaInput>> inputs_from(const Document& document, const Arguments& a,
                                              std::vector<FormulaInput> inputs) {
    if (!a.has("inputs")) return inputs;
    for (const auto& [name, given] : a.values().at("inputs").items()) {
        const auto at =
            std::find_if(inputs.begin(), inputs.end(),
                         [&, &called = name](const FormulaInput& one) { return one.name == called; });
        if (given.is_null()) {
            if (at != inputs.end()) inputs.erase(at);
            continue;
        }
        PIVRAK_TRY(input, input_from(document, name, given));
        if (at != inputs.end()) {
            // A mirror image takes it the other way round, whatever else is said of it.
            if (at->kind == InputKind::Channel && at->channel == input.channel) input.against = at->against;
            *at = std::move(input);
        } else
            inputs.push_back(std::move(input));
    }
    return inputs;
}

const Formula* formula_of(const Document& document, ChannelRef driven) {
    for (const Coupling& coupling : document.couplings)
        if (const Formula* formula = coupling.as<Formula>(); formula && formula->driven == driven)
            return formula;
    return nullptr;
}

Result<Formula> formula_from(const Document& document, const Arguments& a, ChannelRef driven) {
    const Formula* present = formula_of(document, driven);
    Formula formula = present ? *present : Formula{};
    formula.driven = driven;
    // Its numbers go on counting as they did when it was written.
    if (!present) formula.unit_m = metres_per(document.settings.length_unit);
    if (a.has("text")) formula.text = a.text("text");
    PIVRAK_TRY(inputs, inputs_from(document, a, std::move(formula.inputs)));
    formula.inputs = std::move(inputs);
    if (const auto damaged = formula.damaged())
        return Error{"formula.size", std::string(*damaged), name_of(document, driven.part())};
    if (const ReadFormula read = read_formula(formula); read.problem)
        return Error{"formula.text",
                     fmt::format("at '{}': {}", formula.text.substr(read.problem->at, read.problem->length),
                                 read.problem->message),
                     fmt::format("{}:{}", read.problem->at, read.problem->length)};
    return formula;
}

/// What it gives at the frame that was asked for.
std::string result_words(const Document& document, const Arguments& a, const Formula& formula) {
    const std::string name = channel_name(document, formula.driven);
    const auto clip = clip_named(document, a);
    const auto evaluator = Evaluator::compile(document, clip ? (*clip)->id : ClipId{});
    if (!evaluator || !clip) return name;
    Pose pose = evaluator->make_pose();
    const double frame = a.number_if("frame").value_or((*clip)->first_frame);
    evaluator->evaluate(frame, pose);
    if (!formula_value(document, **clip, formula, *evaluator, pose, frame))
        return fmt::format("'{}' has no answer at frame {}", name, frame);
    return fmt::format("'{}' is {}", name,
                       format_channel(formula.driven.kind,
                                      pose.channels[*evaluator->channel_slot(formula.driven)], document));
}

LengthUnit unit_of(double metres) {
    for (const LengthUnit unit : {LengthUnit::Millimetre, LengthUnit::Centimetre})
        if (metres == metres_per(unit)) return unit;
    return LengthUnit::Metre;
}

/// The formulas of all parts, numbered from the asked one on; those that are in a series keep their numbers.
Result<std::vector<Formula>> formulas_from(const Document& document, const Arguments& a) {
    std::vector<Formula> made;
    bool keep = !a.has("number");
    for (const PartId part : a.parts("parts")) {
        PIVRAK_TRY(driven, channel_at(document, part, a.values().at("channel")));
        keep = keep && formula_of(document, driven);
        PIVRAK_TRY(formula, formula_from(document, a, driven));
        made.push_back(std::move(formula));
    }
    int number = a.has("number") ? a.integer("number") : 1;
    for (Formula& formula : made)
        if (!keep) formula.number = number++;
    return made;
}

Result<Outcome> formula_set(const Document& document, const Arguments& a, const OperationContext&) {
    Outcome out{document};
    PIVRAK_TRY(made, formulas_from(document, a));
    for (const Formula& formula : made) {
        PIVRAK_CHECK(make_drivable(out.document, formula.driven));
        out.document.couplings.set({out.document.new_id<CouplingId>(), formula});
    }
    if (const auto compiled = Evaluator::check(out.document); !compiled) return compiled.error();
    const Formula& first = made.front();
    std::string words = result_words(out.document, a, first);
    if (made.size() > 1) words += fmt::format(", and {} more follow by the same formula", made.size() - 1);
    out.messages.push_back(std::move(words));
    json hints = json::array();
    const ReadFormula read = read_formula(first);
    for (const FormulaNote& note :
         unlike_quantities(read.tree, names_of(first), quantity_of(first.driven.kind))) {
        out.messages.push_back(
            fmt::format("at '{}': {}", first.text.substr(note.at, note.length), note.message));
        hints.push_back({{"at", note.at}, {"length", note.length}, {"message", note.message}});
    }
    if (first.unit_m != metres_per(document.settings.length_unit))
        out.messages.push_back(
            fmt::format("its lengths count in {}, as it was written", symbol(unit_of(first.unit_m))));
    out.readings = {{"hints", std::move(hints)}};
    return out;
}

}  // namespace

void add_formula_operations(Registry& registry) {
    registry.add(
        {"formula.set",
         "Formula",
         "Channels become what a formula gives: plain arithmetic over named inputs, angles in degrees, "
         "lengths in the project's unit. What is left out stays as it is.",
         {parts_argument("parts whose channels it gives, in their order"),
          driven_channel_argument("channel", "which channel of theirs; the joint's own when left out"),
          worded({"text", ArgumentKind::Text, "the formula", false, {}, {}}, "Formula"),
          worded({"inputs",
                  ArgumentKind::Inputs,
                  "what each name stands for: a part or an element with its channel, a number with its "
                  "unit, or frame, seconds, progress (0 to 1 over the clip), number (of the part); null "
                  "takes a name out",
                  false,
                  {},
                  {}},
                 "Inputs"),
          {"number",
           ArgumentKind::Integer,
           "of the first of the parts in the series, 1 when left out; those of a series keep theirs",
           false,
           {},
           {}},
          frame_argument(),
          clip_argument()},
         formula_set});
}

}  // namespace pivrak
