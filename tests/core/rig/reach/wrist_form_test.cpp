// Arms with a wrist in closed form, judged by putting each pose back through the joints.
#include <gtest/gtest.h>

#include <random>

#include "core/rig/reach/reach_solver.h"

namespace pivrak {
namespace {

struct Offsets {
    Vec3 shoulder, elbow, wrist, meets, tip;
    double apart = 0;  ///< of the last axis, beside where the two before it meet
};

/// Turntable about z, shoulder and elbow about y, a wrist about x, y, x.
ReachModel wristed_arm(const Offsets& o, double sign = 1) {
    ReachModel model;
    MotionBody body;
    const int axes[] = {2, 1, 1, 0, 1, 0};
    const Vec3 offsets[] = {{0, 0, 0}, o.shoulder, o.elbow, o.wrist, o.meets, Vec3(0.07, o.apart, 0)};
    for (std::uint32_t j = 0; j < 6; ++j) {
        body.frame.translation = body.frame.point(offsets[j]);
        // An elbow that counts the other way round.
        if (j == 2 && sign < 0) body.frame.rotation = body.frame.rotation * turn_about_axis(0, pi);
        body = model.tree.add_joint(body, JointKind::Hinge, axes[j], j);
        model.limits.push_back({-2 * pi, 2 * pi});
        model.held.push_back(false);
    }
    body.frame = {turn_about_axis(1, 0.3) * turn_about_axis(2, -0.8), o.tip};
    model.tip = body;
    model.asks_turn = true;
    model.size_m = 1;
    model.elbow = 2;
    return model;
}

Offsets random_offsets(std::mt19937& random) {
    std::uniform_real_distribution<double> by(-0.1, 0.1), length(0.3, 0.7);
    return {{by(random), by(random), length(random)},
            {by(random), by(random), length(random)},
            {by(random), by(random), by(random)},
            {length(random), 0, 0},
            {by(random), by(random), by(random)}};
}

TEST(WristForm, EveryWayLeadsToTheGoalAndTheDrawnOneIsAmongThem) {
    std::mt19937 random(3);
    std::uniform_real_distribution<double> turn(-3, 3);
    std::size_t with_all_eight = 0;
    for (int look = 0; look < 400; ++look) {
        const ReachModel model = wristed_arm(random_offsets(random), look % 2 ? 1 : -1);
        const auto form = WristForm::of(model);
        ASSERT_TRUE(form) << look;
        const ReachSolver solver(model);
        ReachRoom room = solver.make_room();
        std::array<double, 6> truth{}, now{};
        for (std::size_t c = 0; c < 6; ++c) truth[c] = turn(random), now[c] = turn(random);
        const ReachGoal goal{solver.tip(truth, room), {}};
        model.tree.place(now, room.frames);
        std::vector<WristForm::Turns> ways;
        form->all(goal, room.frames, model.tip, ways);
        ASSERT_LE(ways.size(), 8u);
        with_all_eight += ways.size() == 8;
        bool is_drawn = false;
        for (std::size_t w = 0; w < ways.size(); ++w) {
            std::array<double, 6> at{};
            double off = 0;
            for (std::size_t c = 0; c < 6; ++c) {
                at[c] = now[c] + ways[w][c];
                off = std::max(off, std::abs(std::remainder(at[c] - truth[c], 2 * pi)));
            }
            is_drawn |= off < 1e-6;
            EXPECT_LT(solver.miss(at, goal, room).place_m, 1e-8) << look;
            EXPECT_LT(solver.miss(at, goal, room).turn_rad, 1e-7) << look;
            for (std::size_t other = 0; other < w; ++other) {
                double apart = 0;
                for (std::size_t c = 0; c < 6; ++c)
                    apart = std::max(apart, std::abs(std::remainder(ways[w][c] - ways[other][c], 2 * pi)));
                EXPECT_GT(apart, 1e-9) << "one way counted twice";
            }
        }
        EXPECT_TRUE(is_drawn) << look;
    }
    EXPECT_GT(with_all_eight, 50u);
}

/// Along a way that joints went, the same joints come back, without a turn too many.
TEST(WristForm, StaysBentAsItIs) {
    std::mt19937 random(8);
    std::uniform_real_distribution<double> turn(-2.5, 2.5), little(-0.02, 0.02);
    int stayed = 0;
    for (int look = 0; look < 300; ++look) {
        const ReachModel model = wristed_arm(random_offsets(random));
        const auto form = WristForm::of(model);
        ASSERT_TRUE(form);
        const ReachSolver solver(model);
        ReachRoom room = solver.make_room();
        std::array<double, 6> now{}, next{};
        for (std::size_t c = 0; c < 6; ++c) {
            now[c] = turn(random);
            next[c] = now[c] + little(random);
        }
        const ReachGoal goal{solver.tip(next, room), {}};
        model.tree.place(now, room.frames);
        const auto turns = form->stay(goal, room.frames, model.tip);
        if (!turns) continue;
        bool same = true;
        for (std::size_t c = 0; c < 6; ++c)
            same = same && std::abs(std::remainder((*turns)[c], 2 * pi) - (next[c] - now[c])) < 1e-7;
        stayed += same;
    }
    // Some of them pass a straight arm or wrist on their way.
    EXPECT_GT(stayed, 280);
}

TEST(WristForm, OtherRowsAreSolvedInSteps) {
    Offsets offsets{{0.1, 0, 0.3}, {0, 0, 0.5}, {0.1, 0, 0.05}, {0.4, 0, 0}, {0.1, 0, 0}};
    EXPECT_TRUE(WristForm::of(wristed_arm(offsets)));
    offsets.apart = 0.01;
    EXPECT_FALSE(WristForm::of(wristed_arm(offsets))) << "its last three axes do not meet";
    offsets.apart = 0;
    ReachModel held = wristed_arm(offsets);
    held.held[3] = true;
    EXPECT_FALSE(WristForm::of(held));
    ReachModel place = wristed_arm(offsets);
    place.asks_turn = false;
    EXPECT_FALSE(WristForm::of(place));
}

/// Limits hold, and of the ways inside them the one next to the preferred pose is taken, as looked through by
/// beginning everywhere.
TEST(WristForm, OfAllWaysWithinLimitsTheNearestIsTaken) {
    std::mt19937 random(21);
    std::uniform_real_distribution<double> share(0, 1);
    for (int look = 0; look < 60; ++look) {
        ReachModel model = wristed_arm(random_offsets(random));
        const double most[] = {2.9, 2.2, 2.6, 3, 2.1, 3};
        for (std::size_t c = 0; c < 6; ++c) model.limits[c] = {-most[c], most[c]};
        const ReachSolver solver(model);
        ReachRoom room = solver.make_room();
        std::vector<double> truth(6), rest{0.1, 0.3, -0.4, 0.1, 0.5, 0.1}, values = rest;
        for (std::size_t c = 0; c < 6; ++c) truth[c] = (2 * share(random) - 1) * most[c];
        const ReachGoal goal{solver.tip(truth, room), {}};
        solver.search(values, rest, goal, room);
        EXPECT_LT(solver.miss(values, goal, room).place_m, 1e-8) << look;
        const auto far = [&](const std::vector<double>& at) {
            double sum = 0;
            for (std::size_t c = 0; c < 6; ++c) sum += (at[c] - rest[c]) * (at[c] - rest[c]);
            return sum;
        };
        for (std::size_t c = 0; c < 6; ++c) {
            EXPECT_GE(values[c], model.limits[c].min);
            EXPECT_LE(values[c], model.limits[c].max);
        }
        EXPECT_LE(far(values), far(truth) + 1e-6) << look;
        for (int begin = 0; begin < 40; ++begin) {
            std::vector<double> other(6);
            for (std::size_t c = 0; c < 6; ++c) other[c] = (2 * share(random) - 1) * most[c];
            solver.solve(other, rest, goal, room);
            if (solver.miss(other, goal, room).place_m > 1e-8 ||
                solver.miss(other, goal, room).turn_rad > 1e-8)
                continue;
            EXPECT_LE(far(values), far(other) + 1e-6) << look;
        }
    }
}

}  // namespace
}  // namespace pivrak
