// From raw models to vehicles that drive, by jobs.
#include <gtest/gtest.h>

#include <cmath>
#include <functional>

#include "core/checks/findings.h"
#include "core/checks/travel/slip_check.h"
#include "core/rig/vehicles/vehicle_layout.h"
#include "demo/vehicles.h"
#include "tests/support/jobs.h"

namespace pivrak {
namespace {

using nlohmann::json;
using test::named;

const json tyres_of_truck{"truck", "tyres 1", "tyres 2", "tyres 3", "tyres 4"};
const json tyres_of_trailer{"trailer", "tyres 5", "tyres 6", "tyres 7", "tyres 8"};

json raw_truck_steps() {
    return {{{"op", "model.stand"}, {"scale", 0.01}, {"ground", true}, {"centre", true}},
            {{"op", "tree.tidy"}},
            {{"op", "split.pieces"}, {"parts", {"tyres"}}}};
}

json vehicle_steps(const char* ground) {
    json truck{{"op", "vehicle.make"}, {"parts", tyres_of_truck}, {"name", "Truck"}, {"kingpin", "160 mm"}};
    json trailer{{"op", "vehicle.make"},
                 {"parts", tyres_of_trailer},
                 {"name", "Trailer"},
                 {"hitch", "Truck body"},
                 {"hitch_at", {{"part", "drawbar eye"}, {"at", "middle"}}},
                 {"turntable", {"turntable"}},
                 {"drawbar", {"drawbar", "drawbar eye"}}};
    if (ground) truck["ground"] = trailer["ground"] = ground;
    return {truck, trailer};
}

json drive_steps(double from, double to, int frames) {
    const auto key = [](int frame, double along) {
        return json{{"op", "key.set"}, {"parts", {"Truck place"}}, {"channel", "along"},
                    {"frame", frame},  {"value", along},           {"interpolation", "linear"}};
    };
    return {{{"op", "path.add"},
             {"name", "road"},
             {"points", json::array({{-30, -5, 0}, {-15, -6, 0}, {0, 0, 0}, {15, 5, 0}, {30, 4, 0}})}},
            {{"op", "ride.set"}, {"parts", {"Truck place"}}, {"path", "road"}},
            {{"op", "clip.set"}, {"first_frame", 0}, {"last_frame", frames}},
            key(0, from),
            key(frames, to)};
}

json together(std::initializer_list<json> lists) {
    json all = json::array();
    for (const json& list : lists) all.insert(all.end(), list.begin(), list.end());
    return all;
}

const Document& raw_truck() {
    static const Document truck =
        test::by_job(demo::supply_truck(), {{"import", "model.glb"}, {"steps", raw_truck_steps()}});
    return truck;
}

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
Document on_wheels(const std::function<Mesh(int)>& tyre) {
    Document d = empty_document();
    test::add_shaped(d, "frame", test::box({-1.2, -0.3, 0.5}, {1.2, 0.3, 0.7}));
    int number = 0;
    for (const double x : {0.8, -0.8})
        for (const double y : {0.45, -0.45}) {
            test::add_shaped(d, "tyre " + std::to_string(number), tyre(number), {},
                             {Quat(1, 0, 0, 0), Vec3(x, y, 0.25)});
            test::add_shaped(d, "flap " + std::to_string(number),
                             test::box({-0.25, -0.04, -0.25}, {0.25, 0.04, 0.25}), {},
                             {Quat(1, 0, 0, 0), Vec3(x - 0.6, y, 0.25)});
            ++number;
        }
    return d;
}

Mesh lugged_tyre(double radius_mm, int lugs, double depth_mm) {
    Solid solid = wheel({radius_mm, 120, 0.6 * radius_mm, 60, lugs, depth_mm, 0});
    solid.lay_along(1);
    return test::to_mesh(solid);
}

/// A tyre with three wide notches: cylinders cover less than three quarters of it.
Mesh notched_tyre(double radius) {
    std::vector<Vec2> outline;
    for (int i = 0; i < 72; ++i) {
        const double angle = 2 * pi * i / 72;
        const bool notch = i % 24 < 7;
        outline.push_back((notch ? 0.955 : 1.0) * radius * 1000 * Vec2(std::cos(angle), std::sin(angle)));
    }
    Solid solid = extrude(outline, {}, -60, 60);
    solid.lay_along(1);
    return test::to_mesh(solid);
}

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

const Document& stood_groomer() {
    static const Document groomer =
        test::by_job(demo::groomer(),
                     {{"import", "model.glb"},
                      {"steps", {{{"op", "model.stand"}, {"up", "+z"}, {"front", "-x"}, {"ground", true}}}}});
    return groomer;
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
struct OneAxle {
    Document d = empty_document();
    PartId tug;

    explicit OneAxle(double length, double side_slope = 0) {
        Mesh ground;
        for (const double x : {-40.0, 0.0, 40.0})
            for (const double y : {-6.0, 6.0})
                ground.positions.push_back(Vec3(x, y, x < 0 ? 0 : 0.3 * x + side_slope * y).cast<float>());
        ground.indices = {0, 2, 3, 0, 3, 1, 2, 4, 5, 2, 5, 3};
        ground.submeshes.push_back({MaterialId{}, 0, 12, {}});
        test::add_shaped(d, "ground", ground);
        tug = test::add_part(d, "tug", {}, {Quat(1, 0, 0, 0), Vec3(0, 0, 0.5)});
        Part part = *d.parts.find(tug);
        part.joint.kind = JointKind::Free;
        d.parts.set(part);
        test::add_shaped(d, "bed", test::box({-length - 1, -0.7, 0.5}, {0, 0.7, 0.8}));
        for (const double y : {-0.9, 0.9}) {
            Solid tyre = pivrak::shaft(400, -90, 90, 0, 96);
            tyre.lay_along(1);
            test::add_shaped(d, y < 0 ? "right" : "left", test::to_mesh(tyre), {},
                             {Quat(1, 0, 0, 0), Vec3(-length, y, 0.4)});
        }
        d = test::run(d, {{"op", "vehicle.make"},
                          {"parts", {"bed", "left", "right"}},
                          {"name", "Trailer"},
                          {"hitch", "tug"},
                          {"hitch_at", {0, 0, 0.5}},
                          {"ground", "ground"}});
        d = test::run(d, {{"op", "clip.set"}, {"first_frame", 0}, {"last_frame", 48}});
        for (const auto& [channel, way] : {std::pair("shift_x", 20.0), std::pair("shift_z", 6.0)})
            for (const int frame : {0, 48})
                d = test::run(d, {{"op", "key.set"},
                                  {"parts", {"tug"}},
                                  {"channel", channel},
                                  {"frame", frame},
                                  {"value", frame / 48.0 * way},
                                  {"interpolation", "linear"}});
    }
};

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
