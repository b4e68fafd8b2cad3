// From raw models to vehicles that drive, by jobs.
#include "core/model/edits/stand.h"
#include "tests/core/operations/travel/vehicles.h"

namespace pivrak {
namespace {

TEST(VehicleLayout, FindsTheWheelsOfTruckAndTrailer) {
    const Document& d = raw_truck();
    const demo::VehicleFigures figures;
    std::vector<PartId> parts;
    for (const json& name : tyres_of_truck) parts.push_back(named(d, name.get<std::string>()));
    const auto layout = vehicle_layout(d, parts);
    ASSERT_TRUE(layout.ok()) << layout.error().message;
    ASSERT_EQ(layout->wheels.size(), 4u);
    EXPECT_EQ(layout->axles_x_m.size(), 2u);
    EXPECT_NEAR(layout->wheelbase_m(), figures.truck_wheelbase, 1e-4);
    EXPECT_NEAR(layout->track_m(), figures.truck_track, 1e-4);
    for (const FoundWheel& wheel : layout->wheels) {
        EXPECT_EQ(wheel.parts.size(), 2u) << "a tyre and its rim";
        EXPECT_NEAR(wheel.radius_m, figures.truck_wheel_radius, 1e-3);
        EXPECT_NEAR(wheel.width_m, figures.truck_tyre_width, 1e-3);
    }
    EXPECT_GT(layout->wheels[0].hub.y(), 0) << "front left comes first";
    EXPECT_GT(layout->wheels[0].hub.x(), layout->wheels[2].hub.x());
}

/// A box on four wheels, all of them made by `tyre`, and mud flaps: square plates that reach the ground too.
/// A tyre with three wide notches: cylinders cover less than three quarters of it.
TEST(VehicleLayout, APlateIsNoWheelAndATyreWithLugsIsOne) {
    struct Case {
        const char* name;
        Mesh tyre;
    };
    for (const Case& c : {Case{"smooth", lugged_tyre(250, 0, 0)}, Case{"lugs", lugged_tyre(250, 20, 12)},
                          Case{"deep lugs", lugged_tyre(250, 14, 40)}, Case{"notches", notched_tyre(0.25)}}) {
        const Document d = on_wheels([&](int) { return c.tyre; });
        const auto layout = vehicle_layout(d, Tree(d).all());
        ASSERT_TRUE(layout.ok()) << c.name << layout.error().message;
        ASSERT_EQ(layout->wheels.size(), 4u) << c.name;
        for (const FoundWheel& wheel : layout->wheels) {
            EXPECT_EQ(d.parts.find(wheel.parts.front())->name.substr(0, 4), "tyre") << c.name;
            EXPECT_NEAR(wheel.radius_m, 0.25, 1e-3) << c.name;
            EXPECT_NEAR(wheel.hub.z(), 0.25, 2e-3) << c.name;
        }
    }
}

/// Tyres of six and eight sides, closed or open, stand as well.
TEST(VehicleLayout, AWheelOfFewSidesIsOne) {
    for (const int sides : {6, 8})
        for (const bool ends : {true, false}) {
            const Document d = on_wheels([&](int) {
                Solid solid;
                const Loop outline = circle(250, sides);
                solid.wall(outline, -60, 60, true);
                if (ends) {
                    solid.cap(outline, {}, 60, true);
                    solid.cap(outline, {}, -60, false);
                }
                solid.lay_along(1);
                return test::to_mesh(solid);
            });
            const auto layout = vehicle_layout(d, Tree(d).all());
            ASSERT_TRUE(layout.ok()) << sides << layout.error().message;
            EXPECT_EQ(layout->wheels.size(), 4u) << sides;
        }
}

/// The cart turned by a quarter about one axis, with a roller that does lie across on its floor.
Document turned_cart(int axis) {
    Document d = on_wheels([](int) { return lugged_tyre(250, 0, 0); });
    // Rims are no wheels of their own.
    for (int i = 0; i < 4; ++i) {
        Solid rim = shaft(120, -50, 50, 2, 24);
        rim.lay_along(1);
        const PartId tyre = test::named(d, "tyre " + std::to_string(i));
        test::add_shaped(d, "rim " + std::to_string(i), test::to_mesh(rim), {}, world_from_rest(d, tyre));
    }
    StandOptions options;
    options.turn = turn_about_axis(axis, pi / 2);
    const Tree tree(d);
    stand_up(d, {tree.roots().begin(), tree.roots().end()}, options);
    Solid roller = shaft(25, -40, 40, 2, 24);
    roller.lay_along(1);
    test::add_shaped(d, "roller", test::to_mesh(roller), {}, {Quat(1, 0, 0, 0), Vec3(0, 0, -0.9)});
    return d;
}

TEST(VehicleLayout, AModelThatStandsAskewIsToldAndTurned) {
    for (const auto& [axis, code, argument] :
         {std::tuple(2, "vehicle.sideways", "front"), {0, "vehicle.lying", "up"}}) {
        const Document d = turned_cart(axis);
        const auto layout = vehicle_layout(d, Tree(d).all());
        ASSERT_FALSE(layout.ok()) << layout->wheels.size() << " wheels of "
                                  << layout->wheels.front().radius_m;
        EXPECT_EQ(layout.error().code, code);
        EXPECT_NE(layout.error().message.find("4 wheels of ⌀ 500.0 mm"), std::string::npos)
            << layout.error().message;
        // What is offered puts it right.
        const Document stood =
            test::run(d, {{"op", "model.stand"}, {argument, layout.error().subject}, {"ground", true}});
        const auto again = vehicle_layout(stood, Tree(stood).all());
        ASSERT_TRUE(again.ok()) << again.error().message;
        EXPECT_EQ(again->axles_x_m.size(), 2u);
        EXPECT_NEAR(again->wheels.front().radius_m, 0.25, 1e-3);
    }
}

/// A cart on three axles with what else turns in line with its wheels.
Document three_axles(const std::vector<Vec3>& besides) {
    Document d = empty_document();
    test::add_shaped(d, "frame", test::box({-1.5, -0.3, 0.5}, {1.5, 0.3, 0.7}));
    int number = 0;
    const auto add = [&](const Vec3& at) {
        test::add_shaped(d, "tyre " + std::to_string(number++), lugged_tyre(250, 0, 0), {},
                         {Quat(1, 0, 0, 0), at});
    };
    for (const double x : {1.2, 0.0, -1.2})
        for (const double y : {0.45, -0.45}) add({x, y, 0.25});
    for (const Vec3& at : besides) add(at);
    return d;
}

/// The lowest of the shapes and the lowest of the wheels differ by rounding: no track is thinner than
/// nothing.
TEST(VehicleLayout, ASpareWheelIsNoSprocketAndATrackNeedsNoShoes) {
    const Document spare = three_axles({{-0.6, 0.45, 0.9}});
    const auto with_spare = vehicle_layout(spare, Tree(spare).all());
    ASSERT_TRUE(with_spare.ok());
    EXPECT_EQ(with_spare->wheels.size(), 6u);
    EXPECT_TRUE(with_spare->runners.empty());
    const Document crawler = three_axles({{1.9, 0.45, 0.6}, {1.9, -0.45, 0.6}});
    const auto bare = vehicle_layout(crawler, Tree(crawler).all());
    ASSERT_TRUE(bare.ok());
    EXPECT_EQ(bare->runners.size(), 2u);
    EXPECT_EQ(bare->track_thickness_m, 0);
    for (const Document& d : {spare, crawler}) {
        json parts = json::array();
        for (const Part& part : d.parts) parts.push_back(part.name);
        const Document made = test::run(d, {{"op", "vehicle.make"}, {"parts", parts}, {"name", "Cart"}});
        EXPECT_EQ(made.vehicles.size(), 1u);
    }
}

TEST(VehicleLayout, ANamedWheelIsBelieved) {
    const Document d = on_wheels([](int) { return test::box({-0.2, -0.05, -0.25}, {0.2, 0.05, 0.25}); });
    std::vector<PartId> named;
    for (int i = 0; i < 4; ++i) named.push_back(test::named(d, "tyre " + std::to_string(i)));
    const auto layout = vehicle_layout(d, Tree(d).all(), named);
    ASSERT_TRUE(layout.ok()) << layout.error().message;
    ASSERT_EQ(layout->wheels.size(), 4u);
    EXPECT_EQ(layout->axles_x_m.size(), 2u);
    EXPECT_NEAR(layout->wheels[0].radius_m, std::hypot(0.2, 0.25), 1e-6) << "its farthest corner";
    EXPECT_NEAR(layout->wheels[0].hub.z(), 0.25, 1e-6);
}

TEST(Vehicle, TwinsOfUnequalRadiusAreTold) {
    const auto finding = [](double left_mm, double right_mm) -> std::string {
        Document d = on_wheels([&](int i) { return lugged_tyre(i == 0 ? left_mm : right_mm, 0, 0); });
        d = test::run(d, {{"op", "vehicle.make"},
                          {"name", "cart"},
                          {"parts", {"frame", "tyre 0", "tyre 1", "tyre 2", "tyre 3"}}});
        for (const Finding& f : check_document(d))
            if (f.code == "vehicle.twins") return f.message;
        return "";
    };
    EXPECT_EQ(finding(250, 250), "");
    EXPECT_EQ(finding(250, 250.4), "") << "0.16 %";
    const std::string told = finding(256, 250);
    EXPECT_NE(told.find("6.000 mm"), std::string::npos) << told;
}

TEST(VehicleLayout, FindsTheRoadWheelsOfATrackedVehicle) {
    const Document& d = stood_groomer();
    const auto layout = vehicle_layout(d, Tree(d).all());
    ASSERT_TRUE(layout.ok()) << layout.error().message;
    EXPECT_EQ(layout->wheels.size(), 10u);
    EXPECT_EQ(layout->axles_x_m.size(), 5u);
    ASSERT_EQ(layout->runners.size(), 4u) << "a sprocket and an idler on each side";
    for (const FoundWheel& runner : layout->runners) EXPECT_GT(runner.hub.z() - runner.radius_m, 0.1);
    EXPECT_NEAR(layout->track_thickness_m, 0.04, 1e-3) << "from the wheels down to the shoe's cleats";
}

// Source: rolling without slip; a track is as long on the one wheel as on the other. Its pitch circle has the
// radius p / (2 sin(180° / z)) (ISO 606).
TEST(Vehicle, ACrawlersSprocketsAndIdlersTurnWithItsTracks) {
    Document d = stood_groomer();
    json all = json::array();
    const Tree tree(d);
    for (const PartId id : tree.roots()) all.push_back(id.value);
    d = test::run(d,
                  {{"op", "vehicle.make"}, {"parts", all}, {"name", "Groomer"}, {"track_pitch", "140 mm"}});
    ASSERT_EQ(d.vehicles.size(), 1u);
    const Vehicle& vehicle = *d.vehicles.begin();
    ASSERT_EQ(vehicle.runners.size(), 4u);
    EXPECT_FALSE(vehicle.steering) << "it steers by its tracks";
    const auto turn = [&](const Document& at, PartId part) {
        const auto evaluator = Evaluator::compile(at);
        EXPECT_TRUE(evaluator.ok());
        Pose pose = evaluator->make_pose();
        evaluator->evaluate(0, pose);
        for (const WheelStand& stand : pose.wheels) EXPECT_NEAR(stand.gap_m, 0, 1e-9);
        return pose.channels[*evaluator->channel_slot({part, ChannelKind::Turn})];
    };
    const auto moved = [&](const char* channel, double value) {
        return test::run(
            d, {{"op", "channel.set"}, {"parts", {"Groomer place"}}, {"channel", channel}, {"value", value}});
    };
    const Document ahead = moved("shift_x", 4), round = moved("turn_z", 1);
    int sprockets = 0;
    for (const PartId id : vehicle.runners) {
        const std::string& name = d.parts.find(id)->name;
        const bool sprocket = name.find("sprocket") != std::string::npos;
        const double radius = sprocket ? 0.5 * 0.14 / std::sin(pi / 16) : 0.33;
        sprockets += sprocket;
        EXPECT_NEAR(std::abs(turn(ahead, id)), 4 / radius, 2e-3 * 4 / radius) << name;
        // Its track runs where the wheels are.
        const double left = world_from_rest(d, id).translation.y() > 0 ? 0.92 : -0.92;
        // Turning left on the spot, the left track runs back.
        const double sign = world_from_rest(d, id).axis(d.parts.find(id)->joint.axis).y() > 0 ? 1 : -1;
        EXPECT_NEAR(sign * turn(round, id), -left / radius, 2e-3 * std::abs(left / radius)) << name;
    }
    EXPECT_EQ(sprockets, 2);
    for (const VehicleWheel& wheel : vehicle.wheels)
        EXPECT_NEAR(std::abs(turn(ahead, wheel.wheel)), 4 / 0.26, 0.05);
    const auto make = [&](json more) {
        json step{{"op", "vehicle.make"}, {"parts", all}, {"name", "Groomer"}};
        step.update(more);
        return test::run(stood_groomer(), step);
    };
    EXPECT_TRUE(make({{"tracks", false}}).vehicles.begin()->runners.empty());
    EXPECT_EQ(make({{"tracks", false}}).vehicles.begin()->track_thickness_m, 0);
    const Document one = make({{"runners", {vehicle.runners.front().value}}});
    EXPECT_EQ(one.vehicles.begin()->runners.size(), 1u);
    for (const PartId runner : vehicle.runners)
        EXPECT_TRUE(is_below(one, runner, one.vehicles.begin()->body)) << "none is left behind";
    const Document thin = test::run(d, {{"op", "vehicle.set"}, {"vehicle", "Groomer"}, {"track", "25 mm"}});
    EXPECT_NEAR(thin.vehicles.begin()->track_thickness_m, 0.025, 1e-12);
    EXPECT_EQ(test::refusal(d, {{"op", "vehicle.set"}, {"vehicle", "Groomer"}, {"track", -1}}).code,
              "vehicle.track");
    EXPECT_EQ(
        test::refusal(d, {{"op", "coupling.lean"}, {"parts", {vehicle.wheels.front().wheel.value}}}).code,
        "lean.vehicle");
    // The pins that the wheels turn on go up and down with them, so that nothing meets inside the travel.
    for (const VehicleWheel& wheel : vehicle.wheels) {
        const Tree now(d);
        EXPECT_EQ(now.children(wheel.suspension).size(), 2u) << "the wheel and its pin";
    }
    for (const Finding& f : check_document(d)) EXPECT_NE(f.stage, Stage::Pivots) << f.message;
    const Document removed = test::run(d, {{"op", "vehicle.remove"}, {"vehicle", "Groomer"}});
    EXPECT_EQ(removed.couplings.size(), 0u);
}

}  // namespace
}  // namespace pivrak
