#pragma once

#include <string>

#include "core/model/document.h"
#include "core/rig/formulas/formula_text.h"

namespace pivrak {

/// The names that a formula of the rig may use.
std::vector<FormulaName> names_of(const Formula& formula);

/// Its text, read.
ReadFormula read_formula(const Formula& formula);

/// What one of a channel, or a constant, is in a formula: degrees of radians, the formula's unit of metres.
double in_formula(const FormulaQuantity& quantity, double unit_m);

/// What an input counts.
FormulaQuantity quantity_of(const FormulaInput& input);

/// What a number typed with a unit is: its value [m, rad, s, or plain] and what it counts.
/// Errors: `formula.constant`.
Result<FormulaInput> constant_from(const std::string& name, const std::string& text);

/// A constant as it would be typed, to the last digit.
std::string constant_text(const FormulaInput& input);

/// What stands for a name, in words: `Handle shift`, `40.0 mm`, `frame`.
std::string input_words(const Document& document, const FormulaInput& input);

}  // namespace pivrak
