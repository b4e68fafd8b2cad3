#include "core/rig/formulas/formula_program.h"

#include <fmt/format.h>
#include <muParser.h>

#include <cmath>
#include <functional>
#include <limits>

#include "core/geometry/types.h"

namespace pivrak {
namespace {

using What = FormulaNode::What;

// ---- what functions give; angles in degrees

/// What is no number stays none, in whatever place it stands.
template <class Better>
double best(const double* v, int n, Better better) {
    double found = v[0];
    for (int i = 1; i < n; ++i)
        if (better(v[i], found) || std::isnan(v[i])) found = v[i];
    return found;
}
double least(const double* v, int n) {
    return best(v, n, std::less<>());
}
double greatest(const double* v, int n) {
    return best(v, n, std::greater<>());
}
double clamp(double x, double low, double high) {
    return x < low ? low : x > high ? high : x;
}
double lerp(double a, double b, double share) {
    return a + (b - a) * share;
}
double step(double edge, double x) {
    return x < edge ? 0 : 1;
}
double smoothstep(double a, double b, double x) {
    if (a == b) return x < a ? 0 : 1;
    const double t = clamp((x - a) / (b - a), 0, 1);
    return t * t * (3 - 2 * t);
}
double magnitude(double x) {
    return std::abs(x);
}
double sign(double x) {
    return x > 0 ? 1 : x < 0 ? -1 : 0;
}
double whole_below(double x) {
    return std::floor(x);
}
double nearest_whole(double x) {
    return std::round(x);
}
double modulo(double x, double y) {
    const double left = std::fmod(x, y);
    return left != 0 && (left < 0) != (y < 0) ? left + y : left;
}
double power(double x, double n) {
    return std::pow(x, n);
}
double root(double x) {
    return std::sqrt(x);
}
double exponential(double x) {
    return std::exp(x);
}
double logarithm(double x) {
    return std::log(x);
}
/// From -180 to 180, without rounding: what is left of whole turns has no more digits than what was given.
double in_one_turn(double deg) {
    if (std::abs(deg) <= 180) return deg;
    if (!(std::abs(deg) < 1e12)) return std::remainder(deg, 360);
    return std::fma(-360.0, std::nearbyint(deg * (1.0 / 360)), deg);
}
/// Of whole quarters exactly, as a person expects of degrees.
double sine(double deg) {
    const double in_turn = in_one_turn(deg);
    if (in_turn == 180 || in_turn == -180) return 0;
    return std::abs(in_turn) > 90 ? std::sin((std::copysign(180, in_turn) - in_turn) * rad_per_deg)
                                  : std::sin(in_turn * rad_per_deg);
}
double cosine(double deg) {
    return sine(90 - std::abs(in_one_turn(deg)));
}
double tangent(double deg) {
    const double beside = cosine(deg);
    return beside == 0 ? std::numeric_limits<double>::quiet_NaN() : sine(deg) / beside;
}
double arc_sine(double x) {
    return std::asin(x) * deg_per_rad;
}
double arc_cosine(double x) {
    return std::acos(x) * deg_per_rad;
}
double arc_tangent(double x) {
    return std::atan(x) * deg_per_rad;
}
double direction(double y, double x) {
    return std::atan2(y, x) * deg_per_rad;
}
double noise(double x, double seed) {
    return smooth_noise(x, static_cast<std::uint32_t>(std::fmod(std::abs(seed), 4294967296.0)));
}

void define_functions(mu::Parser& parser) {
    parser.ClearFun();
    parser.ClearConst();
    parser.DefineFun("f_min", least);
    parser.DefineFun("f_max", greatest);
    parser.DefineFun("f_clamp", clamp);
    parser.DefineFun("f_lerp", lerp);
    parser.DefineFun("f_step", step);
    parser.DefineFun("f_smoothstep", smoothstep);
    parser.DefineFun("f_abs", magnitude);
    parser.DefineFun("f_sign", sign);
    parser.DefineFun("f_floor", whole_below);
    parser.DefineFun("f_round", nearest_whole);
    parser.DefineFun("f_mod", modulo);
    parser.DefineFun("f_pow", power);
    parser.DefineFun("f_sqrt", root);
    parser.DefineFun("f_exp", exponential);
    parser.DefineFun("f_log", logarithm);
    parser.DefineFun("f_sin", sine);
    parser.DefineFun("f_cos", cosine);
    parser.DefineFun("f_tan", tangent);
    parser.DefineFun("f_asin", arc_sine);
    parser.DefineFun("f_acos", arc_cosine);
    parser.DefineFun("f_atan", arc_tangent);
    parser.DefineFun("f_atan2", direction);
    parser.DefineFun("f_noise", noise);
}

/// A formula as muParser reads it: every pair in brackets, so that no rule of precedence is asked twice.
class Written {
public:
    explicit Written(const FormulaTree& tree) : tree_(tree) {}

    std::string run() {
        std::string out;
        for (std::size_t i = 0; i < tree_.locals.size(); ++i)
            out += fmt::format("l{}={},", i, node(tree_.locals[i]));
        return out + node(tree_.result);
    }

private:
    std::string node(std::uint32_t index) const {
        const FormulaNode& n = tree_.nodes[index];
        switch (n.what) {
            case What::Number:
                return fmt::format("({})", n.number);
            case What::Input:
                return fmt::format("i{}", n.index);
            case What::Local:
                return fmt::format("l{}", n.index);
            case What::Negative:
                return fmt::format("(-{})", node(n.of[0]));
            case What::Not:
                return fmt::format("({}==0)", node(n.of[0]));
            case What::Operator:
                if (n.sign == "^") return fmt::format("f_pow({},{})", node(n.of[0]), node(n.of[1]));
                return fmt::format("({}{}{})", node(n.of[0]), n.sign, node(n.of[1]));
            case What::If:
                return fmt::format("(({}!=0)?{}:{})", node(n.of[0]), node(n.of[1]), node(n.of[2]));
            case What::Call:
                return call(n);
        }
        return "";
    }
    std::string call(const FormulaNode& n) const {
        const std::string_view name = formula_functions()[n.index].name;
        std::string values;
        for (const std::uint32_t of : n.of) values += (values.empty() ? "" : ",") + node(of);
        if (name == "noise" && n.of.size() == 1) values += ",0";
        return fmt::format("f_{}({})", name, values);
    }
    const FormulaTree& tree_;
};

}  // namespace

struct FormulaProgram::Machine {
    std::string text;
    std::vector<double> inputs, locals;
    mu::Parser parser;

    Machine(std::string written, std::size_t input_count, std::size_t local_count)
        : text(std::move(written)), inputs(input_count), locals(local_count) {
        define_functions(parser);
        for (std::size_t i = 0; i < inputs.size(); ++i) parser.DefineVar(fmt::format("i{}", i), &inputs[i]);
        for (std::size_t i = 0; i < locals.size(); ++i) parser.DefineVar(fmt::format("l{}", i), &locals[i]);
        parser.SetExpr(text);
        parser.Eval();  // it compiles at its first working out
    }
};

FormulaProgram::FormulaProgram(const FormulaTree& tree, std::size_t inputs)
    : machine_(std::make_unique<Machine>(Written(tree).run(), inputs, tree.locals.size())) {}
FormulaProgram::FormulaProgram(const FormulaProgram& other)
    : machine_(std::make_unique<Machine>(other.machine_->text, other.machine_->inputs.size(),
                                         other.machine_->locals.size())) {}
FormulaProgram& FormulaProgram::operator=(const FormulaProgram& other) {
    *this = FormulaProgram(other);
    return *this;
}
FormulaProgram::FormulaProgram(FormulaProgram&&) noexcept = default;
FormulaProgram& FormulaProgram::operator=(FormulaProgram&&) noexcept = default;
FormulaProgram::~FormulaProgram() = default;

std::span<double> FormulaProgram::inputs() {
    return machine_->inputs;
}

double FormulaProgram::value() const {
    if (machine_->locals.empty()) return machine_->parser.Eval();
    int count = 0;
    const double* all = machine_->parser.Eval(count);
    return all[count - 1];
}

namespace {

/// Slope at a whole number, -1 to 1. Mixed by splitmix64 (S. Vigna, 2015, public domain).
double slope_at(std::int64_t whole, std::uint32_t seed) {
    std::uint64_t z = static_cast<std::uint64_t>(whole) * 0x9E3779B97F4A7C15ull +
                      seed * 0xD1B54A32D192ED03ull + 0x9E3779B97F4A7C15ull;
    z = (z ^ (z >> 30)) * 0xBF58476D1CE4E5B9ull;
    z = (z ^ (z >> 27)) * 0x94D049BB133111EBull;
    z ^= z >> 31;
    return static_cast<double>(z >> 11) * 0x1p-52 - 1;
}

}  // namespace

double smooth_noise(double x, std::uint32_t seed, int period) {
    if (!(std::abs(x) < 9e15)) return 0;
    const double below = std::floor(x), t = x - below;
    std::int64_t a = static_cast<std::int64_t>(below), b = a + 1;
    if (period > 0) {
        a = ((a % period) + period) % period;
        b = ((b % period) + period) % period;
    }
    // Twice the gradient noise of K. Perlin, Improving Noise (2002), along a line: at most 1.
    const double fade = t * t * t * (t * (6 * t - 15) + 10);
    const double from_a = slope_at(a, seed) * t, from_b = slope_at(b, seed) * (t - 1);
    return 2 * (from_a + (from_b - from_a) * fade);
}

}  // namespace pivrak
