#include "core/rig/chains/open_run.h"

#include <gtest/gtest.h>

#include <cmath>
#include <random>

#include "core/geometry/frame.h"

namespace pivrak {
namespace {

double worst_pitch_error(const ChainLoop& loop, const std::vector<Vec2>& pins) {
    double worst = 0;
    for (std::size_t i = 0; i + 1 < pins.size(); ++i)
        worst = std::max(worst, std::abs((pins[i + 1] - pins[i]).norm() - loop.pitch_m));
    return worst;
}

std::vector<Vec2> laid(const ChainLoop& loop, double travel = 0) {
    std::vector<Vec2> pins(loop.pin_count());
    const ChainFit fit = place_open_pins(loop, travel, pins);
    EXPECT_TRUE(fit.placed);
    return pins;
}

/// A cord from the left, over a pulley, straight down on its right.
ChainLoop cord(double pitch, int links) {
    ChainLoop loop;
    loop.pitch_m = pitch;
    loop.links = links;
    loop.down = {0, -1};
    loop.circles = {{{0, 0}, 0.1, -1, true}};
    loop.ends = LoopEnds{RunStart::Tied, {-1, 0.1}, {0.1, -0.8}, 0};
    return loop;
}

/// A drum below on the left, whose rope goes over a pulley and down.
ChainLoop hoist(int links) {
    ChainLoop loop;
    loop.pitch_m = 0.03;
    loop.links = links;
    loop.down = {0, -1};
    loop.circles = {{{-1.5, -2}, 0.2, -1, true}, {{0, 0}, 0.15, -1, true}};
    loop.ends = LoopEnds{RunStart::Wound, {0, 0}, {0.15, -1}, 0};
    // Wound up by as much as its links are too many.
    const ChainFit fit = place_open_pins(loop, 0, {});
    loop.start_rad += fit.slack_m * pin_step_rad(loop.pitch_m, 0.2) / loop.pitch_m;
    return loop;
}

TEST(OpenRun, CordIsAsLongAsItsStraightsAndArc) {
    // Closed form: two straights and a quarter of the pulley.
    const double length = 1 + 0.8 + 0.1 * pi / 2;
    const ChainFit fit = place_open_pins(cord(0.001, 2000), 0, {});
    ASSERT_TRUE(fit.possible);
    EXPECT_NEAR(fit.line_m, length, 1e-12);
    // Links are chords: a little shorter round the pulley than its arc, by p^2 / 24 r^2.
    EXPECT_NEAR(fit.slack_m, 2.0 - length, 0.1 * pi / 2 * 1e-6 / (24 * 0.01) * 1.1 + 1e-9);
}

TEST(OpenRun, LooseCordHangsBeforeItsPulleyAndKeepsItsPitch) {
    const ChainLoop loop = cord(0.02, 100);
    const std::vector<Vec2> pins = laid(loop);
    EXPECT_LT(worst_pitch_error(loop, pins), 1e-9);
    EXPECT_LT((pins.front() - loop.ends->from).norm(), 1e-9);
    EXPECT_LT((pins.back() - loop.ends->to).norm(), 1e-12);
    std::vector<Vec2> again(loop.pin_count());
    EXPECT_GT(place_open_pins(loop, 0, again).sag_m, 0.05);
}

TEST(OpenRun, MissingLinksAreToldAndDrawnApart) {
    const ChainLoop loop = cord(0.02, 95);
    std::vector<Vec2> pins(loop.pin_count());
    const ChainFit fit = place_open_pins(loop, 0, pins);
    EXPECT_NEAR(fit.missing_m(), 1.8 + 0.05 * pi - 1.9, 1e-3);
    EXPECT_LT((pins.front() - loop.ends->from).norm(), 1e-12);
}

TEST(OpenRun, WhatADrumPaysOutComesAtTheHook) {
    ChainLoop loop = hoist(200);
    const ChainFit rest = place_open_pins(loop, 0, {});
    ASSERT_NEAR(rest.slack_m, 0, 1e-12);
    EXPECT_GT(rest.wound_rad, 2 * pi);
    // Whole links more: everything stands as before but the hook.
    ChainLoop lowered = loop;
    lowered.ends->to.y() -= 10 * loop.pitch_m;
    const ChainFit fit = place_open_pins(lowered, 10 * loop.pitch_m, {});
    EXPECT_NEAR(fit.slack_m, 0, 1e-10);
    EXPECT_NEAR(fit.line_m - rest.line_m, 10 * loop.pitch_m, 1e-12);
    // The drum has turned by ten links.
    EXPECT_NEAR(rest.wound_rad - fit.wound_rad, 10 * pin_step_rad(loop.pitch_m, 0.2), 1e-12);
    EXPECT_LT(worst_pitch_error(lowered, laid(lowered, 10 * loop.pitch_m)), 1e-9);
    // Paid out without a hook that goes down: as much too much.
    EXPECT_NEAR(place_open_pins(loop, 0.3, {}).slack_m, 0.3, 1e-12);
}

TEST(OpenRun, LooseEndHangsDownFromItsWheel) {
    ChainLoop loop = hoist(200);
    loop.ends->start = RunStart::Loose;
    const std::vector<Vec2> pins = laid(loop);
    EXPECT_LT(worst_pitch_error(loop, pins), 1e-9);
    EXPECT_NEAR(pins[0].x(), pins[5].x(), 1e-12);
    EXPECT_NEAR(pins[5].y() - pins[0].y(), 5 * loop.pitch_m, 1e-12);
    EXPECT_NEAR(pins[0].x(), -1.7, 1e-9) << "on the side of the drum that looks away";
}

TEST(OpenRun, DrumThatIsEmptySaysSo) {
    const ChainLoop loop = hoist(200);
    const double wound_m = place_open_pins(loop, 0, {}).wound_rad * 0.2;
    EXPECT_GT(place_open_pins(loop, 0.99 * wound_m, {}).wound_rad, 0);
    EXPECT_LT(place_open_pins(loop, 1.01 * wound_m, {}).wound_rad, 0);
}

TEST(OpenRun, PulleysTurnWithWhatGoesOverThem) {
    ChainLoop loop = hoist(200), lowered = loop;
    lowered.ends->to.y() -= 0.45;
    RunTouch before[2], after[2];
    run_touches(loop, before);
    run_touches(lowered, after);
    // Fifteen links of 30 mm, clockwise as the rope goes down on the right. Each is a chord of the pulley.
    EXPECT_NEAR(turned_by_run(loop.circles[1], 0.03, before[1], after[1]), -15 * 2 * std::asin(0.1), 1e-12);
    // Rolling without slip is the same but for those chords: 0.45 m over 0.15 m.
    EXPECT_NEAR(turned_by_run(loop.circles[1], 0.03, before[1], after[1]), -3, 0.006);
    EXPECT_FALSE(before[0].touched) << "what pays out turns by its travel";
}

TEST(OpenRun, APulleyBelowIsHalvedByTwoFalls) {
    // From a tie over a pulley on the hook block and back up: the block moves half as far as the rope.
    ChainLoop loop;
    loop.pitch_m = 0.02;
    loop.links = 400;
    loop.down = {0, -1};
    loop.circles = {{{-0.2, 0}, 0.1, -1, true}, {{0, -2}, 0.1, 1, true}};
    loop.ends = LoopEnds{RunStart::Wound, {0, 0}, {0.1, 0}, 0};
    const double line = place_open_pins(loop, 0, {}).line_m;
    loop.circles[1].centre.y() -= 0.5;
    EXPECT_NEAR(place_open_pins(loop, 0, {}).line_m - line, 1.0, 1e-12);
}

TEST(OpenRun, FoldReachesItsEndWithWholeLinks) {
    ChainLoop loop;
    loop.pitch_m = 0.05;
    loop.links = 40;
    loop.ends = LoopEnds{RunStart::Tied, {0, 0}, {0.3, 0.4}, 0};
    std::vector<Vec2> pins = laid(loop);
    EXPECT_LT(worst_pitch_error(loop, pins), 1e-9);
    EXPECT_LT((pins.back() - loop.ends->to).norm(), 1e-9);
    const auto farthest = [](const std::vector<Vec2>& all) {
        double x = 0;
        for (const Vec2& pin : all) x = std::max(x, pin.x());
        return x;
    };
    // Smooth: both straights and half a circle of 0.2 m are 2 m.
    EXPECT_NEAR(farthest(pins), 0.5 * (2 - 0.2 * pi + 0.3) + 0.2, 0.01);
    // The fold follows its end at half its pace.
    const double before = place_open_pins(loop, 0, {}).slack_m;
    loop.ends->to.x() += 0.2;
    EXPECT_NEAR(before - place_open_pins(loop, 0, {}).slack_m, 0.2, 1e-9)
        << "the fold moved 0.1 m, its end 0.2 m";
    loop.ends->to.x() = 1.6;
    EXPECT_NEAR(place_open_pins(loop, 0, {}).missing_m(), 1.6 + 0.2 * pi - 2, 1e-12);
}

TEST(OpenRun, FoldDownwardsIsTheMirrorImage) {
    ChainLoop loop;
    loop.pitch_m = 0.05;
    loop.links = 40;
    loop.ends = LoopEnds{RunStart::Tied, {0, 0}, {0.3, 0.4}, 0};
    const std::vector<Vec2> up = laid(loop);
    loop.ends->to.y() = -0.4;
    const std::vector<Vec2> down = laid(loop);
    for (std::size_t i = 0; i < up.size(); ++i)
        EXPECT_LT((Vec2(up[i].x(), -up[i].y()) - down[i]).norm(), 1e-12);
}

TEST(OpenRun, LinksKeepTheirPitchInRandomLayouts) {
    std::mt19937 random(5);
    std::uniform_real_distribution<double> share(0, 1);
    int placed = 0;
    for (int i = 0; i < 1000; ++i) {
        SCOPED_TRACE(i);
        ChainLoop loop;
        loop.pitch_m = 0.02 + 0.03 * share(random);
        loop.down = {0, -1};
        const int wheels = 1 + static_cast<int>(5 * share(random));
        for (int k = 0; k < wheels; ++k)
            loop.circles.push_back({{k + 0.3 * share(random), share(random) - 0.5},
                                    0.05 + 0.2 * share(random),
                                    share(random) < 0.5 ? -1.0 : 1.0,
                                    true});
        const auto start = static_cast<RunStart>(i % 3);
        loop.ends = LoopEnds{start, {-1, share(random)}, {wheels + 0.5, -share(random)}, 0};
        loop.links = 500;
        const ChainFit fit = place_open_pins(loop, 0, {});
        if (!fit.possible) continue;
        if (start != RunStart::Tied)
            loop.start_rad -= fit.slack_m * pin_step_rad(loop.pitch_m, loop.circles[0].radius_m) /
                              loop.pitch_m * loop.circles[0].side;
        std::vector<Vec2> pins(loop.pin_count());
        if (!place_open_pins(loop, 0.4 * share(random), pins).placed) continue;
        ++placed;
        EXPECT_LT(worst_pitch_error(loop, pins), 1e-9);
    }
    EXPECT_GT(placed, 700);
}

}  // namespace
}  // namespace pivrak
