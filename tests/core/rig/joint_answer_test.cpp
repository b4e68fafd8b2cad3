// What a joint answers, against a search through all that it could: no other value within its limits comes
// nearer to what is asked.
#include "core/rig/joint_answer.h"

#include <gtest/gtest.h>

#include <algorithm>
#include <functional>
#include <random>

#include "core/rig/joint_motion.h"

namespace pivrak {
namespace {

constexpr double no_end = std::numeric_limits<double>::infinity();

class Chance {
public:
    explicit Chance(unsigned seed) : random_(seed) {}
    double in(double low, double high) { return std::uniform_real_distribution(low, high)(random_); }
    Vec3 place() { return {in(-1, 1), in(-1, 1), in(-1, 1)}; }
    Vec3 direction() { return place().normalized(); }
    Quat rotation() { return Quat(Eigen::Quaterniond::UnitRandom()); }
    bool coin() { return in(0, 1) < 0.5; }

private:
    std::mt19937 random_;
};

JointAnswer made(Chance& chance, JointKind kind, bool limited) {
    JointAnswer joint{kind, static_cast<int>(chance.in(0, 2.999)), {}, {}, {}, {}};
    joint.base = {Quat(Eigen::AngleAxisd(chance.in(-3, 3), chance.direction())), chance.place()};
    for (std::size_t k = 0; k < joint.size(); ++k) {
        const bool turns = is_turn(channels_of(kind)[k]);
        const double middle = chance.in(-0.5, 0.5), half = turns ? chance.in(0.1, 1.2) : chance.in(0.05, 0.5);
        joint.limits[k] = limited ? Limits{middle - half, middle + half} : Limits{-no_end, no_end};
        joint.asked[k] = joint.value[k] = joint.limits[k].clamp(chance.in(-0.6, 0.6));
    }
    return joint;
}

using Cost = std::function<double(const Frame&)>;

/// The least cost that a search by ever finer random steps comes to, from the whole range on.
double searched(const JointAnswer& joint, const Cost& cost, Chance& chance) {
    double least = 1e300;
    for (int start = 0; start < 4; ++start) {
        JointAnswer best = joint;
        double best_cost = cost(best.world()), reach = 4;
        for (int i = 0; i < 1000; ++i) {
            JointAnswer tried = best;
            for (std::size_t k = 0; k < joint.size(); ++k)
                tried.value[k] = joint.limits[k].clamp(tried.value[k] + chance.in(-reach, reach));
            if (const double its = cost(tried.world()); its < best_cost) {
                best = tried;
                best_cost = its;
            }
            reach = std::max(1e-6, reach * 0.985);
        }
        least = std::min(least, best_cost);
    }
    return least;
}

void expect_within_limits(const JointAnswer& joint) {
    for (std::size_t k = 0; k < joint.size(); ++k) {
        EXPECT_GE(joint.value[k], joint.limits[k].min);
        EXPECT_LE(joint.value[k], joint.limits[k].max);
    }
}

const JointKind one_axis[] = {JointKind::Hinge, JointKind::Slide, JointKind::Cylinder};

TEST(JointAnswer, NoOtherValueOfAHingeOrSlideComesNearerToAPlace) {
    Chance chance(7);
    for (int i = 0; i < 120; ++i) {
        JointAnswer joint = made(chance, one_axis[i % 3], i % 2 == 0);
        const Vec3 own = chance.place(), goal = chance.place();
        Axes axes;
        if (i % 5 == 4)
            axes = {Quat(Eigen::AngleAxisd(chance.in(-3, 3), chance.direction())),
                    {true, chance.coin(), chance.coin()}};
        const Cost cost = [&](const Frame& f) { return axes.along(goal - f.point(own)).norm(); };
        const double least = searched(joint, cost, chance);
        joint.reach_place(own, goal, axes);
        expect_within_limits(joint);
        EXPECT_LE(cost(joint.world()), least + 1e-7) << i;
    }
}

TEST(JointAnswer, NoOtherValueComesNearerToADirection) {
    Chance chance(11);
    for (int i = 0; i < 120; ++i) {
        const JointKind kinds[] = {JointKind::Hinge, JointKind::Cylinder, JointKind::Ball};
        JointAnswer joint = made(chance, kinds[i % 3], i % 2 == 0);
        const Vec3 own = chance.direction(), goal = chance.direction();
        const Cost cost = [&](const Frame& f) { return (f.direction(own) - goal).norm(); };
        const double least = searched(joint, cost, chance);
        joint.reach_direction(own, goal);
        expect_within_limits(joint);
        EXPECT_LE(cost(joint.world()), least + 1e-6) << i;
    }
}

TEST(JointAnswer, NoOtherValueComesNearerToATurn) {
    Chance chance(13);
    for (int i = 0; i < 90; ++i) {
        const JointKind kinds[] = {JointKind::Hinge, JointKind::Cylinder, JointKind::Free};
        JointAnswer joint = made(chance, kinds[i % 3], i % 2 == 0);
        const Quat goal(Eigen::AngleAxisd(chance.in(-3, 3), chance.direction()));
        const Cost cost = [&](const Frame& f) { return angle_between(goal, f.rotation); };
        const double least = searched(joint, cost, chance);
        joint.reach_turn(goal);
        expect_within_limits(joint);
        EXPECT_LE(cost(joint.world()), least + 1e-6) << i;
    }
}

TEST(JointAnswer, ABallOrFreePartInsideItsLimitsGetsThere) {
    Chance chance(17);
    for (int i = 0; i < 60; ++i) {
        JointAnswer free = made(chance, JointKind::Free, false);
        const Vec3 own = chance.place(), goal = chance.place();
        const Quat before = free.world().rotation;
        free.reach_place(own, goal);
        EXPECT_LT((free.world().point(own) - goal).norm(), 1e-12);
        EXPECT_LT(angle_between(before, free.world().rotation), 1e-12) << "a place asks for no turn";
        JointAnswer ball = made(chance, JointKind::Ball, false);
        // A place on the sphere that its own goes over.
        const Vec3 on_sphere = ball.base.translation + own.norm() * chance.direction();
        ball.reach_place(own, on_sphere);
        EXPECT_LT((ball.world().point(own) - on_sphere).norm(), 1e-12);
    }
}

TEST(JointAnswer, LimitedBallsComeAsNearAsASearchDoes) {
    Chance chance(19);
    for (int i = 0; i < 40; ++i) {
        JointAnswer joint = made(chance, JointKind::Ball, true);
        const Vec3 own = chance.place(), goal = joint.base.translation + own.norm() * chance.direction();
        const Cost cost = [&](const Frame& f) { return (goal - f.point(own)).norm(); };
        const double least = searched(joint, cost, chance);
        joint.reach_place(own, goal);
        expect_within_limits(joint);
        EXPECT_LE(cost(joint.world()), least + 1e-5) << i;
    }
}

TEST(JointAnswer, ATurnIsCountedOnFromWhatIsAsked) {
    JointAnswer joint{JointKind::Hinge, 2, {}, {}, {}, {}};
    joint.limits[0] = {-no_end, no_end};
    joint.asked[0] = joint.value[0] = 20 * pi + 0.3;
    joint.reach_direction(Vec3::UnitX(), Vec3(std::cos(1.0), std::sin(1.0), 0));
    EXPECT_NEAR(joint.value[0], 20 * pi + 1.0, 1e-12);
    joint.limits[0] = {-0.5, 0.5};
    joint.value[0] = joint.asked[0] = 0;
    joint.reach_direction(Vec3::UnitX(), Vec3(std::cos(1.0), std::sin(1.0), 0));
    EXPECT_DOUBLE_EQ(joint.value[0], 0.5) << "the end of its limits that comes nearest";
}

TEST(JointAnswer, ALockedChannelStandsStill) {
    JointAnswer joint{JointKind::Free, 0, {}, {}, {}, {}};
    for (std::size_t k = 0; k < 6; ++k) joint.limits[k] = {-no_end, no_end};
    joint.limits[1] = {0.25, 0.25};
    joint.value[1] = joint.asked[1] = 0.25;
    joint.reach_place({0, 0, 0}, {1, 2, 3});
    EXPECT_EQ(joint.world().translation, Vec3(1, 0.25, 3));
}

TEST(JointAnswer, HalfABlendIsHalfTheTurn) {
    Chance chance(23);
    for (int i = 0; i < 30; ++i) {
        JointAnswer joint = made(chance, JointKind::Ball, false);
        const JointAnswer before = joint;
        const Quat goal(Eigen::AngleAxisd(chance.in(0.1, 3), chance.direction()));
        joint.reach_turn(goal * before.world().rotation);
        joint.mix(before, 0.5);
        const Quat halves = joint.world().rotation * before.world().rotation.conjugate();
        EXPECT_LT(angle_between(halves * halves, goal), 1e-9);
    }
}

TEST(JointAnswer, TheSecondAxisTurnsAboutTheFirst) {
    Chance chance(29);
    for (int i = 0; i < 30; ++i) {
        JointAnswer joint = made(chance, JointKind::Free, false);
        const Vec3 goal = chance.direction(), up = chance.direction();
        joint.reach_direction(Vec3::UnitX(), goal);
        joint.reach_second(Vec3::UnitX(), Vec3::UnitZ(), up);
        EXPECT_LT((joint.world().axis(0) - goal).norm(), 1e-9);
        // Of all turns about the first axis none brings the second nearer: it lies in the plane of both.
        const Vec3 side = goal.cross(up).normalized();
        EXPECT_NEAR(joint.world().axis(2).dot(side), 0, 1e-9);
        EXPECT_GT(joint.world().axis(2).dot(up), 0);
    }
}

}  // namespace
}  // namespace pivrak
