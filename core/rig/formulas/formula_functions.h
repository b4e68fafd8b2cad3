#pragma once

#include <cstdint>
#include <span>
#include <string_view>

namespace pivrak {

/// How a function's result counts what goes in.
enum class FunctionRule : std::uint8_t {
    Same,      ///< all alike, and the result as they
    Compares,  ///< all alike, the result a ratio
    OfAngle,   ///< of an angle, a ratio
    ToAngle,   ///< of a ratio, an angle
    Angle,     ///< of two that are alike, an angle
    OfRatio,   ///< of a ratio, a ratio
    Sign,      ///< of anything, a ratio
    Root,
    Power,
    Mix,  ///< the first two alike, the third a ratio
};

struct FormulaFunction {
    std::string_view name;
    int fewest, most;  ///< values it takes; -1 for any number
    FunctionRule rule;
    std::string_view words;  ///< how it is written and what it gives
};

/// All of them; angles are in degrees.
std::span<const FormulaFunction> formula_functions();

}  // namespace pivrak
