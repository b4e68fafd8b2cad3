#include "tests/core/operations/travel/vehicles.h"

namespace pivrak {
namespace {

TEST(Vehicle, NothingMovesWhenItIsRigged) {
    const Document& before = raw_truck();
    Document after = before;
    for (const json& step : vehicle_steps(nullptr)) after = test::run(after, step);
    const auto evaluator = Evaluator::compile(after);
    ASSERT_TRUE(evaluator.ok()) << evaluator.error().message;
    Pose pose = evaluator->make_pose();
    evaluator->evaluate(0, pose);
    for (const Part& part : before.parts) {
        if (!part.shape) continue;
        const Part& now = *after.parts.find(part.id);
        const Frame was = world_from_rest(before, part.id) * part.part_from_shape,
                    is = pose.world_from_part[*evaluator->part_slot(part.id)] * now.part_from_shape;
        // Tyres stand on the floor to less than what their polygons leave open.
        EXPECT_LT((was.translation - is.translation).norm(), 2e-4) << part.name;
        EXPECT_LT(angle_between(was.rotation, is.rotation), 2e-4) << part.name;
    }
    EXPECT_TRUE(after.parts.find(named(after, "Truck place"))->is_control());
    for (const Finding& f : check_document(after)) EXPECT_NE(f.stage, Stage::Rig) << f.message;
}

TEST(Vehicle, TruckAndTrailerDriveOverTheFieldWithoutSlidingOrLosingTheGround) {
    const Document d =
        test::by_job({{"model.glb", demo::supply_truck()}, {"ground.glb", demo::saddle_ground()}},
                     {{"import", "model.glb"},
                      {"steps", together({raw_truck_steps(),
                                          {{{"op", "model.import"}, {"file", "ground.glb"}}},
                                          vehicle_steps("snow field"),
                                          drive_steps(12, 48, 120)})}});
    const auto check = slip_check(d, {});
    ASSERT_TRUE(check.ok()) << check.error().message;
    ASSERT_EQ(check->wheels.size(), 8u);
    for (const WheelSlip& wheel : check->wheels) {
        const std::string& name = d.parts.find(wheel.wheel)->name;
        EXPECT_GT(wheel.travelled_m, 20) << name;
        EXPECT_LT(wheel.largest_gap_m, 0.002) << name << " hangs at " << wheel.gap_frame;
        EXPECT_LT(wheel.share(), 2e-3) << name << ": on bumps it is told, " << wheel.slip_m;
    }
    // Steered wheels go the way they point.
    for (const char* wheel : {"tyres 1", "tyres 2"})
        for (const WheelSlip& w : check->wheels)
            if (w.wheel == named(d, wheel)) {
                EXPECT_LT(w.sideways_m / w.travelled_m, 0.002) << wheel;
            }
    // Nothing turns over, and the drawbar stays hitched.
    const auto evaluator = Evaluator::compile(d);
    Pose pose = evaluator->make_pose();
    const PartId body = named(d, "Trailer body"), eye = named(d, "drawbar eye"),
                 truck = named(d, "Truck body");
    const Vec3 hitch = d.parts.find(named(d, "Trailer place"))->tow->hitch_m;
    const Part& eye_part = *d.parts.find(eye);
    const Vec3 eye_middle = (eye_part.part_from_shape).point(d.shapes.find(eye_part.shape)->bounds.middle());
    for (double f = 0; f <= 120; f += 5) {
        evaluator->evaluate(f, pose);
        const auto frame = [&](PartId id) { return pose.world_from_part[*evaluator->part_slot(id)]; };
        EXPECT_GT(frame(body).axis(2).z(), 0.9);
        EXPECT_LT((frame(eye).point(eye_middle) - frame(truck).point(hitch)).norm(), 2e-3) << f;
    }
}

/// A trailer of one axle behind a tug, on the level and then up a slope of 30 %.
TEST(Vehicle, ATrailerOfOneAxleHangsOnItsHitchUpASlope) {
    for (const double length : {2.5, 4.0}) {
        const OneAxle scene(length);
        const auto evaluator = Evaluator::compile(scene.d);
        ASSERT_TRUE(evaluator.ok()) << evaluator.error().message;
        Pose pose = evaluator->make_pose();
        // The middle of the bed's lower front edge is the eye.
        const PartId bed = named(scene.d, "bed");
        const Vec3 eye = world_from_rest(scene.d, bed).inverse().point(Vec3(0, 0, 0.5));
        double largest = 0;
        for (double f = 0; f <= 48; f += 0.25) {
            evaluator->evaluate(f, pose);
            const auto frame = [&](PartId id) { return pose.world_from_part[*evaluator->part_slot(id)]; };
            largest = std::max(largest, (frame(bed).point(eye) - frame(scene.tug).translation).norm());
        }
        EXPECT_LT(largest, 1e-5);
        // Well up the slope it leans as the slope does: tan = 0.3.
        EXPECT_NEAR(pose.world_from_part[*evaluator->part_slot(bed)].axis(0).z(), 0.3 / std::hypot(1, 0.3),
                    0.02);
        const auto slip = slip_check(scene.d, {});
        ASSERT_TRUE(slip.ok());
        for (const WheelSlip& wheel : slip->wheels) {
            EXPECT_LT(wheel.largest_gap_m, 0.002);
            EXPECT_LT(wheel.deepest_m, 0.002);
            EXPECT_LT(wheel.share(), 1e-3);
        }
        for (const Finding& f : check_document(scene.d)) EXPECT_NE(f.code, "vehicle.hitch") << f.message;
    }
}

TEST(Vehicle, ATrailerThatRollsOnASideSlopeStaysOnItsHitch) {
    // The ground twists: it falls to one side the more, the further the trailer comes; its eye goes sideways
    // with it.
    for (const double side : {0.15, -0.15}) {
        const OneAxle scene(3, side);
        const auto evaluator = Evaluator::compile(scene.d);
        Pose pose = evaluator->make_pose();
        const PartId bed = named(scene.d, "bed");
        const Vec3 eye = world_from_rest(scene.d, bed).inverse().point(Vec3(0, 0, 0.5));
        double largest = 0, rolled = 0;
        for (double f = 0; f <= 48; f += 1) {
            evaluator->evaluate(f, pose);
            const Frame frame = pose.world_from_part[*evaluator->part_slot(bed)];
            largest = std::max(largest, (frame.point(eye) -
                                         pose.world_from_part[*evaluator->part_slot(scene.tug)].translation)
                                            .norm());
            rolled = std::max(rolled, std::abs(frame.axis(1).z()));
        }
        EXPECT_GT(rolled, 0.1);
        EXPECT_LT(largest, 1e-5);
    }
}

TEST(Vehicle, TheBodyPitchesByItsShareOfTheSlope) {
    Document d = raw_truck();
    Mesh ground;
    for (const double x : {-60.0, 60.0})
        for (const double y : {-10.0, 10.0}) ground.positions.push_back(Vec3(x, y, 0.1 * x).cast<float>());
    ground.indices = {0, 2, 3, 0, 3, 1};
    ground.submeshes.push_back({MaterialId{}, 0, 6, {}});
    test::add_shaped(d, "slope", ground);
    json make = vehicle_steps("slope")[0];
    make["bump"] = 2;
    make["droop"] = 2;
    d = test::run(d, make);
    for (const double share : {1.0, 0.5, 0.0}) {
        const Document set = test::run(d, {{"op", "vehicle.set"}, {"vehicle", "Truck"}, {"pitch", share}});
        const auto evaluator = Evaluator::compile(set);
        Pose pose = evaluator->make_pose();
        evaluator->evaluate(0, pose);
        const double pitch =
            std::asin(pose.world_from_part[*evaluator->part_slot(named(set, "Truck body"))].axis(0).z());
        EXPECT_NEAR(pitch, share * std::atan(0.1), 0.004) << share;
    }
}

TEST(Vehicle, AHitchThatIsPartedIsAFindingWithMillimetresAndFrame) {
    OneAxle scene(3);
    for (const int frame : {12, 24, 36})
        scene.d = test::run(scene.d, {{"op", "key.set"},
                                      {"parts", {"Trailer body"}},
                                      {"channel", "shift_z"},
                                      {"frame", frame},
                                      {"value", frame == 24 ? 0.08 : 0},
                                      {"interpolation", "linear"}});
    std::vector<std::string> told;
    for (const Finding& f : check_document(scene.d))
        if (f.code == "vehicle.hitch") told.push_back(f.message);
    ASSERT_EQ(told.size(), 1u);
    EXPECT_NE(told[0].find("80.0 mm off its hitch at frame 24"), std::string::npos) << told[0];
}

TEST(Vehicle, OnTheFloorNothingSlides) {
    Document d = raw_truck();
    for (const json& step : together({vehicle_steps(nullptr), drive_steps(5, 45, 60)}))
        d = test::run(d, step);
    const auto check = slip_check(d, {});
    ASSERT_TRUE(check.ok());
    for (const WheelSlip& wheel : check->wheels)
        EXPECT_LT(wheel.share(), 1e-4) << d.parts.find(wheel.wheel)->name;
}

TEST(Vehicle, AWheelWithoutGroundHangsAtItsLimitAndAFindingSaysSo) {
    Document d = raw_truck();
    // A ground under the right side only, and a post that is too high for the left front.
    test::add_shaped(
        d, "kerb",
        test::joined(test::box({-20, -8, -1}, {20, 0, 0}), test::box({-20, 0.4, -1}, {20, 8, 0.6})));
    json make = vehicle_steps("kerb")[0];
    make["bump"] = 0.05;
    make["droop"] = 0.05;
    d = test::run(d, make);
    d = test::run(d, {{"op", "vehicle.set"}, {"vehicle", "Truck"}, {"roll", 0}, {"pitch", 0}});
    const auto codes = [&] {
        std::map<std::string, int> count;
        for (const Finding& f : check_document(d)) ++count[f.code];
        return count;
    };
    auto found = codes();
    EXPECT_EQ(found["wheel.hangs"], 2);
    EXPECT_EQ(found["wheel.sinks"], 2);
    // With the ground gone altogether: none there.
    d = test::run(d, {{"op", "vehicle.set"}, {"vehicle", "Truck"}, {"floor", true}});
    test::add_shaped(d, "far", test::box({90, 90, 0}, {95, 95, 1}));
    d = test::run(d, {{"op", "vehicle.set"}, {"vehicle", "Truck"}, {"ground", "far"}});
    EXPECT_EQ(codes()["wheel.no_ground"], 4);
    const auto evaluator = Evaluator::compile(d);
    Pose pose = evaluator->make_pose();
    evaluator->evaluate(0, pose);
    for (const VehicleWheel& wheel : d.vehicles.begin()->wheels)
        EXPECT_NEAR(pose.channels[*evaluator->channel_slot({wheel.suspension, ChannelKind::Shift})], -0.05,
                    1e-12);
}

TEST(Vehicle, BadInputIsRefused) {
    Document d = raw_truck();
    const auto code = [&](const json& step) { return test::refusal(d, step).code; };
    EXPECT_EQ(code({{"op", "vehicle.make"}, {"parts", {"bed"}}}), "vehicle.no_wheels");
    EXPECT_EQ(code({{"op", "vehicle.make"}, {"parts", {"truck"}}, {"wheels", {"truck"}}}),
              "vehicle.no_shape");
    json make = vehicle_steps(nullptr)[0];
    make["droop"] = -0.1;
    EXPECT_EQ(code(make), "vehicle.travel");
    make = vehicle_steps(nullptr)[1];
    make["hitch"] = "platform";
    make["hitch_at"] = {-9, 0, 0};
    EXPECT_EQ(code(make), "vehicle.hitch");
    make.erase("hitch_at");
    EXPECT_EQ(code(make), "argument.missing");
    d = test::run(d, vehicle_steps(nullptr)[0]);
    EXPECT_EQ(
        code({{"op", "vehicle.make"}, {"parts", {"platform"}}, {"wheels", {"tyres 5"}}, {"name", "Truck"}}),
        "vehicle.duplicate");
    EXPECT_EQ(code({{"op", "channel.set"}, {"parts", {"tyres 1"}}, {"value", 1}}), "channel.driven");
    EXPECT_EQ(code({{"op", "vehicle.set"}, {"vehicle", "Truck"}, {"roll", 2}}), "vehicle.share");
    EXPECT_EQ(code({{"op", "vehicle.set"}, {"vehicle", "Van"}}), "vehicle.unknown");
    d = test::run(d, {{"op", "vehicle.remove"}, {"vehicle", "Truck"}});
    EXPECT_EQ(d.couplings.size(), 0u);
    (void)test::run(d, {{"op", "channel.set"}, {"parts", {"tyres 1"}}, {"value", 1}});
}

TEST(Vehicle, ALargerTyreRollsSlowerAtOnce) {
    Document d = raw_truck();
    d = test::run(d, vehicle_steps(nullptr)[0]);
    const PartId tyre = named(d, "tyres 3");
    const auto radius = [&] { return Evaluator::compile(d)->rolling_radius(tyre); };
    const double before = radius();
    Solid large = pivrak::shaft(600, -100, 100, 0, 64);
    large.lay_along(1);
    const PartId spare = test::add_shaped(d, "spare", test::to_mesh(large));
    d = test::run(d, {{"op", "shape.swap"}, {"parts", {"tyres 3"}}, {"from", "spare"}});
    EXPECT_NEAR(before, demo::VehicleFigures{}.truck_wheel_radius, 1e-3);
    EXPECT_NEAR(radius(), 0.6, 1e-6);
    (void)spare;
}

}  // namespace
}  // namespace pivrak
