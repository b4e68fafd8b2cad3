#include "core/rig/formulas/formula_inputs.h"

#include <fmt/format.h>

#include <cmath>

#include "core/rig/formulas/formula_program.h"

namespace pivrak {

FormulaQuantity quantity_of(const FormulaInput& input) {
    switch (input.kind) {
        case InputKind::Channel:
            return quantity_of(input.channel.kind);
        case InputKind::Constant:
            switch (input.counts) {
                case ConstantKind::Plain:
                    return plain_quantity;
                case ConstantKind::Ratio:
                    return ratio_quantity;
                case ConstantKind::Length:
                    return length_quantity;
                case ConstantKind::Angle:
                    return angle_quantity;
                case ConstantKind::Time:
                    return time_quantity;
            }
            return {};
        case InputKind::Progress:
            return ratio_quantity;
        case InputKind::Frame:
            return frames_quantity;
        case InputKind::Seconds:
            return time_quantity;
        case InputKind::Number:
            return plain_quantity;
    }
    return {};
}

std::vector<FormulaName> names_of(const Formula& formula) {
    std::vector<FormulaName> names;
    for (const FormulaInput& input : formula.inputs) names.push_back({input.name, quantity_of(input)});
    return names;
}

ReadFormula read_formula(const Formula& formula) {
    return read_formula(formula.text, names_of(formula), formula.unit_m);
}

double in_formula(const FormulaQuantity& quantity, double unit_m) {
    return std::pow(unit_m, -quantity.length) * std::pow(deg_per_rad, quantity.angle);
}

Result<FormulaInput> constant_from(const std::string& name, const std::string& text) {
    const ReadFormula read = read_formula(text, {}, 1);
    if (read.problem)
        return Error{"formula.constant", fmt::format("'{}': {}", text, read.problem->message), name};
    const double value = FormulaProgram(read.tree, 0).value();
    const FormulaQuantity counts = quantity_of_result(read.tree, {});
    FormulaInput input{.name = name, .value = value};
    if (counts == length_quantity)
        input.counts = ConstantKind::Length;
    else if (counts == angle_quantity)
        input.counts = ConstantKind::Angle, input.value = value * rad_per_deg;
    else if (counts == time_quantity)
        input.counts = ConstantKind::Time;
    else if (!counts.has_none())
        return Error{"formula.constant",
                     fmt::format("'{}' is {}; a constant is a number, a length, an angle or a time", text,
                                 words_for(counts)),
                     name};
    else
        input.counts = counts.plain ? ConstantKind::Plain : ConstantKind::Ratio;
    if (!std::isfinite(input.value) || std::abs(input.value) > 1e15)
        return Error{"formula.constant", fmt::format("'{}' is no number to work with", text), name};
    return input;
}

std::string constant_text(const FormulaInput& input) {
    switch (input.counts) {
        case ConstantKind::Plain:
            return fmt::format("{}", input.value);
        case ConstantKind::Ratio:
            return fmt::format("{} %", 100 * input.value);
        case ConstantKind::Length:
            return fmt::format("{} m", input.value);
        case ConstantKind::Angle:
            return fmt::format("{} deg", input.value * deg_per_rad);
        case ConstantKind::Time:
            return fmt::format("{} s", input.value);
    }
    return "";
}

std::string input_words(const Document& document, const FormulaInput& input) {
    switch (input.kind) {
        case InputKind::Channel:
            return channel_name(document, input.channel);
        case InputKind::Constant:
            switch (input.counts) {
                case ConstantKind::Length:
                    return format_length(input.value, document);
                case ConstantKind::Angle:
                    return format_angle(input.value);
                case ConstantKind::Time:
                    return fmt::format("{:.6g} s", input.value);
                default:
                    return fmt::format("{:.6g}", input.value);
            }
        default:
            return std::string(word_of(input_kind_words, input.kind));
    }
}

}  // namespace pivrak
