// A wheel that leans over the outline of its tyre, rolls on its edge and falls over.
#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>

#include "core/checks/findings.h"
#include "core/checks/travel/slip_check.h"
#include "core/motion/evaluator.h"
#include "tests/support/cart.h"

namespace pivrak {
namespace {

using test::Cart;
constexpr double r = Cart::radius, w = Cart::half_width;

struct LeaningCart : Cart {
    PartId lean;
    LeaningCart() {
        document = test::run(document, {{"op", "coupling.lean"}, {"parts", {"wheel"}}});
        lean = test::named(document, "wheel lean");
    }
    void key_lean(std::vector<Key> keys) {
        Clip clip = clip_or_first(document);
        clip.track_or_new({lean, ChannelKind::TurnX}).keys = std::move(keys);
        document.clips.set(clip);
    }
};

Vec3 hub_at(const Evaluator& evaluator, Pose& pose, PartId wheel, double frame) {
    evaluator.evaluate(frame, pose);
    return pose.world_from_part[*evaluator.part_slot(wheel)].translation;
}

/// Falls over to its right side within 90 frames, a degree each.
LeaningCart falling() {
    LeaningCart c;
    c.key_lean({{0, 0, Interpolation::Linear}, {90, pi / 2, Interpolation::Linear}});
    return c;
}

TEST(Lean, TouchesWithTheEdgeOfItsWidthAndNotTheMiddle) {
    const LeaningCart c = falling();
    const auto evaluator = Evaluator::compile(c.document);
    ASSERT_TRUE(evaluator.ok()) << evaluator.error().message;
    Pose pose = evaluator->make_pose();
    for (double f = 0; f <= 90; f += 5) {
        const double lean = f * rad_per_deg;
        const Vec3 hub = hub_at(*evaluator, pose, c.wheel, f);
        // By hand: turned about its lower edge, which stays in its place at y = -w.
        EXPECT_NEAR(hub.z(), r * std::cos(lean) + w * std::sin(lean), 1e-6) << f;
        EXPECT_NEAR(hub.y(), f == 0 ? 0 : -w + w * std::cos(lean) - r * std::sin(lean), 1e-6) << f;
        ASSERT_EQ(pose.wheels.size(), 1u);
        EXPECT_NEAR(pose.wheels[0].place.z(), 0, 1e-9);
        // No vertex below the floor, and one on it.
        const Part& wheel = *c.document.parts.find(c.wheel);
        const Bounds bounds =
            mesh_bounds(*c.document.shapes.find(wheel.shape)->mesh,
                        pose.world_from_part[*evaluator->part_slot(c.wheel)] * wheel.part_from_shape);
        EXPECT_NEAR(bounds.min.z(), 0, 4e-4) << "a polygon of 96 corners";
    }
}

TEST(Lean, StandsWhereItStoodWhenUpright) {
    const Cart before;
    const LeaningCart c;
    for (const Document* d : {&before.document, &c.document}) {
        const auto evaluator = Evaluator::compile(*d);
        Pose pose = evaluator->make_pose();
        EXPECT_LT((hub_at(*evaluator, pose, c.wheel, 0) - Vec3(0, 0, r)).norm(), 1e-6);
    }
}

// Source: rolling without slip: on a circle of radius c the edge of radius r meets 2 pi c of ground, whatever
// the lean.
TEST(Lean, OnACircleTheEdgeRollsTheCirclesLength) {
    LeaningCart c;
    constexpr double circle = 3;
    // The cart turns about the origin, with the wheel out on its right.
    Part lean = *c.document.parts.find(c.lean);
    lean.parent_from_rest.translation = {0, -circle, 0};
    lean.joint.set_channel(ChannelKind::TurnX, {30 * rad_per_deg, {}, false});
    c.document.parts.set(lean);
    c.key(ChannelKind::TurnZ, {{0, 0, Interpolation::Linear}, {96, 2 * pi, Interpolation::Linear}});
    const auto evaluator = Evaluator::compile(c.document);
    Pose pose = evaluator->make_pose();
    const auto turn = [&](double frame) {
        evaluator->evaluate(frame, pose);
        return pose.channels[*evaluator->channel_slot({c.wheel, ChannelKind::Turn})];
    };
    const double begin = turn(0), end = turn(96);
    EXPECT_NEAR(std::abs(end - begin), 2 * pi * (circle + w) / r, 2e-3);
    const auto slip = slip_check(c.document, {});
    ASSERT_TRUE(slip.ok());
    ASSERT_EQ(slip->wheels.size(), 1u);
    EXPECT_LT(slip->wheels[0].share(), 1e-3);
    EXPECT_LT(slip->wheels[0].sideways_m, 1e-3 * slip->wheels[0].travelled_m);
}

TEST(Lean, ARoundTreadWandersOverItsOutline) {
    // A ball of a wheel: its outline is a circle of 0.2 m about its middle, so leaning it rolls sideways.
    Document d = empty_document();
    const PartId cart = test::add_part(d, "cart");
    std::vector<ProfilePoint> outline;
    for (int i = 0; i <= 48; ++i) {
        const double a = pi * i / 48 - pi / 2;
        outline.push_back({200 * std::cos(a), 200 * std::sin(a)});
    }
    Solid ball = revolve(outline, 96);
    ball.lay_along(1);
    const PartId wheel =
        test::add_shaped(d, "wheel", test::to_mesh(ball), cart, {Quat(1, 0, 0, 0), Vec3(0, 0, 0.2)});
    Part part = *d.parts.find(wheel);
    part.joint.kind = JointKind::Hinge;
    part.joint.axis = 1;
    d.parts.set(part);
    d = test::run(d, {{"op", "coupling.lean"}, {"parts", {"wheel"}}});
    for (const double lean : {0.2, 0.6, 1.2}) {
        Document leant = test::run(
            d, {{"op", "channel.set"}, {"parts", {"wheel lean"}}, {"channel", "turn_x"}, {"value", lean}});
        const auto evaluator = Evaluator::compile(leant);
        Pose pose = evaluator->make_pose();
        const Vec3 hub = hub_at(*evaluator, pose, wheel, 0);
        EXPECT_NEAR(hub.z(), 0.2, 1e-3);
        // By hand: a ball that turns by an angle rolls on by the arc.
        EXPECT_NEAR(hub.y(), -0.2 * lean, 8e-3) << lean << ": its outline is a polygon of 48";
    }
}

TEST(Lean, OnAGroundItTouchesThatAndWithoutOneItStaysAndAFindingSaysSo) {
    Cart cart;
    test::add_shaped(cart.document, "slab", test::box({-4, -4, -1}, {4, 4, 0.25}));
    Document d =
        test::run(cart.document, {{"op", "coupling.lean"}, {"parts", {"wheel"}}, {"ground", "slab"}});
    const auto leant = [&](double lean, double x) {
        Document out = test::run(
            d, {{"op", "channel.set"}, {"parts", {"wheel lean"}}, {"channel", "turn_x"}, {"value", lean}});
        return test::run(out,
                         {{"op", "channel.set"}, {"parts", {"cart"}}, {"channel", "shift_x"}, {"value", x}});
    };
    for (const double lean : {-pi / 2, -0.5, 0.0, 0.9, pi / 2}) {
        const auto evaluator = Evaluator::compile(leant(lean, 1));
        Pose pose = evaluator->make_pose();
        EXPECT_NEAR(hub_at(*evaluator, pose, cart.wheel, 0).z(),
                    0.25 + r * std::cos(lean) + w * std::abs(std::sin(lean)), 2e-4)
            << lean;
        EXPECT_TRUE(pose.wheels[0].has_ground);
    }
    const Document off = leant(0.3, 9);
    const auto found = check_document(off);
    EXPECT_TRUE(std::any_of(found.begin(), found.end(),
                            [](const Finding& f) { return f.code == "wheel.no_ground"; }));
}

TEST(Lean, BadInputIsRefused) {
    const LeaningCart c;
    const auto code = [&](const nlohmann::json& step) { return test::refusal(c.document, step).code; };
    EXPECT_EQ(code({{"op", "coupling.lean"}, {"parts", {"wheel"}}}), "lean.twice");
    EXPECT_EQ(code({{"op", "coupling.lean"}, {"parts", {"cart"}}}), "roll.not_hinge");
    EXPECT_EQ(code({{"op", "channel.set"}, {"parts", {"wheel lean"}}, {"channel", "shift_y"}, {"value", 1}}),
              "channel.driven");
    EXPECT_EQ(
        test::refusal(Cart().document, {{"op", "coupling.lean"}, {"parts", {"wheel"}}, {"ground", "cart"}})
            .code,
        "lean.ground");
    // A wheel that lies flat at rest does not stand on its tread.
    Cart flat;
    Part part = *flat.document.parts.find(flat.wheel);
    part.parent_from_rest.rotation = Quat(Eigen::AngleAxisd(pi / 2, Vec3::UnitX()));
    flat.document.parts.set(part);
    EXPECT_EQ(test::refusal(flat.document, {{"op", "coupling.lean"}, {"parts", {"wheel"}}}).code,
              "lean.axle");
}

}  // namespace
}  // namespace pivrak
