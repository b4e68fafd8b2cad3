#include "core/rig/joint_motion.h"

#include <gtest/gtest.h>

#include <array>
#include <random>

#include "core/motion/evaluator.h"
#include "tests/support/documents.h"

namespace pivrak {
namespace {

TEST(JointChannels, EachKindHasItsOwn) {
    const std::array<std::pair<JointKind, std::size_t>, 6> counts{{{JointKind::Fixed, 0},
                                                                   {JointKind::Hinge, 1},
                                                                   {JointKind::Slide, 1},
                                                                   {JointKind::Cylinder, 2},
                                                                   {JointKind::Ball, 3},
                                                                   {JointKind::Free, 6}}};
    for (const auto& [kind, count] : counts) {
        EXPECT_EQ(channels_of(kind).size(), count);
        Joint joint{kind, 0, {}, {}, {}};
        for (const ChannelKind channel : channels_of(kind)) EXPECT_TRUE(joint.has(channel));
    }
    EXPECT_TRUE(is_turn(ChannelKind::Turn));
    EXPECT_TRUE(is_turn(ChannelKind::TurnY));
    EXPECT_FALSE(is_turn(ChannelKind::Shift));
    EXPECT_FALSE(is_turn(ChannelKind::ShiftZ));
}

TEST(JointChannels, ValuesAreKeptAndThoseAsMadeTakeNoRoom) {
    Joint joint;
    joint.set_channel(ChannelKind::ShiftY, {0.3, Limits{0, 1}});
    EXPECT_EQ(joint.channel(ChannelKind::ShiftY).value, 0.3);
    EXPECT_EQ(joint.channel(ChannelKind::TurnZ), Channel{});
    joint.set_channel(ChannelKind::ShiftY, {});
    EXPECT_TRUE(joint == Joint{});
}

TEST(JointMotion, SlidesHingesAndCylinders) {
    const double both[] = {0.4, 0.25};
    const Frame slide = rest_from_part(JointKind::Slide, 1, both);
    EXPECT_LT((slide.translation - Vec3(0, 0.4, 0)).norm(), 1e-15);
    const Frame cylinder = rest_from_part(JointKind::Cylinder, 2, both);
    EXPECT_LT((cylinder.translation - Vec3(0, 0, 0.25)).norm(), 1e-15);
    EXPECT_LT((cylinder.rotation * Vec3::UnitX() - Vec3(std::cos(0.4), std::sin(0.4), 0)).norm(), 1e-15);
}

/// Turns about z, then the turned y, then the turned x: the matrix product in that order.
TEST(JointMotion, ThreeTurnsAreIntrinsic) {
    const double turns[] = {0.3, -0.5, 1.1};
    const Mat3 wanted = (Eigen::AngleAxisd(1.1, Vec3::UnitZ()) * Eigen::AngleAxisd(-0.5, Vec3::UnitY()) *
                         Eigen::AngleAxisd(0.3, Vec3::UnitX()))
                            .toRotationMatrix();
    EXPECT_LT((rest_from_part(JointKind::Ball, 0, turns).rotation.toRotationMatrix() - wanted).norm(), 1e-14);
}

TEST(JointMotion, TurnsComeBackFromRotations) {
    std::mt19937 random(11);
    std::uniform_real_distribution<double> angle(-3, 3), quarter(-1.5, 1.5);
    for (int i = 0; i < 2000; ++i) {
        const double turns[] = {angle(random), quarter(random), angle(random)};
        const Quat q = rest_from_part(JointKind::Ball, 0, turns).rotation;
        const Vec3 back = turns_from_rotation(q, Vec3(turns[0], turns[1], turns[2]));
        EXPECT_LT((back - Vec3(turns[0], turns[1], turns[2])).norm(), 1e-9);
    }
}

/// A steady roll through many full turns, past the quarter turn of y where two axes fall together.
TEST(JointMotion, TurnsGoOnWithoutAJump) {
    Vec3 last(0, 0, 0);
    for (int i = 1; i <= 4000; ++i) {
        const double t = 0.01 * i;
        const Quat q(Eigen::AngleAxisd(t, Vec3(0.2, 1, 0.1).normalized()));
        const Vec3 now = turns_from_rotation(q, last);
        const double values[] = {now.x(), now.y(), now.z()};
        EXPECT_LT(angle_between(rest_from_part(JointKind::Ball, 0, values).rotation, q), 1e-7);
        EXPECT_LT(std::abs(now.y() - last.y()), 0.05);
        last = now;
    }
    const Vec3 upright = turns_from_rotation(turn_about_axis(1, pi / 2), Vec3(0.7, 0, 0));
    EXPECT_NEAR(upright.x(), 0.7, 1e-12) << "where y stands at a quarter turn, x keeps its value";
    EXPECT_NEAR(upright.y(), pi / 2, 1e-6);
}

TEST(JointMotion, TheEvaluatorMovesEveryKind) {
    Document d = empty_document();
    const PartId a = test::add_part(d, "a", {}, test::world_poses()[1]);
    for (const JointKind kind : {JointKind::Slide, JointKind::Cylinder, JointKind::Ball, JointKind::Free}) {
        Part part = *d.parts.find(a);
        part.joint = {};
        part.joint.kind = kind;
        part.joint.axis = 1;
        std::vector<double> values;
        for (const ChannelKind channel : channels_of(kind)) {
            values.push_back(0.1 + 0.2 * static_cast<double>(values.size()));
            part.joint.set_channel(channel, {values.back(), std::nullopt});
        }
        d.parts.set(part);
        const auto evaluator = Evaluator::compile(d);
        ASSERT_TRUE(evaluator.ok());
        Pose pose = evaluator->make_pose();
        evaluator->evaluate(0, pose);
        const Frame wanted = test::world_poses()[1] * rest_from_part(kind, 1, values.data());
        EXPECT_LT((pose.world_from_part[0].translation - wanted.translation).norm(), 1e-12);
        EXPECT_LT(angle_between(pose.world_from_part[0].rotation, wanted.rotation), 1e-12);
    }
}

TEST(JointOperations, ChannelsAreSetKeyedAndLimitedByName) {
    using test::run;
    Document d = empty_document();
    const PartId a = test::add_part(d, "lift");
    d = run(d, {{"op", "joint.set"}, {"parts", {"lift"}}, {"kind", "free"}});
    d = run(d, {{"op", "joint.set"},
                {"parts", {"lift"}},
                {"kind", "free"},
                {"channel", "shift_z"},
                {"min", "0 mm"},
                {"max", "900 mm"}});
    d = run(d, {{"op", "channel.set"}, {"parts", {"lift"}}, {"channel", "shift_z"}, {"value", "1.2 m"}});
    EXPECT_NEAR(d.parts.find(a)->joint.channel(ChannelKind::ShiftZ).value, 0.9, 1e-12)
        << "the limit stops it";
    d = run(
        d,
        {{"op", "key.set"}, {"parts", {"lift"}}, {"channel", "turn_x"}, {"frame", 10}, {"value", "90 deg"}});
    EXPECT_NEAR(clip_or_first(d).track({a, ChannelKind::TurnX})->keys[0].value, pi / 2, 1e-12);
    EXPECT_EQ(
        test::refusal(d, {{"op", "channel.set"}, {"parts", {"lift"}}, {"channel", "turn"}, {"value", 1}})
            .code,
        "channel.none");
    EXPECT_EQ(
        test::refusal(
            d, {{"op", "channel.set"}, {"parts", {"lift"}}, {"channel", "shift_x"}, {"value", "10 deg"}})
            .code,
        "quantity.syntax");
    d = run(d, {{"op", "key.remove"}, {"parts", {"lift"}}, {"channel", "turn_x"}});
    EXPECT_TRUE(clip_or_first(d).tracks.empty());
}

}  // namespace
}  // namespace pivrak
