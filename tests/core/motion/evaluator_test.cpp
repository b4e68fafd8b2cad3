#include "core/motion/evaluator.h"

#include <gtest/gtest.h>

#include <random>

#include "core/motion/bake.h"
#include "tests/support/allocations.h"
#include "tests/support/cart.h"
#include "tests/support/documents.h"

namespace pivrak {
namespace {

using test::add_part;
using test::couple;
using test::make_hinge;

constexpr auto linear = Interpolation::Linear;

/// An arm of two hinges, 1 m and 0.5 m, both about z.
struct Arm {
    Document d = empty_document();
    PartId upper, fore, tip;
    Arm() {
        upper = add_part(d, "upper");
        fore = add_part(d, "fore", upper, {Quat(1, 0, 0, 0), Vec3(1, 0, 0)});
        tip = add_part(d, "tip", fore, {Quat(1, 0, 0, 0), Vec3(0.5, 0, 0)});
        make_hinge(d, upper);
        make_hinge(d, fore);
    }
};

Vec3 place(const Document& d, PartId part, double frame) {
    const auto evaluator = Evaluator::compile(d);
    EXPECT_TRUE(evaluator.ok()) << evaluator.error().message;
    Pose pose = evaluator->make_pose();
    evaluator->evaluate(frame, pose);
    return pose.world_from_part[*evaluator->part_slot(part)].translation;
}

TEST(Evaluator, TwoHingesGiveThePlaneArmOfTheTextbook) {
    // Closed form: x = a cos p + b cos(p + q), y = a sin p + b sin(p + q).
    for (const auto& [p, q] :
         {std::pair(0.0, 0.0), std::pair(0.3, 1.1), std::pair(-2.0, 2.5), std::pair(7.0, -9.0)}) {
        Arm arm;
        make_hinge(arm.d, arm.upper, 2, p);
        make_hinge(arm.d, arm.fore, 2, q);
        const Vec3 expected(std::cos(p) + 0.5 * std::cos(p + q), std::sin(p) + 0.5 * std::sin(p + q), 0);
        EXPECT_LT((place(arm.d, arm.tip, 0) - expected).norm(), 1e-14);
    }
}

TEST(Evaluator, KeysTakePrecedenceAndLimitsHold) {
    Arm arm;
    make_hinge(arm.d, arm.upper, 2, 1.0);
    test::key(arm.d, arm.upper, {{0, 0, linear}, {10, 2, linear}});
    Part part = *arm.d.parts.find(arm.upper);
    part.joint.turn.limits = Limits{-0.5, 1.5};
    arm.d.parts.set(part);
    const auto evaluator = Evaluator::compile(arm.d);
    ASSERT_TRUE(evaluator.ok());
    Pose pose = evaluator->make_pose();
    const std::size_t slot = *evaluator->channel_slot({arm.upper, ChannelKind::Turn});
    for (const auto& [frame, turn] :
         {std::pair(0.0, 0.0), std::pair(5.0, 1.0), std::pair(10.0, 1.5), std::pair(-4.0, 0.0)}) {
        evaluator->evaluate(frame, pose);
        EXPECT_DOUBLE_EQ(pose.channels[slot], turn);
    }
}

TEST(Evaluator, CouplingsRunInTheOrderTheyNeedWhateverTheirIds) {
    // A train of twelve gears of alternating size, coupled last pair first.
    Document d = empty_document();
    std::vector<PartId> gears;
    for (int i = 0; i < 12; ++i) {
        gears.push_back(add_part(d, "gear " + std::to_string(i)));
        make_hinge(d, gears.back());
    }
    for (std::size_t i = 11; i >= 1; --i)
        couple(d, gears[i - 1], gears[i], i % 2 ? 10 : 30, i % 2 ? 30 : 10, 0.01);
    test::key(d, gears.front(), {{0, 0, linear}, {10, 9, linear}});
    const auto evaluator = Evaluator::compile(d);
    ASSERT_TRUE(evaluator.ok());
    Pose pose = evaluator->make_pose();
    evaluator->evaluate(10, pose);
    double turn = 9;
    for (std::size_t i = 1; i < 12; ++i) {
        turn = -(i % 2 ? 1.0 / 3 : 3.0) * turn + 0.01;
        EXPECT_NEAR(pose.channels[*evaluator->channel_slot({gears[i], ChannelKind::Turn})], turn, 1e-12);
    }
}

TEST(Evaluator, AHeldChannelDrivesWhatItDrives) {
    Document d = empty_document();
    const PartId a = add_part(d, "a"), b = add_part(d, "b");
    make_hinge(d, a);
    make_hinge(d, b);
    couple(d, a, b, 20, 10);
    test::key(d, a, {{0, 0, linear}, {10, 1, linear}});
    const auto evaluator = Evaluator::compile(d);
    Pose pose = evaluator->make_pose();
    evaluator->evaluate(10, pose, HeldChannel{*evaluator->channel_slot({a, ChannelKind::Turn}), 5});
    EXPECT_EQ(pose.channels[*evaluator->channel_slot({b, ChannelKind::Turn})], -10);
}

TEST(Evaluator, ThreeGearsThatMeshWithEachOtherStandStill) {
    Document d = empty_document();
    std::vector<PartId> gears;
    for (const char* name : {"first", "second", "third", "outside"}) {
        gears.push_back(add_part(d, name));
        make_hinge(d, gears.back());
    }
    couple(d, gears[0], gears[1], 10, 10);
    couple(d, gears[1], gears[2], 10, 10);
    couple(d, gears[2], gears[0], 10, 10);
    couple(d, gears[2], gears[3], 10, 10);
    test::key(d, gears[0], {{0, 0, Interpolation::Linear}, {10, 3, Interpolation::Linear}});
    const auto evaluator = Evaluator::compile(d);
    ASSERT_TRUE(evaluator.ok());
    Pose pose = evaluator->make_pose();
    evaluator->evaluate(10, pose);
    for (const PartId gear : gears)
        EXPECT_EQ(pose.channels[*evaluator->channel_slot({gear, ChannelKind::Turn})], 0);
    // Four in a ring turn: each second one the same way.
    Document four = d;
    four.couplings.erase((four.couplings.begin())->id);
    const auto open = Evaluator::compile(four);
    ASSERT_TRUE(open.ok());
    Pose moved = open->make_pose();
    open->evaluate(10, moved);
    EXPECT_NEAR(moved.channels[*open->channel_slot({gears[1], ChannelKind::Turn})], 3, 1e-12);
}

TEST(Evaluator, GearsOfOneTrainHaveOneDriverAndOthersAreRefused) {
    Document d = empty_document();
    const PartId a = add_part(d, "a"), b = add_part(d, "b"), c = add_part(d, "c");
    for (const PartId part : {a, b, c}) make_hinge(d, part);
    couple(d, a, c, 10, 10);
    // Two gears on one: a train of three that has one driver.
    Document three = d;
    couple(three, b, c, 10, 10);
    test::key(three, a, {{0, 2, Interpolation::Linear}});
    const auto compiled = Evaluator::compile(three);
    ASSERT_TRUE(compiled.ok());
    Pose pose = compiled->make_pose();
    compiled->evaluate(0, pose);
    EXPECT_NEAR(pose.channels[*compiled->channel_slot({b, ChannelKind::Turn})], 2, 1e-12);
    Document twice = d;
    twice.couplings.set({twice.new_id<CouplingId>(), Roll{{c, ChannelKind::Turn}, {}, 0.1}});
    twice.couplings.set({twice.new_id<CouplingId>(), Roll{{c, ChannelKind::Turn}, {}, 0.1}});
    EXPECT_EQ(Evaluator::compile(twice).error().code, "rig.driven_twice");
    Document missing = d;
    missing.parts.erase(a);
    EXPECT_EQ(Evaluator::compile(missing).error().code, "rig.missing_part");
    Document orphan = d;
    Part part = *orphan.parts.find(b);
    part.parent = PartId{999};
    orphan.parts.set(part);
    EXPECT_EQ(Evaluator::compile(orphan).error().code, "rig.missing_part");
    Document circle = d;
    for (const auto& [child, parent] : {std::pair(b, c), std::pair(c, b)}) {
        Part p = *circle.parts.find(child);
        p.parent = parent;
        circle.parts.set(p);
    }
    EXPECT_EQ(Evaluator::compile(circle).error().code, "tree.loop");
}

TEST(Evaluator, KeysOfAPartThatIsNoHingeAnyMoreWait) {
    Arm arm;
    test::key(arm.d, arm.upper, {{0, 0, linear}, {10, 2, linear}});
    Part part = *arm.d.parts.find(arm.upper);
    part.joint.kind = JointKind::Fixed;
    arm.d.parts.set(part);
    EXPECT_LT((place(arm.d, arm.tip, 10) - Vec3(1.5, 0, 0)).norm(), 1e-14);
}

TEST(Evaluator, TheSameFrameGivesTheSamePoseInAnyOrder) {
    Arm arm;
    test::key(arm.d, arm.upper,
              {{0, 0, Interpolation::Smooth}, {30, 2, Interpolation::Smooth}, {60, -1, linear}});
    const auto evaluator = Evaluator::compile(arm.d);
    Pose pose = evaluator->make_pose();
    std::vector<double> forwards;
    for (int f = 0; f <= 60; ++f) {
        evaluator->evaluate(f, pose);
        forwards.push_back(pose.world_from_part.back().translation.x());
    }
    std::mt19937 random(2);
    for (int i = 0; i < 300; ++i) {
        const auto f = random() % 61;
        evaluator->evaluate(static_cast<double>(f), pose);
        EXPECT_EQ(pose.world_from_part.back().translation.x(), forwards[f]);
    }
}

TEST(Evaluator, EvaluatingAllocatesNothing) {
    Arm arm;
    test::key(arm.d, arm.upper, {{0, 0, linear}, {10, 2, linear}});
    test::Cart cart;
    cart.key(ChannelKind::ShiftX, {{0, 0, linear}, {96, 5, linear}});
    for (const Document& d : {arm.d, cart.document}) {
        const auto evaluator = Evaluator::compile(d);
        ASSERT_TRUE(evaluator.ok());
        Pose pose = evaluator->make_pose();
        // What depends on the past is kept as far as the clip was looked at.
        for (int f = 0; f <= 96; ++f) evaluator->evaluate(f, pose);
        const std::size_t before = test::allocations();
        for (int f = 96; f >= 0; --f) evaluator->evaluate(f + 0.5, pose);
        EXPECT_EQ(test::allocations(), before);
    }
    const std::size_t before = test::allocations();
    const std::vector<double> one(3);
    EXPECT_EQ(test::allocations(), before + 1) << "and they are counted";
}

TEST(Bake, FramesOfAClipIncludeItsEnd) {
    Clip clip;
    clip.first_frame = 3;
    clip.last_frame = 5.5;
    EXPECT_EQ(clip_frames(clip), (std::vector<double>{3, 4, 5, 5.5}));
    clip.last_frame = 6;
    EXPECT_EQ(clip_frames(clip), (std::vector<double>{3, 4, 5, 6}));
}

TEST(Bake, TableHasOneLineForEachPartAndFrameWithExactNumbers) {
    Arm arm;
    Clip clip = clip_or_first(arm.d);
    clip.last_frame = 2;
    arm.d.clips.set(clip);
    Part part = *arm.d.parts.find(arm.tip);
    part.name = "tip, \"left\"";
    part.parent_from_rest.translation = Vec3(1.0 / 3, 0, 0);
    arm.d.parts.set(part);
    const auto bake = bake_clip(arm.d, {});
    ASSERT_TRUE(bake.ok());
    const std::string csv = bake_csv(arm.d, *bake);
    EXPECT_EQ(std::count(csv.begin(), csv.end(), '\n'), 1 + 3 * 3);
    EXPECT_NE(csv.find("\"upper/fore/tip, \"\"left\"\"\""), std::string::npos);
    EXPECT_NE(csv.find("1.3333333333333333"), std::string::npos);
}

TEST(Bake, CanBeCancelled) {
    Arm arm;
    const auto bake =
        bake_clip(arm.d, {}, Progress([](double fraction, std::string_view) { return fraction < 0.5; }));
    ASSERT_FALSE(bake.ok());
    EXPECT_EQ(bake.error().code, "bake.cancelled");
}

}  // namespace
}  // namespace pivrak
