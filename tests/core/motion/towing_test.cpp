#include "tests/core/motion/carts.h"

namespace pivrak {
namespace {

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
