// From raw models to vehicles that drive, by jobs.
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
