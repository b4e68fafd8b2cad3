// What rolls, steers and is towed, along a clip.
#include "tests/core/motion/carts.h"

namespace pivrak {
namespace {

TEST(Rolling, TurnsByTheWayOverTheRadiusForwardAndBack) {
    Cart c;
    c.key(ChannelKind::ShiftX,
          {{0, 0, Interpolation::Linear}, {48, 6, Interpolation::Linear}, {96, -2, Interpolation::Linear}});
    const auto evaluator = Evaluator::compile(c.document);
    ASSERT_TRUE(evaluator.ok()) << evaluator.error().message;
    Pose pose = evaluator->make_pose();
    // Source: rolling without slip, way = radius times turn. The mesh is a polygon of 96 corners, whose
    // corners are at the radius.
    for (const double frame : {0.0, 7.0, 48.0, 60.5, 96.0}) {
        const double x = frame <= 48 ? 6 * frame / 48 : 6 - 8 * (frame - 48) / 48;
        EXPECT_NEAR(turn_at(*evaluator, pose, c.wheel, frame), x / radius, 1e-6) << frame;
    }
}

// Source: the cycloid; one arch of a rim point is 8 r long, and the point rests where it touches.
TEST(Rolling, ARimPointDrawsACycloid) {
    Cart c;
    c.key(ChannelKind::ShiftX, {{0, 0, Interpolation::Linear}, {96, 2 * pi * radius, Interpolation::Linear}});
    const auto evaluator = Evaluator::compile(c.document);
    Pose pose = evaluator->make_pose();
    const std::size_t slot = *evaluator->part_slot(c.wheel);
    double length = 0, slowest = 1e300;
    Vec3 last(0, 0, 0);
    const int steps = 960;
    for (int i = 0; i <= steps; ++i) {
        evaluator->evaluate(96.0 * i / steps, pose);
        const Vec3 rim = pose.world_from_part[slot].point({0, 0, -radius});
        if (i > 0) length += (rim - last).norm();
        if (i > 0) slowest = std::min(slowest, (rim - last).norm());
        EXPECT_GT(rim.z(), -1e-6);
        last = rim;
    }
    EXPECT_NEAR(length, 8 * radius, 1e-4);
    EXPECT_LT(slowest, 1e-4);
}

TEST(Rolling, TheOrderInWhichFramesAreAskedForDoesNotMatter) {
    Cart c;
    c.key(ChannelKind::ShiftX, {{0, 0}, {40, 5}, {96, 1}});
    c.key(ChannelKind::TurnZ, {{0, 0}, {50, 1.5}, {96, -0.4}});
    const auto evaluator = Evaluator::compile(c.document);
    Pose in_order = evaluator->make_pose();
    std::vector<double> frames, turns;
    for (double f = -5; f <= 110; f += 0.75) frames.push_back(f);
    for (const double f : frames) turns.push_back(turn_at(*evaluator, in_order, c.wheel, f));
    std::vector<std::size_t> shuffled(frames.size());
    for (std::size_t i = 0; i < shuffled.size(); ++i) shuffled[i] = i;
    std::shuffle(shuffled.begin(), shuffled.end(), std::mt19937(3));
    Pose any = evaluator->make_pose();
    for (const std::size_t i : shuffled)
        EXPECT_EQ(turn_at(*evaluator, any, c.wheel, frames[i]), turns[i]) << frames[i];
}

TEST(Rolling, SlipIsNoneInAnyFlatDriveAndIsStatedWhereAskedFor) {
    Cart c;
    c.key(ChannelKind::ShiftX, {{0, 0}, {30, 4}, {60, 4.5}, {96, -1}});
    c.key(ChannelKind::ShiftY, {{0, 0}, {48, 2}, {96, 3}});
    c.key(ChannelKind::TurnZ, {{0, 0}, {48, 1.2}, {96, -2}});
    const auto check = slip_check(c.document, {});
    ASSERT_TRUE(check.ok()) << check.error().message;
    ASSERT_EQ(check->wheels.size(), 1u);
    EXPECT_GT(check->wheels[0].travelled_m, 5);
    EXPECT_LT(check->wheels[0].share(), 1e-4) << "a tenth of a millimetre for each metre";
    EXPECT_GT(check->wheels[0].sideways_m, 1) << "it is pushed sideways, and that is told apart";

    Cart spinning;
    spinning.key(ChannelKind::ShiftX, {{0, 0, Interpolation::Linear}, {96, 10, Interpolation::Linear}});
    Coupling coupling = *spinning.document.couplings.begin();
    std::get<Roll>(coupling.what).slip = 0.2;
    spinning.document.couplings.set(coupling);
    EXPECT_NEAR(slip_check(spinning.document, {})->wheels[0].share(), 0.2, 1e-9);
    // The plot tells dragged from spinning by its sign.
    const auto last = [](const Document& d) { return slip_check(d, {})->wheels[0].slip_by_frame_m.back(); };
    EXPECT_NEAR(last(spinning.document), -2, 1e-6) << "two of ten metres, spinning";
    std::get<Roll>(coupling.what).slip = -0.2;
    Cart dragged_along = spinning;
    dragged_along.document.couplings.set(coupling);
    EXPECT_NEAR(last(dragged_along.document), -last(spinning.document), 1e-6);
}

/// The most that the place of a tyre which touches is dragged along over a clip, and how far its middle goes.
/// The place lies off the middle by `down` at each frame; it belongs to the tyre, so it is followed in the
/// wheel's frame.
TEST(Rolling, TouchesARampWithoutBeingDragged) {
    // 50 m along a slope of 3 : 4, with what carries the wheel level or leaning with the slope.
    for (const double pitch : {0.0, -std::atan2(3.0, 4.0)}) {
        Cart c;
        c.key(ChannelKind::ShiftX, {{0, 0, Interpolation::Linear}, {96, 40, Interpolation::Linear}});
        c.key(ChannelKind::ShiftZ, {{0, 0, Interpolation::Linear}, {96, 30, Interpolation::Linear}});
        c.key(ChannelKind::TurnY, {{0, pitch, Interpolation::Linear}});
        const Dragged found = dragged(c.document, c.wheel, [](double) { return Vec3(0.6, 0, -0.8); });
        EXPECT_NEAR(found.way_m, 50, 1e-6);
        EXPECT_LT(found.drag_m, 1e-4) << pitch;
        const auto check = slip_check(c.document, {});
        ASSERT_TRUE(check.ok());
        EXPECT_LT(check->wheels[0].slip_m, 1e-5) << pitch;
        EXPECT_NEAR(check->wheels[0].travelled_m, 50, 1e-4);
    }
}

TEST(Rolling, GoesRoundALoopAndAlongACeiling) {
    // A cart that hangs on an arm of 4 m turns round the arm's end: its wheel rolls inside a tube.
    Cart c;
    const PartId arm = test::add_part(c.document, "arm", {}, {Quat(1, 0, 0, 0), Vec3(0, 0, 4)});
    c.set_joint(arm, JointKind::Hinge, 1);
    Part cart = *c.document.parts.find(c.cart);
    cart.parent = arm;
    cart.parent_from_rest.translation = Vec3(0, 0, -4);
    c.document.parts.set(cart);
    Clip clip = clip_or_first(c.document);
    clip.track_or_new({arm, ChannelKind::Turn}).keys = {{0, 0, Interpolation::Linear},
                                                        {96, -4 * pi, Interpolation::Linear}};
    c.document.clips.set(clip);
    const auto down = [](double frame) {
        const double turned = 4 * pi * frame / 96;
        return Vec3(std::sin(turned), 0, -std::cos(turned));
    };
    const Dragged found = dragged(c.document, c.wheel, down);
    EXPECT_NEAR(found.way_m, 2 * 2 * pi * 3.5, 1e-3);
    EXPECT_LT(found.drag_m, 1e-3);
    EXPECT_LT(slip_check(c.document, {})->wheels[0].slip_m, 1e-3);
    // Source: a circle that rolls inside another of eight times its radius turns seven times each round, seen
    // from the world (hypocycloid); seen from the arm, eight.
    const auto evaluator = Evaluator::compile(c.document);
    Pose pose = evaluator->make_pose();
    EXPECT_NEAR(turn_at(*evaluator, pose, c.wheel, 96), 2 * 8 * 2 * pi, 1e-3);
}

TEST(Rolling, UpARampByTheWayOnItsPath) {
    Cart c;
    c.document = test::run(
        c.document,
        {{"op", "path.add"}, {"form", "polyline"}, {"name", "ramp"}, {"points", {{0, 0, 0}, {40, 0, 30}}}});
    c.document = test::run(c.document, {{"op", "ride.set"}, {"parts", {"cart"}}, {"path", "ramp"}});
    c.document = test::run(c.document, {{"op", "coupling.remove"}, {"driven", {"wheel"}}});
    c.document = test::run(c.document, {{"op", "coupling.roll"}, {"parts", {"wheel"}}, {"rider", "cart"}});
    c.key(ChannelKind::Along, {{0, 0, Interpolation::Linear}, {96, 50, Interpolation::Linear}});
    EXPECT_LT(dragged(c.document, c.wheel, [](double) { return Vec3(0.6, 0, -0.8); }).drag_m, 1e-4);
    EXPECT_LT(slip_check(c.document, {})->wheels[0].slip_m, 1e-5);
    // The check can fail: a tenth too fast is told as a tenth of the way.
    Coupling coupling = *c.document.couplings.begin();
    std::get<Roll>(coupling.what).slip = 0.1;
    c.document.couplings.set(coupling);
    EXPECT_NEAR(slip_check(c.document, {})->wheels[0].slip_m, 5, 1e-3);
}

TEST(Rolling, AHandThatDragsTheCartRollsItsWheel) {
    Cart c;
    const auto evaluator = Evaluator::compile(c.document);
    Pose pose = evaluator->make_pose();
    const std::size_t held = *evaluator->channel_slot({c.cart, ChannelKind::ShiftX});
    evaluator->evaluate(0, pose, HeldChannel{held, 1.3});
    const std::size_t turn = *evaluator->channel_slot({c.wheel, ChannelKind::Turn});
    EXPECT_NEAR(pose.channels[turn], 1.3 / radius, 1e-6);
    // Let go without keys, it stays as it was seen.
    Part part = *c.document.parts.find(c.cart);
    part.joint.set_channel(ChannelKind::ShiftX, {1.3, std::nullopt, false});
    c.document.parts.set(part);
    const auto after = Evaluator::compile(c.document);
    Pose still = after->make_pose();
    EXPECT_NEAR(turn_at(*after, still, c.wheel, 0), 1.3 / radius, 1e-6);
    EXPECT_NEAR(turn_at(*after, still, c.wheel, 70), 1.3 / radius, 1e-6);
}

}  // namespace
}  // namespace pivrak
