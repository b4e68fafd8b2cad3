#include "core/rig/formulas/formula_functions.h"

namespace pivrak {

std::span<const FormulaFunction> formula_functions() {
    using enum FunctionRule;
    static constexpr FormulaFunction all[] = {
        {"min", 1, -1, Same, "min(a, b, …): the least"},
        {"max", 1, -1, Same, "max(a, b, …): the greatest"},
        {"clamp", 3, 3, Same, "clamp(x, low, high): x, not beyond either"},
        {"lerp", 3, 3, Mix, "lerp(a, b, share): from a at 0 to b at 1"},
        {"step", 2, 2, Compares, "step(edge, x): 0 before the edge, 1 from it on"},
        {"smoothstep", 3, 3, Compares, "smoothstep(a, b, x): 0 up to a, 1 from b on, smooth between"},
        {"abs", 1, 1, Same, "abs(x): without its sign"},
        {"sign", 1, 1, Sign, "sign(x): -1, 0 or 1"},
        {"floor", 1, 1, Same, "floor(x): the whole number below"},
        {"round", 1, 1, Same, "round(x): the nearest whole number"},
        {"mod", 2, 2, Same, "mod(x, y): what is left of x after whole y, never below 0"},
        {"pow", 2, 2, Power, "pow(x, n): x to the power n"},
        {"sqrt", 1, 1, Root, "sqrt(x): square root"},
        {"exp", 1, 1, OfRatio, "exp(x): e to the power x"},
        {"log", 1, 1, OfRatio, "log(x): natural logarithm"},
        {"sin", 1, 1, OfAngle, "sin(angle), of degrees"},
        {"cos", 1, 1, OfAngle, "cos(angle), of degrees"},
        {"tan", 1, 1, OfAngle, "tan(angle), of degrees"},
        {"asin", 1, 1, ToAngle, "asin(x): the angle from -90 to 90 degrees"},
        {"acos", 1, 1, ToAngle, "acos(x): the angle from 0 to 180 degrees"},
        {"atan", 1, 1, ToAngle, "atan(x): the angle from -90 to 90 degrees"},
        {"atan2", 2, 2, Angle, "atan2(y, x): the direction from -180 to 180 degrees"},
        {"noise", 1, 2, Sign, "noise(x, seed): smooth chance from -1 to 1"},
    };
    return all;
}

}  // namespace pivrak
