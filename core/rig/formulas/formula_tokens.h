#pragma once

#include <string>
#include <string_view>
#include <vector>

#include "core/rig/formulas/formula_text.h"

namespace pivrak {

struct FormulaToken {
    enum class What : std::uint8_t { Number, Name, Sign, LineEnd, End };
    What what = What::End;
    double number = 0;
    std::string_view text;  ///< of a name; of a sign as muParser writes it
    std::size_t at = 0, length = 0;
};

struct FormulaTokens {
    std::vector<FormulaToken> tokens;  ///< the last one is the end
    std::optional<FormulaNote> problem;
};

/// Cuts a text into numbers, names and signs; `≤`, `×`, `÷`, `−`, `°` and `π` are read as what they mean.
FormulaTokens cut_formula(std::string_view text);

}  // namespace pivrak
