#pragma once

#include <optional>
#include <span>
#include <string>
#include <string_view>
#include <vector>

#include "core/rig/formulas/formula_functions.h"
#include "core/rig/formulas/formula_quantity.h"

namespace pivrak {

/// Something about a stretch of a formula's text, counted in bytes.
struct FormulaNote {
    std::size_t at = 0, length = 0;
    std::string message;
    bool operator==(const FormulaNote&) const = default;
};

/// A name that a formula may use, and what it counts.
struct FormulaName {
    std::string name;
    FormulaQuantity quantity;
};

struct FormulaNode {
    enum class What : std::uint8_t { Number, Input, Local, Negative, Not, Operator, If, Call };
    What what = What::Number;
    double number = 0;                          ///< as the formula counts: lengths in its unit, degrees
    FormulaQuantity quantity = plain_quantity;  ///< of a number
    std::uint32_t index = 0;                    ///< of an input, a local, a function
    std::string_view sign;                      ///< of an operator, as muParser writes it
    std::vector<std::uint32_t> of;              ///< nodes it is made of
    std::size_t at = 0, length = 0;             ///< in the text
};

/// A formula, read: values with names first, then the result.
struct FormulaTree {
    std::vector<FormulaNode> nodes;
    std::vector<std::uint32_t> locals;
    std::uint32_t result = 0;
};

struct ReadFormula {
    FormulaTree tree;
    std::optional<FormulaNote> problem;  ///< nothing else is good when there is one
};

/// Reads a formula: plain arithmetic over named inputs, on one line, or on several of which all but the last
/// give a value a name: `slack = rope - 1.2 m`. Numbers take units as they are typed (`25.4 mm`, `1/3 turn`,
/// `50 %`); without one they are lengths in the formula's unit, degrees, seconds or plain, as it fits.
/// `unit_m` is the formula's unit of length [m].
ReadFormula read_formula(std::string_view text, std::span<const FormulaName> inputs, double unit_m);

/// Whether a name may stand for an input: letters, digits and `_`, no function's, unit's or constant's.
bool is_formula_name(std::string_view name);

/// What a formula's result counts.
FormulaQuantity quantity_of_result(const FormulaTree& tree, std::span<const FormulaName> inputs);

/// Where unlike things are added, compared or driven, with the likely repair; a formula works all the same.
/// `result` is what the driven channel counts.
std::vector<FormulaNote> unlike_quantities(const FormulaTree& tree, std::span<const FormulaName> inputs,
                                           const FormulaQuantity& result);

}  // namespace pivrak
