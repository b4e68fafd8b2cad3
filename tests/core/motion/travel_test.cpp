// What rolls, steers and is towed, along a clip.
#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>
#include <random>

#include "core/checks/travel/slip_check.h"
#include "core/motion/evaluator.h"
#include "core/rig/vehicles/towed_heading.h"
#include "tests/support/cart.h"

namespace pivrak {
namespace {

using nlohmann::json;

using test::Cart;
constexpr double radius = Cart::radius;

double turn_at(const Evaluator& evaluator, Pose& pose, PartId part, double frame) {
    evaluator.evaluate(frame, pose);
    return pose.channels[*evaluator.channel_slot({part, ChannelKind::Turn})];
}

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
struct Dragged {
    double drag_m = 0, way_m = 0;
};
template <class Down>
Dragged dragged(const Document& document, PartId wheel, Down down) {
    const auto evaluator = Evaluator::compile(document);
    EXPECT_TRUE(evaluator.ok());
    Pose pose = evaluator->make_pose();
    const std::size_t slot = *evaluator->part_slot(wheel);
    Dragged out;
    Vec3 drag(0, 0, 0);
    const int steps = 96 * 200;
    for (int i = 0; i < steps; ++i) {
        const double a = 96.0 * i / steps, b = 96.0 * (i + 1) / steps;
        evaluator->evaluate(a, pose);
        const Frame before = pose.world_from_part[slot];
        evaluator->evaluate(b, pose);
        const Frame after = pose.world_from_part[slot];
        // The place of the tyre that touches half way between the two moments.
        const Vec3 touch = radius * down(0.5 * (a + b));
        const Frame middle{before.rotation.slerp(0.5, after.rotation),
                           0.5 * (before.translation + after.translation)};
        const Vec3 own = middle.inverse().direction(touch);
        drag += after.point(own) - before.point(own);
        out.drag_m = std::max(out.drag_m, drag.norm());
        out.way_m += (after.translation - before.translation).norm();
    }
    return out;
}

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

TEST(Rolling, AlongAPathInClosedForm) {
    Cart c;
    c.document = test::run(
        c.document,
        {{"op", "path.add"}, {"form", "circle"}, {"name", "ring"}, {"centre", {0, 0, 0}}, {"radius", 7}});
    c.document = test::run(c.document, {{"op", "ride.set"}, {"parts", {"cart"}}, {"path", "ring"}});
    c.document = test::run(c.document, {{"op", "coupling.remove"}, {"driven", {"wheel"}}});
    c.document = test::run(c.document, {{"op", "coupling.roll"}, {"parts", {"wheel"}}, {"rider", "cart"}});
    c.key(ChannelKind::Along, {{0, 0, Interpolation::Linear}, {96, 60, Interpolation::Linear}});
    const auto evaluator = Evaluator::compile(c.document);
    Pose pose = evaluator->make_pose();
    EXPECT_EQ(pose.states.size(), 0u) << "nothing to integrate";
    EXPECT_NEAR(turn_at(*evaluator, pose, c.wheel, 37), 60.0 * 37 / 96 / radius, 1e-5);
    const auto check = slip_check(c.document, {});
    EXPECT_LT(check->wheels[0].share(), 1e-4);
}

// Source: T. D. Gillespie, Fundamentals of Vehicle Dynamics (1992): cot(outer) - cot(inner) = track /
// wheelbase.
TEST(Steering, InnerAndOuterWheelFollowTheCotRule) {
    Document d = empty_document();
    const double wheelbase = 3.2, track = 1.7;
    const PartId wheel = test::add_part(d, "steering");
    const PartId left = test::add_part(d, "left", {}, {Quat(1, 0, 0, 0), Vec3(wheelbase, track / 2, 0)});
    const PartId right = test::add_part(d, "right", {}, {Quat(1, 0, 0, 0), Vec3(wheelbase, -track / 2, 0)});
    for (const PartId id : {wheel, left, right}) test::make_hinge(d, id);
    d = test::run(d, {{"op", "coupling.steer"},
                      {"driver", "steering"},
                      {"parts", {"left", "right"}},
                      {"turning", {0, 0, 0}},
                      {"reference", wheelbase}});
    for (const double angle : {0.05, 0.3, -0.45}) {
        test::make_hinge(d, wheel, 2, angle);
        const auto evaluator = Evaluator::compile(d);
        Pose pose = evaluator->make_pose();
        const double l = turn_at(*evaluator, pose, left, 0), r = turn_at(*evaluator, pose, right, 0);
        const double inner = angle > 0 ? l : -r, outer = angle > 0 ? r : -l;
        EXPECT_NEAR(1 / std::tan(outer) - 1 / std::tan(inner), track / wheelbase, 1e-9);
        EXPECT_GT(inner, outer);
    }
}

// Source: the tractrix, x = a (u - tanh u), y = a / cosh u, with the pull along x by a u.
TEST(Towing, AStraightPullDrawsATractrix) {
    const double bar = 2.3;
    double heading = pi / 2;  // the bar begins square to the pull, hanging below it
    Vec2 hitch(0, 0);
    for (int i = 1; i <= 50; ++i) {
        const Vec2 next(0.17 * i, 0);
        heading = towed_heading(heading, hitch, next, bar);
        hitch = next;
        const double u = next.x() / bar;
        const Vec2 axle = hitch - bar * Vec2(std::cos(heading), std::sin(heading));
        EXPECT_NEAR(axle.x(), bar * (u - std::tanh(u)), 1e-9);
        EXPECT_NEAR(axle.y(), -bar / std::cosh(u), 1e-9);
    }
    EXPECT_EQ(towed_heading(0.3, {1, 1}, {1, 1}, bar), 0.3);
    EXPECT_NEAR(towed_heading(0, {0, 0}, {-1, 0}, bar), 0, 1e-12) << "pushed straight back it stays straight";
    EXPECT_GT(std::abs(towed_heading(0.01, {0, 0}, {-3, 0}, bar)), 0.02) << "and otherwise folds";
}

/// Source: the condition of rolling, not the rule the rig steers by: every wheel's axle points to the middle
/// of the bend.
TEST(Steering, OnAPathAxlesPointToTheMiddleOfTheBend) {
    Document d = empty_document();
    const double ring = 9, ahead = 2.7;
    const PartId car = test::add_part(d, "car"), wheel = test::add_part(d, "hand wheel", car);
    test::make_hinge(d, wheel);
    std::vector<PartId> kingpins;
    for (const double left : {0.8, -0.8})
        kingpins.push_back(
            test::add_part(d, left > 0 ? "left" : "right", car, {Quat(1, 0, 0, 0), Vec3(ahead, left, 0)}));
    for (const PartId id : kingpins) test::make_hinge(d, id);
    d = test::run(
        d,
        {{"op", "path.add"}, {"form", "circle"}, {"name", "ring"}, {"centre", {0, 0, 0}}, {"radius", ring}});
    d = test::run(d, {{"op", "ride.set"}, {"parts", {"car"}}, {"path", "ring"}});
    d = test::run(d, {{"op", "coupling.steer"},
                      {"driver", "hand wheel"},
                      {"parts", {"left", "right"}},
                      {"turning", {0, 0, 0}},
                      {"reference", ahead}});
    for (const Coupling& known : SharedTable<Coupling>(d.couplings)) {
        Coupling coupling = known;
        std::get<Steer>(coupling.what).rider = car;
        d.couplings.set(coupling);
    }
    const auto evaluator = Evaluator::compile(d);
    ASSERT_TRUE(evaluator.ok()) << evaluator.error().message;
    Pose pose = evaluator->make_pose();
    for (const double along : {1.0, 17.0, 40.0}) {
        evaluator->evaluate(0, pose, HeldChannel{*evaluator->channel_slot({car, ChannelKind::Along}), along});
        for (const PartId id : kingpins) {
            const Frame frame = pose.world_from_part[*evaluator->part_slot(id)];
            const Vec3 to_middle = (-frame.translation).normalized();
            EXPECT_GT(std::abs(frame.axis(1).dot(to_middle)), 1 - 1e-9)
                << d.parts.find(id)->name << " at " << along;
        }
    }
}

/// Source: rolling without slip sideways: an axle moves only the way its trailer heads. By small steps of the
/// world's frames alone.
TEST(Towing, TheRearAxleOfAFourWheeledTrailerNeverSlidesSideways) {
    Document d = empty_document();
    const PartId truck = test::add_part(d, "truck"),
                 trailer = test::add_part(d, "trailer", {}, {Quat(1, 0, 0, 0), Vec3(-4.4, 0, 0)}),
                 turntable = test::add_part(d, "turntable", trailer, {Quat(1, 0, 0, 0), Vec3(2.6, 0, 0)});
    test::make_hinge(d, turntable);
    d = test::run(
        d, {{"op", "path.add"}, {"form", "circle"}, {"name", "ring"}, {"centre", {0, 0, 0}}, {"radius", 11}});
    d = test::run(d, {{"op", "ride.set"}, {"parts", {"truck"}}, {"path", "ring"}});
    Part part = *d.parts.find(trailer);
    part.tow = Tow{truck, {0, 0, 0}, 1.8, turntable, 2.6};
    d.parts.set(part);
    Clip clip = clip_or_first(d);
    clip.last_frame = 96;
    clip.track_or_new({truck, ChannelKind::Along}).keys = {{0, 0, Interpolation::Linear},
                                                           {96, 30, Interpolation::Linear}};
    d.clips.set(clip);
    const auto evaluator = Evaluator::compile(d);
    ASSERT_TRUE(evaluator.ok()) << evaluator.error().message;
    Pose pose = evaluator->make_pose();
    const std::size_t slot = *evaluator->part_slot(trailer), front = *evaluator->part_slot(turntable);
    double sideways = 0, front_sideways = 0, way = 0;
    Frame last, last_front;
    // Between half frames hitches go straight: whole frames are looked at.
    for (int f = 0; f <= 96; ++f) {
        evaluator->evaluate(f, pose);
        const Frame now = pose.world_from_part[slot], now_front = pose.world_from_part[front];
        if (f > 0) {
            const Vec3 moved = now.translation - last.translation;
            sideways += std::abs(moved.dot((now.axis(1) + last.axis(1)).normalized()));
            front_sideways += std::abs((now_front.translation - last_front.translation)
                                           .dot((now_front.axis(1) + last_front.axis(1)).normalized()));
            way += moved.norm();
        }
        last = now;
        last_front = now_front;
    }
    EXPECT_GT(way, 20);
    EXPECT_LT(sideways, 2e-3 * way);
    EXPECT_LT(front_sideways, 2e-3 * way);
}

// Source: on a circle, a towed axle ends on the circle of radius sqrt(R^2 - L^2).
TEST(Towing, ATrailerCutsTheCorner) {
    Document d = empty_document();
    const PartId truck = test::add_part(d, "truck"),
                 trailer = test::add_part(d, "trailer", {}, {Quat(1, 0, 0, 0), Vec3(-2, 0, 0)});
    d = test::run(
        d, {{"op", "path.add"}, {"form", "circle"}, {"name", "ring"}, {"centre", {0, 0, 0}}, {"radius", 6}});
    d = test::run(d, {{"op", "ride.set"}, {"parts", {"truck"}}, {"path", "ring"}});
    Part part = *d.parts.find(trailer);
    part.tow = Tow{truck, {0, 0, 0}, 2.0};
    d.parts.set(part);
    Clip clip = clip_or_first(d);
    clip.last_frame = 200;
    clip.track_or_new({truck, ChannelKind::Along}).keys = {{0, 0, Interpolation::Linear},
                                                           {200, 60, Interpolation::Linear}};
    d.clips.set(clip);
    const auto evaluator = Evaluator::compile(d);
    ASSERT_TRUE(evaluator.ok()) << evaluator.error().message;
    Pose pose = evaluator->make_pose();
    evaluator->evaluate(200, pose);
    const Vec3 axle = pose.world_from_part[*evaluator->part_slot(trailer)].translation;
    EXPECT_NEAR(axle.head<2>().norm(), std::sqrt(36 - 4.0), 5e-4);
    evaluator->evaluate(0, pose);
    const Frame begin = pose.world_from_part[*evaluator->part_slot(trailer)],
                pulling = pose.world_from_part[*evaluator->part_slot(truck)];
    EXPECT_LT((pulling.inverse().point(begin.translation) - Vec3(-2, 0, 0)).norm(), 1e-9)
        << "in line as at rest";
}

TEST(Riding, CarriagesFollowWithTheirGapAtEveryFrame) {
    Document d = empty_document();
    test::add_shaped(d, "car", test::box({-1, -0.4, 0}, {1, 0.4, 0.8}));
    d = test::run(d, {{"op", "path.add"},
                      {"form", "smooth"},
                      {"name", "track"},
                      {"closed", true},
                      {"points", json::array({{0, 0, 0}, {14, 0, 1}, {16, 9, 0}, {3, 10, -1}})}});
    d = test::run(
        d, {{"op", "ride.string"}, {"parts", {"car"}}, {"path", "track"}, {"count", 5}, {"gap", 0.25}});
    EXPECT_EQ(d.parts.size(), 5u);
    std::vector<PartId> cars;
    for (const Part& part : d.parts) cars.push_back(part.id);
    Clip clip = clip_or_first(d);
    clip.track_or_new({cars[0], ChannelKind::Along}).keys = {{0, 3, Interpolation::Linear},
                                                             {100, 80, Interpolation::Linear}};
    d.clips.set(clip);
    const auto evaluator = Evaluator::compile(d);
    ASSERT_TRUE(evaluator.ok());
    Pose pose = evaluator->make_pose();
    for (double f = 0; f <= 100; f += 7) {
        evaluator->evaluate(f, pose);
        for (std::size_t i = 1; i < cars.size(); ++i) {
            const Frame ahead = pose.world_from_part[*evaluator->part_slot(cars[i - 1])],
                        own = pose.world_from_part[*evaluator->part_slot(cars[i])];
            EXPECT_NEAR((ahead.point({-1, 0, 0}) - own.point({1, 0, 0})).norm(), 0.25, 1e-8) << f << " " << i;
        }
    }
}

TEST(Riding, ACircleOfRidersAndPathsIsRefusedByName) {
    Document d = empty_document();
    const PartId a = test::add_part(d, "a");
    d = test::run(d, {{"op", "path.add"},
                      {"form", "line"},
                      {"name", "own"},
                      {"points", json::array({{0, 0, 0}, {1, 0, 0}})},
                      {"under", "a"}});
    const Error error = test::refusal(d, {{"op", "ride.set"}, {"parts", {"a"}}, {"path", "own"}});
    EXPECT_EQ(error.code, "rig.loop");
    EXPECT_NE(error.message.find("a"), std::string::npos);
    (void)a;
}

TEST(Riding, MeasuresKeptFromOneCompileToTheNextGiveTheSamePose) {
    Cart c;
    c.document = test::run(
        c.document,
        {{"op", "path.add"}, {"name", "p"}, {"points", json::array({{0, 0, 0}, {5, 1, 0}, {9, 0, 0}})}});
    c.document =
        test::run(c.document, {{"op", "ride.set"}, {"parts", {"cart"}}, {"path", "p"}, {"at", "50 %"}});
    RigFacts facts;
    for (int i = 0; i < 3; ++i) {
        const auto kept = Evaluator::compile(c.document, {}, &facts), fresh = Evaluator::compile(c.document);
        Pose a = kept->make_pose(), b = fresh->make_pose();
        kept->evaluate(10, a);
        fresh->evaluate(10, b);
        EXPECT_EQ(a.world_from_part[*kept->part_slot(c.cart)], b.world_from_part[*fresh->part_slot(c.cart)]);
        c.document = test::run(
            c.document, {{"op", "path.move_point"}, {"path", "p"}, {"point", 1}, {"place", {5, 2 + i, 0}}});
    }
}

}  // namespace
}  // namespace pivrak
