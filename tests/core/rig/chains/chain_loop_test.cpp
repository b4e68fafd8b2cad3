#include "core/rig/chains/chain_loop.h"

#include <gtest/gtest.h>

#include <cmath>
#include <random>

#include "core/geometry/frame.h"

namespace pivrak {
namespace {

ChainCircle sprocket(double pitch, int teeth, Vec2 centre, double side = 1) {
    return {centre, pitch_radius(pitch, teeth), side};
}

/// As many links as the loop needs, and its slack run after the last wheel.
ChainLoop loop_of(double pitch, std::vector<ChainCircle> circles, double spare_links = 0) {
    ChainLoop loop{pitch, 1000, 0, 0.1, circles.size() - 1, {0, -1}, circles};
    loop.links = static_cast<int>(std::ceil(needed_length(loop) / pitch + spare_links - 1e-9));
    return loop;
}

/// The largest difference between a pitch and the distance of two pins that follow each other.
double worst_pitch(const ChainLoop& loop, const std::vector<Vec2>& pins) {
    double worst = 0;
    for (std::size_t i = 0; i < pins.size(); ++i)
        worst = std::max(worst, std::abs((pins[(i + 1) % pins.size()] - pins[i]).norm() - loop.pitch_m));
    return worst;
}

TEST(ChainLoop, PitchCirclesAsTheStandardPrintsThem) {
    // Source: ISO 606:2015, pitch diameter d = p / sin(180 deg / z). From memory: its table of unit pitch
    // diameters has 3.2361 for 10 teeth, 6.0755 for 19 and 12.1096 for 38.
    EXPECT_NEAR(2 * pitch_radius(1, 10), 3.2361, 1e-4);
    EXPECT_NEAR(2 * pitch_radius(25.4, 19), 25.4 * 6.0755, 2e-3);
    EXPECT_NEAR(2 * pitch_radius(25.4, 38), 25.4 * 12.1096, 2e-3);
}

TEST(ChainLoop, LengthOfTwoSprocketsByTheStandardsFormula) {
    // Source: ISO 10823:2004, number of links X0 = 2a/p + (z1+z2)/2 + ((z2-z1)/2pi)^2 p/a.
    struct Case {
        int z1, z2;
        double centres;
    };
    for (const Case& c : {Case{19, 38, 0.7}, Case{19, 38, 0.45}, Case{17, 17, 0.6}, Case{21, 76, 1.2}}) {
        const double p = 0.0254, a = c.centres;
        const ChainLoop loop = loop_of(p, {sprocket(p, c.z1, {0, 0}), sprocket(p, c.z2, {a, 0})});
        const double formula =
            2 * a / p + (c.z1 + c.z2) / 2.0 + std::pow((c.z2 - c.z1) / (2 * pi), 2) * p / a;
        // The formula puts the pitch circle's length at z pitches and ends its series early.
        EXPECT_NEAR(needed_length(loop) / p, formula, 0.05) << c.z1 << ':' << c.z2;
    }
}

TEST(ChainLoop, TwoEqualGearsOfCommonPractice) {
    // Common practice, no source: 12 links of 6.3 mm round one gear, 75.6 mm, give a radius of 12 mm; two
    // such gears 48 mm apart need 27.2 links, so 28 are used and the loop is loosened.
    const double p = 0.0063, radius = 12 * p / (2 * pi);
    EXPECT_NEAR(radius, 0.012, 5e-5);
    const ChainLoop belt{p, 28, 0, 0, 1, {0, -1}, {{{0, 0}, radius, 1}, {{0.048, 0}, radius, 1}}};
    EXPECT_NEAR(smooth_length(belt) / p, 27.2, 0.05);
    const ChainLoop loop = loop_of(p, {sprocket(p, 12, {0, 0}), sprocket(p, 12, {0.048, 0})});
    EXPECT_EQ(loop.links, 28);
    std::vector<Vec2> pins(28);
    const ChainFit fit = place_pins(loop, 0, pins);
    EXPECT_GT(fit.sag_m, 0.004);
    EXPECT_LT(worst_pitch(loop, pins), 1e-12);
}

TEST(ChainLoop, PinsSitOnThePitchCircleAtEqualAngles) {
    const double p = 0.0254;
    const ChainLoop loop = loop_of(p, {sprocket(p, 19, {0, 0}), sprocket(p, 38, {0.6, 0.1})});
    std::vector<Vec2> pins(static_cast<std::size_t>(loop.links));
    for (const double travel : {0.0, 0.007, 0.0254, 1.234, -0.31}) {
        ASSERT_TRUE(place_pins(loop, travel, pins).possible);
        int seated = 0;
        for (std::size_t w = 0; w < 2; ++w) {
            const ChainCircle& wheel = loop.circles[w];
            for (std::size_t i = 0; i < pins.size(); ++i) {
                const Vec2 a = pins[i] - wheel.centre, b = pins[(i + 1) % pins.size()] - wheel.centre;
                if (std::abs(a.norm() - wheel.radius_m) > 1e-9 || std::abs(b.norm() - wheel.radius_m) > 1e-9)
                    continue;
                ++seated;
                EXPECT_NEAR(std::atan2(a.x() * b.y() - a.y() * b.x(), a.dot(b)), 2 * pi / (w == 0 ? 19 : 38),
                            1e-9);
            }
        }
        // Some 160 and 200 degrees of 19 and 38 teeth.
        EXPECT_GE(seated, 26);
        EXPECT_LE(seated, 32);
    }
}

TEST(ChainLoop, TheStraightRunGoesUnevenlyByTheChordalVariation) {
    // Source: chordal speed variation 1 - cos(180 deg / z) (common textbooks of machine design; from memory).
    const int teeth = 11;
    const double p = 0.1;
    ChainLoop loop = loop_of(p, {sprocket(p, teeth, {0, 0}), sprocket(p, teeth, {2.03, 0})}, 1);
    loop.slack_after = 0;
    std::vector<Vec2> before(static_cast<std::size_t>(loop.links)), after = before;
    const double small = 1e-7, turn = small * 2 * pi / (teeth * p);
    double slowest = 1e9, fastest = 0;
    for (double travel = 0; travel < p; travel += p / 500) {
        ASSERT_TRUE(place_pins(loop, travel, before).possible);
        ASSERT_TRUE(place_pins(loop, travel + small, after).possible);
        // A pin in the middle of the taut upper run, which comes to the wheel whose angle goes evenly.
        for (std::size_t i = 0; i < before.size(); ++i)
            if (std::abs(before[i].x() - 1.0) < p / 2 && before[i].y() > 0.1) {
                const double speed = std::abs(after[i].x() - before[i].x()) / turn / pitch_radius(p, teeth);
                slowest = std::min(slowest, speed), fastest = std::max(fastest, speed);
            }
    }
    EXPECT_NEAR(1 - slowest / fastest, 1 - std::cos(pi / teeth), 5e-4);
}

TEST(ChainLoop, PinsMoveWithoutJumps) {
    const double p = 0.0254;
    // A roller presses the lower run up from below.
    ChainLoop loop =
        loop_of(p, {sprocket(p, 19, {0, 0}), {{0.35, -0.11}, 0.03, -1, true}, sprocket(p, 30, {0.7, 0})}, 2);
    ASSERT_GT(loop.links, 60);
    for (std::size_t slack = 0; slack < 3; ++slack) {
        loop.slack_after = slack;
        std::vector<Vec2> pins(static_cast<std::size_t>(loop.links)), last = pins;
        ASSERT_TRUE(place_pins(loop, 0, last).possible);
        double most = 0;
        const double step = p / 400;
        for (double travel = step; travel < 2 * p; travel += step) {
            const ChainFit fit = place_pins(loop, travel, pins);
            ASSERT_TRUE(fit.possible);
            for (std::size_t i = 0; i < pins.size(); ++i) most = std::max(most, (pins[i] - last[i]).norm());
            last = pins;
        }
        // A run that hangs also swings a little; a pin that jumped would go many steps at once.
        EXPECT_LT(most, 4 * step) << slack;
    }
}

TEST(ChainLoop, OneTurnOfASprocketMovesEachPinByItsTeeth) {
    const double p = 0.0127;
    const ChainLoop loop = loop_of(p, {sprocket(p, 17, {0, 0}), sprocket(p, 23, {0.4, -0.1})}, 1);
    std::vector<Vec2> pins(static_cast<std::size_t>(loop.links)), turned = pins;
    place_pins(loop, 0.0041, pins);
    place_pins(loop, 0.0041 + 17 * p, turned);
    for (std::size_t i = 0; i < pins.size(); ++i)
        EXPECT_LT((turned[i] - pins[(i + 17) % pins.size()]).norm(), 1e-9);
}

TEST(ChainLoop, AShallowRunSagsAsTheCatenary) {
    // Source: catenary of parameter c over span L: length 2 c sinh(L / 2c), sag c (cosh(L / 2c) - 1).
    const double p = 0.002;
    ChainLoop loop{p, 0, 0, 0.1, 1, {0, -1}, {{{0, 0}, 0.05, 1}, {{1, 0}, 0.05, 1}}};
    loop.links = 1000;
    loop.links = static_cast<int>(std::ceil(needed_length(loop) / p)) + 10;
    std::vector<Vec2> pins(static_cast<std::size_t>(loop.links));
    const ChainFit fit = place_pins(loop, 0.0003, pins);
    // Of the upper run, which goes from the right wheel to the left one: its pins between the two wheels.
    const auto on = [&](const Vec2& pin, double x) {
        return std::abs((pin - Vec2(x, 0)).norm() - 0.05) < 1e-9;
    };
    std::size_t begin = 0;
    while (!(on(pins[begin], 1) && !on(pins[(begin + 1) % pins.size()], 1))) ++begin;
    const Vec2 right = pins[begin];
    double low = 1e9, length = 0;
    Vec2 left = right;
    for (std::size_t i = begin; !on(left, 0); ++i) {
        left = pins[(i + 1) % pins.size()];
        low = std::min(low, left.y());
        length += p;
    }
    ASSERT_NEAR(left.y(), right.y(), 0.002);
    const double span = right.x() - left.x();
    double c = span / std::sqrt(24 * (length / span - 1));
    for (int i = 0; i < 100; ++i) {
        const double f = 2 * c * std::sinh(span / (2 * c)) - length,
                     slope = 2 * std::sinh(span / (2 * c)) - span / c * std::cosh(span / (2 * c));
        c -= f / slope;
    }
    EXPECT_NEAR((left.y() + right.y()) / 2 - low, c * (std::cosh(span / (2 * c)) - 1), 0.002);
    EXPECT_GT(fit.sag_m, 0.03);
}

TEST(ChainLoop, TooFewLinksAreToldInMetres) {
    const double p = 0.0254;
    ChainLoop loop = loop_of(p, {sprocket(p, 19, {0, 0}), sprocket(p, 19, {0.6, 0})});
    const double needed = needed_length(loop);
    loop.links -= 2;
    double worst = 0;
    for (double travel = 0; travel < p; travel += p / 50)
        worst = std::max(worst, chain_fit(loop, travel).missing_m());
    EXPECT_NEAR(worst, needed - loop.links * p, 2e-5);
    std::vector<Vec2> pins(static_cast<std::size_t>(loop.links));
    place_pins(loop, 0, pins);
    EXPECT_GT(worst_pitch(loop, pins), 1e-4);
    for (const Vec2& pin : pins) EXPECT_TRUE(pin.allFinite());
}

TEST(ChainLoop, WheelsThatNoRunCanJoinAreNamed) {
    const double p = 0.0254;
    // A roller with the chain's back that lies over its sprocket.
    ChainLoop loop{p,
                   60,
                   0,
                   0,
                   2,
                   {0, -1},
                   {sprocket(p, 19, {0, 0}), sprocket(p, 19, {0.6, 0}), {{0.55, 0.02}, 0.05, -1}}};
    const ChainFit fit = chain_fit(loop, 0);
    EXPECT_FALSE(fit.possible);
    EXPECT_EQ(fit.blocked, 1u);
    // A roller that the chain would have to go round backwards to touch it.
    loop.circles[2] = {{0.3, 0.4}, 0.05, -1};
    EXPECT_EQ(chain_fit(loop, 0).blocked, 2u);
    // Runs that cross: one wheel to the left, the other to the right.
    const ChainLoop crossed{
        p, 60, 0, 0, 1, {0, -1}, {sprocket(p, 19, {0, 0}), sprocket(p, 19, {0.6, 0}, -1)}};
    EXPECT_FALSE(chain_fit(crossed, 0).possible);
    EXPECT_EQ(needed_length(loop), 0);
}

/// Wheels round a circle, the chain's back on some rollers that press in from outside between two others.
ChainLoop random_loop(std::mt19937& dice) {
    const auto in = [&](double low, double high) {
        return std::uniform_real_distribution<double>(low, high)(dice);
    };
    const int count = std::uniform_int_distribution<int>(2, 8)(dice);
    const double pitch = in(0.006, 0.12);
    std::vector<ChainCircle> inside, circles;
    for (int i = 0; i < count; ++i) {
        const int teeth = std::uniform_int_distribution<int>(9, 40)(dice);
        const double angle = 2 * pi * (i + in(-0.2, 0.2)) / count;
        inside.push_back(
            sprocket(pitch, teeth, in(95, 105) * pitch * Vec2(std::cos(angle), std::sin(angle))));
    }
    for (std::size_t i = 0; i < inside.size(); ++i) {
        circles.push_back(inside[i]);
        if (std::uniform_int_distribution<int>(0, 2)(dice) != 0) continue;
        const ChainCircle &a = inside[i], &b = inside[(i + 1) % inside.size()];
        const Vec2 along = (b.centre - a.centre).normalized(), right(along.y(), -along.x());
        ChainCircle back = sprocket(pitch, 12, {0, 0}, -1);
        if (std::uniform_int_distribution<int>(0, 1)(dice) == 0)
            back = {{0, 0}, in(0.6, 4) * pitch, -1, true};
        const double off =
            (a.radius_m + b.radius_m) / 2 + back.radius_m - in(0.02, 0.12) * (b.centre - a.centre).norm();
        circles.push_back({(a.centre + b.centre) / 2 + off * right, back.radius_m, -1, back.roller});
    }
    ChainLoop loop = loop_of(pitch, circles, in(0, 2));
    loop.slack_after = std::uniform_int_distribution<std::size_t>(0, circles.size() - 1)(dice);
    const double down = in(0, 2 * pi);
    loop.down = {std::cos(down), std::sin(down)};
    return loop;
}

TEST(ChainLoop, EveryLinkOfAThousandLayoutsIsOnePitchLong) {
    std::mt19937 dice(20);
    int with_backs = 0;
    for (int i = 0; i < 1000; ++i) {
        SCOPED_TRACE(i);
        const ChainLoop loop = random_loop(dice);
        std::vector<Vec2> pins(static_cast<std::size_t>(loop.links)), next = pins;
        for (const ChainCircle& c : loop.circles) with_backs += c.side < 0;
        for (const double share : {0.0, 0.37, 12.71}) {
            const ChainFit fit = place_pins(loop, share * loop.pitch_m, pins);
            ASSERT_TRUE(fit.possible);
            ASSERT_GE(fit.slack_m, -1e-6 * loop.pitch_m);
            ASSERT_LT(worst_pitch(loop, pins), 1e-9);
            // A pitch further each pin is where the one before it was: none is skipped.
            place_pins(loop, (share + 1) * loop.pitch_m, next);
            for (std::size_t k = 0; k < pins.size(); k += 7)
                ASSERT_LT((next[k] - pins[(k + 1) % pins.size()]).norm(), 1e-9);
        }
    }
    EXPECT_GT(with_backs, 1000);
}

}  // namespace
}  // namespace pivrak
