// Formulas: what they give, against the C library; what is wrong with them, and where.
#include <gtest/gtest.h>

#include <cmath>
#include <random>

#include "core/geometry/types.h"
#include "core/rig/formulas/formula_program.h"

namespace pivrak {
namespace {

const std::vector<FormulaName> names{{"cord", length_quantity},
                                     {"swing", angle_quantity},
                                     {"share", ratio_quantity},
                                     {"frame", frames_quantity},
                                     {"wheel_radius", length_quantity}};

ReadFormula read(std::string_view text, double unit_m = 1) {
    return read_formula(text, names, unit_m);
}

double value(std::string_view text, std::vector<double> given = {}, double unit_m = 1) {
    const ReadFormula formula = read(text, unit_m);
    EXPECT_FALSE(formula.problem) << text << ": " << (formula.problem ? formula.problem->message : "");
    if (formula.problem) return std::nan("");
    FormulaProgram program(formula.tree, names.size());
    given.resize(names.size());
    std::copy(given.begin(), given.end(), program.inputs().begin());
    return program.value();
}

FormulaNote problem(std::string_view text) {
    const ReadFormula formula = read(text);
    EXPECT_TRUE(formula.problem) << text;
    return formula.problem.value_or(FormulaNote{});
}

/// What a note is about.
std::string marked(std::string_view text, const FormulaNote& note) {
    return std::string(text.substr(note.at, note.length));
}

std::string hint(std::string_view text, FormulaQuantity drives = angle_quantity) {
    const ReadFormula formula = read(text);
    EXPECT_FALSE(formula.problem) << text << ": " << (formula.problem ? formula.problem->message : "");
    const auto notes = unlike_quantities(formula.tree, names, drives);
    return notes.empty() ? "" : marked(text, notes.front()) + ": " + notes.front().message;
}

/// Source: units of ISO 80000-3:2019; the inch is 25.4 mm and the foot 0.3048 m there.
TEST(Formula, UnitsAreThoseOfTheStandard) {
    EXPECT_DOUBLE_EQ(value("25.4 mm"), 0.0254);
    EXPECT_DOUBLE_EQ(value("1 in"), 0.0254);
    EXPECT_DOUBLE_EQ(value("1 ft"), 0.3048);
    EXPECT_DOUBLE_EQ(value("2 m + 40 mm"), 2.04);
    EXPECT_DOUBLE_EQ(value("1/3 turn"), 120);
    EXPECT_DOUBLE_EQ(value("2 * 1/4 turn"), 180);
    EXPECT_DOUBLE_EQ(value("(1 + 2) * 90°"), 270);
    EXPECT_DOUBLE_EQ(value("1 rad"), 180 / pi);
    EXPECT_DOUBLE_EQ(value("50 %"), 0.5);
    EXPECT_DOUBLE_EQ(value("1.5 min"), 90);
    EXPECT_DOUBLE_EQ(value("(1 + 1) mm"), 0.002);
    // A formula of millimetres counts in these.
    EXPECT_DOUBLE_EQ(value("1 in", {}, 1e-3), 25.4);
    EXPECT_DOUBLE_EQ(value("3 + 1 m", {}, 1e-3), 1003);
}

TEST(Formula, ReadsAsArithmeticDoes) {
    EXPECT_EQ(value("2 + 3 * 4"), 14);
    EXPECT_EQ(value("2 - 3 - 4"), -5);
    EXPECT_EQ(value("24 / 4 / 2"), 3);
    EXPECT_EQ(value("-2^2"), -4);
    EXPECT_EQ(value("2^3^2"), 512);
    EXPECT_EQ(value("2^-1"), 0.5);
    EXPECT_EQ(value("1 < 2 and 3 >= 3 or 0"), 1);
    EXPECT_EQ(value("not (1 == 2)"), 1);
    EXPECT_EQ(value("if(share > 0.5, 10, 20)", {0, 0, 0.6}), 10);
    EXPECT_EQ(value("if(share > 0.5, 10, 20)", {0, 0, 0.5}), 20);
    EXPECT_EQ(value("3 × 4 ÷ 6 − 1"), 1);
    EXPECT_EQ(value("low = 2\nhigh = low * 3; clamp(cord, low, high)", {9}), 6);
    EXPECT_EQ(value("\n\n 7 \n"), 7);
    EXPECT_EQ(value("mod(-1, 4)"), 3);
    EXPECT_EQ(value("lerp(10, 20, 0.25)"), 12.5);
    EXPECT_EQ(value("smoothstep(0, 2, 1)"), 0.5);
    EXPECT_EQ(value("step(2, 2) + step(2, 1.9)"), 1);
    EXPECT_EQ(value("max(1, 5, 3) - min(4, 2)"), 3);
    EXPECT_EQ(value("sin(180)"), 0) << "degrees, and whole ones exactly";
    EXPECT_EQ(value("cos(90) + cos(270)"), 0);
    EXPECT_EQ(value("sin(90) + cos(360)"), 2);
    EXPECT_EQ(value("atan2(1, -1)"), 135);
}

/// A formula drawn at random with what the C library gives for it; `x`, `y`, `z` are cord, swing and share.
struct Drawn {
    std::string text;
    double value;
};

class Draw {
public:
    explicit Draw(std::uint32_t seed) : random_(seed) {
        std::uniform_real_distribution<double> any(-3, 3);
        for (double& v : given) v = any(random_);
    }
    Drawn formula(int depth) {
        const int kind = std::uniform_int_distribution<int>(0, depth > 0 ? 15 : 1)(random_);
        if (kind == 0) {
            const double number = std::round(std::uniform_real_distribution<double>(0, 50)(random_)) / 8;
            return {fmt_number(number), number};
        }
        if (kind == 1) {
            const auto which = random_() % 3;
            return {names[which].name, given[which]};
        }
        const Drawn a = formula(depth - 1), b = formula(depth - 1);
        const double rad = pi / 180;
        const auto of_two = [&](const char* name) {
            return std::string(name) + "(" + a.text + ", " + b.text + ")";
        };
        const auto of_one = [&](const char* name) { return std::string(name) + "(" + a.text + ")"; };
        switch (kind) {
            case 2:
                return {"(" + a.text + " + " + b.text + ")", a.value + b.value};
            case 3:
                return {"(" + a.text + " - " + b.text + ")", a.value - b.value};
            case 4:
                return {"(" + a.text + " * " + b.text + ")", a.value * b.value};
            case 5:
                return {"(" + a.text + " / " + b.text + ")", a.value / b.value};
            case 6:
                return {of_one("sin"), std::sin(a.value * rad)};
            case 7:
                return {of_one("cos"), std::cos(a.value * rad)};
            case 8:
                return {of_two("atan2"), std::atan2(a.value, b.value) / rad};
            case 9:
                return {of_one("sqrt"), std::sqrt(a.value)};
            case 10:
                return {of_two("max"), std::isnan(a.value) || std::isnan(b.value)
                                           ? std::nan("")
                                           : std::fmax(a.value, b.value)};
            case 11:
                return {of_one("floor"), std::floor(a.value)};
            case 12:
                return {of_one("exp"), std::exp(a.value)};
            case 13:
                return {of_one("log"), std::log(a.value)};
            case 14:
                return {"if(" + a.text + " < " + b.text + ", " + a.text + ", " + b.text + ")",
                        a.value < b.value ? a.value : b.value};
            default:
                return {"-" + of_one("abs"), -std::fabs(a.value)};
        }
    }
    double given[3];

private:
    static std::string fmt_number(double number) {
        std::string text = std::to_string(number);
        return text;
    }
    std::mt19937 random_;
};

/// Source: the C library, on the same arithmetic.
TEST(Formula, TwoHundredAreWhatTheCLibraryGives) {
    int finite = 0;
    for (std::uint32_t seed = 0; seed < 400; ++seed) {
        Draw draw(seed);
        const Drawn drawn = draw.formula(4);
        const double got = value(drawn.text, {draw.given[0], draw.given[1], draw.given[2]});
        if (std::isfinite(drawn.value)) {
            EXPECT_NEAR(got, drawn.value, 1e-9 * (1 + std::abs(drawn.value))) << drawn.text;
            ++finite;
        } else {
            EXPECT_FALSE(std::isfinite(got)) << drawn.text;
        }
    }
    EXPECT_GT(finite, 200);
}

TEST(Formula, WhatIsWrongIsMarkedWhereItIsAndNamed) {
    const auto expect = [](std::string_view text, std::string_view where, std::string_view says) {
        const FormulaNote note = problem(text);
        EXPECT_EQ(marked(text, note), where) << text << ": " << note.message;
        EXPECT_NE(note.message.find(says), std::string::npos) << text << ": " << note.message;
    };
    expect("cord * arm", "arm", "no input");
    expect("crod * 2", "crod", "'cord' is one like it");
    expect("sine(3)", "sine", "no function");
    expect("sin * 2", "sin", "in brackets");
    expect("clamp(cord, 1)", "clamp", "here are 2");
    expect("cord +", "+", "missing after");
    expect("cord * / 2", "/", "before '/'");
    expect("(cord + 1", "(", "not closed");
    expect("max(1, 2", "(", "not closed");
    expect("cord + 1)", ")", "closes nothing");
    expect("cord 2", "2", "sign is missing");
    expect("cord(2)", "cord", "is a value");
    expect("cord = 3\ncord", "cord", "a value already");
    expect("sin = 3\n1", "sin", "a word of formulas");
    expect("1\n2", "2", "gives the result already");
    expect("a = 3", "3", "result is missing");
    expect("cord $ 2", "$", "no meaning");
    expect("share = 1 = 2", "share", "a value already");
    expect("x = share = 2\nx", "=", "write '=='");
    expect("mm * 3", "mm", "is a unit");
    expect("1e999", "1e999", "too large");
    EXPECT_NE(problem("").message.find("asked for"), std::string::npos);
}

TEST(Formula, HugeAndHostileTextsAreToldNotWorkedOn) {
    EXPECT_NE(problem(std::string(1 << 20, '1')).message.find("at most"), std::string::npos);
    EXPECT_NE(problem(std::string(2000, '(') + "1" + std::string(1900, ')')).message.find("deep"),
              std::string::npos);
    EXPECT_NE(problem(std::string(3000, '-') + "1").message.find("in a row"), std::string::npos);
    std::mt19937 random(7);
    const std::string letters = "cord swing 12.+-*/^()<>=!,;%\n°mmif and";
    for (int i = 0; i < 20000; ++i) {
        std::string text;
        for (std::size_t n = random() % 24; n > 0; --n) text += letters[random() % letters.size()];
        const ReadFormula formula = read(text);
        if (formula.problem) {
            EXPECT_LE(formula.problem->at, text.size()) << text;
            EXPECT_FALSE(formula.problem->message.empty());
        } else {
            FormulaProgram program(formula.tree, names.size());
            program.value();
        }
    }
    // As long as it may be, and as much as that becomes.
    std::string longest = "1";
    while (longest.size() < 3990) longest += "+.1";
    EXPECT_NEAR(value(longest), 1 + 0.1 * static_cast<double>((longest.size() - 1) / 3), 1e-9);
}

TEST(Formula, UnlikeQuantitiesAreHintedAtWithTheirRepair) {
    EXPECT_EQ(hint("15 * swing"), "");
    EXPECT_NE(hint("15 * cord").find("15 * cord: the result is a length, what it drives an angle"),
              std::string::npos)
        << hint("15 * cord");
    EXPECT_NE(hint("15 * cord").find("radius"), std::string::npos);
    EXPECT_EQ(hint("cord / wheel_radius * 1 rad"), "") << "as the hint has it";
    EXPECT_NE(hint("swing", length_quantity).find("multiply it by a radius"), std::string::npos);
    EXPECT_EQ(hint("swing * wheel_radius / 1 rad", length_quantity), "");
    EXPECT_NE(hint("swing + cord").find("cord: a length stands beside an angle"), std::string::npos)
        << hint("swing + cord");
    EXPECT_EQ(hint("swing + 3"), "") << "a plain number takes what stands beside it";
    EXPECT_NE(hint("swing + 3 mm").find("3 mm"), std::string::npos);
    EXPECT_NE(hint("sin(cord) * 1 deg").find("cord: this is a length, where an angle"), std::string::npos)
        << hint("sin(cord) * 1 deg");
    EXPECT_EQ(hint("sin(swing) * 40 mm", length_quantity), "");
    EXPECT_EQ(hint("share * 90"), "");
    EXPECT_EQ(hint("lerp(-80 deg, 80 deg, share)"), "");
    EXPECT_EQ(hint("sqrt(cord ^ 2 + cord ^ 2)", length_quantity), "");
    EXPECT_NE(hint("frame / 1 s * 1 deg"), "");
    EXPECT_NE(hint("swing / 90 deg", length_quantity), "");
}

TEST(Formula, NoiseIsSmoothBoundedAndRepeatsWithoutASeam) {
    double most = 0, last = smooth_noise(0, 3);
    for (double x = 0; x < 200; x += 0.01) {
        const double now = smooth_noise(x, 3);
        EXPECT_LE(std::abs(now), 1);
        EXPECT_LT(std::abs(now - last), 0.05);
        most = std::max(most, std::abs(now));
        last = now;
    }
    EXPECT_GT(most, 0.4);
    EXPECT_NE(smooth_noise(0.5, 1), smooth_noise(0.5, 2));
    const double e = 1e-6;
    for (const int period : {1, 5, 12}) {
        const auto slope = [&](double x) {
            return (smooth_noise(x + e, 9, period) - smooth_noise(x - e, 9, period)) / (2 * e);
        };
        EXPECT_NEAR(smooth_noise(0.37, 9, period), smooth_noise(0.37 + period, 9, period), 1e-12);
        EXPECT_NEAR(slope(0), slope(period), 1e-6) << period;
    }
    EXPECT_EQ(smooth_noise(std::nan(""), 1), 0);
    EXPECT_EQ(smooth_noise(INFINITY, 1), 0);
}

TEST(Formula, ACopyWorksBesideTheOriginal) {
    const ReadFormula formula = read("x = cord * 2\nx + swing");
    FormulaProgram one(formula.tree, names.size());
    one.inputs()[0] = 1;
    FormulaProgram two = one;
    two.inputs()[0] = 10;
    EXPECT_EQ(one.value(), 2);
    EXPECT_EQ(two.value(), 20);
    one = two;
    one.inputs()[1] = 5;
    EXPECT_EQ(two.value(), 20);
}

}  // namespace
}  // namespace pivrak
