// Findings of paths, rides, vehicles and rolling wheels, and the slip check on drives with a known answer.
#include <fmt/format.h>
#include <gtest/gtest.h>

#include <cmath>
#include <map>

#include "core/checks/findings.h"
#include "core/checks/travel/slip_check.h"
#include "tests/support/documents.h"

namespace pivrak {
namespace {

using nlohmann::json;
using test::named;

/// A car of four wheels made of stand-ins, rigged, on the floor.
Document car(const json& more = json::object()) {
    Document d = empty_document();
    json wheels = json::array();
    for (const double x : {1.2, -1.2})
        for (const double y : {0.8, -0.8}) {
            const std::string name = fmt::format("wheel {}", wheels.size());
            d = test::run(d, {{"op", "stand_in.add"},
                              {"kind", "wheel"},
                              {"name", name},
                              {"diameter", 0.7},
                              {"width", 0.2},
                              {"axis", "y"},
                              {"at", {x, y, 0.35}}});
            wheels.push_back(name);
        }
    d = test::run(d, {{"op", "stand_in.add"},
                      {"kind", "box"},
                      {"name", "hull"},
                      {"length", 3},
                      {"width", 1.2},
                      {"height", 0.6},
                      {"at", {0, 0, 0.8}}});
    json parts = wheels;
    parts.push_back("hull");
    json make{{"op", "vehicle.make"}, {"parts", parts}, {"wheels", wheels}, {"name", "Car"}};
    make.update(more);
    return test::run(d, make);
}

Document with_keys(Document d, ChannelKind kind, std::vector<Key> keys) {
    Clip clip = clip_or_first(d);
    clip.last_frame = 60;
    clip.track_or_new({named(d, "Car place"), kind}).keys = std::move(keys);
    d.clips.set(clip);
    return d;
}

std::map<std::string, int> codes(const Document& d) {
    std::map<std::string, int> count;
    for (const Finding& f : check_document(d)) ++count[f.code];
    return count;
}

TEST(Vehicles, AreMadeOfNamedFramesThatNobodyDelivers) {
    const Document d = car();
    for (const char* name :
         {"Car place", "Car yaw", "Car ground level", "Car body", "Car steering", "Car suspension front left",
          "Car suspension rear right", "Car kingpin front right"})
        EXPECT_TRUE(find_part(d, name).ok()) << name;
    EXPECT_FALSE(find_part(d, "Car kingpin rear left").ok()) << "the rear axle does not steer";
    for (const char* control : {"Car place", "Car yaw", "Car body", "Car steering"}) {
        ASSERT_TRUE(d.parts.find(named(d, control))->is_control()) << control;
        EXPECT_GT(d.parts.find(named(d, control))->control->half_m.minCoeff(), 0);
    }
    EXPECT_EQ(d.parts.find(named(d, "hull"))->parent, named(d, "Car body"));
    const Vehicle& vehicle = *d.vehicles.begin();
    ASSERT_EQ(vehicle.wheels.size(), 4u);
    for (const VehicleWheel& wheel : vehicle.wheels) {
        const Frame world = world_from_rest(d, wheel.wheel);
        EXPECT_GT(world.axis(1).y(), 1 - 1e-9) << "every axle points to the left, so all turn alike";
        EXPECT_EQ(d.parts.find(wheel.suspension)->joint.kind, JointKind::Slide);
    }
    EXPECT_NEAR(world_from_rest(d, named(d, "Car place")).translation.x(), -1.2, 1e-6)
        << "over the rear axle";
    EXPECT_NEAR(world_from_rest(d, named(d, "Car place")).translation.z(), 0, 1e-6) << "on the floor";
}

TEST(Vehicles, EveryAxlePointsToTheMiddleOfTheBend) {
    Document d = car();
    Part steering = *d.parts.find(named(d, "Car steering"));
    steering.joint.turn.value = 0.4;
    d.parts.set(steering);
    const auto evaluator = Evaluator::compile(d);
    Pose pose = evaluator->make_pose();
    evaluator->evaluate(0, pose);
    // The middle of the bend lies on the rear axle, at wheelbase / tan(angle) to the left.
    const Vec3 middle(-1.2, 2.4 / std::tan(0.4), 0);
    for (const VehicleWheel& wheel : d.vehicles.begin()->wheels) {
        const Frame world = pose.world_from_part[*evaluator->part_slot(wheel.wheel)];
        const Vec3 to = (middle - world.translation).cwiseProduct(Vec3(1, 1, 0)).normalized();
        EXPECT_NEAR(std::abs(to.dot(world.axis(1))), 1, 1e-9);
    }
}

TEST(Vehicles, TheBodyLeansWithTheGroundAndByHandOnTopOfIt) {
    Document d = car();
    // A ground that rises to the left by 10 %.
    Mesh slope = test::box({-20, -20, -3}, {20, 20, 0});
    for (Vec3f& p : slope.positions) p.z() += 0.1f * p.y();
    test::add_shaped(d, "slope", slope);
    d = test::run(d, {{"op", "vehicle.set"}, {"vehicle", "Car"}, {"ground", "slope"}});
    const auto up_of = [&](const Document& doc, const char* part) {
        const auto evaluator = Evaluator::compile(doc);
        Pose pose = evaluator->make_pose();
        evaluator->evaluate(0, pose);
        return Vec3(pose.world_from_part[*evaluator->part_slot(named(doc, part))].axis(2));
    };
    EXPECT_NEAR(std::atan2(-up_of(d, "hull").y(), up_of(d, "hull").z()), std::atan(0.1), 2e-3);
    const Document stiff = test::run(d, {{"op", "vehicle.set"}, {"vehicle", "Car"}, {"roll", 0}});
    EXPECT_NEAR(up_of(stiff, "hull").z(), 1, 1e-6) << "it does not roll when told not to";
    d = test::run(
        d, {{"op", "channel.set"}, {"parts", {"Car body"}}, {"channel", "turn_x"}, {"value", "5 deg"}});
    EXPECT_NEAR(std::atan2(-up_of(d, "hull").y(), up_of(d, "hull").z()), std::atan(0.1) + 5 * rad_per_deg,
                2e-3);
}

TEST(Vehicles, SkiddingTurnsTheBodyAndIsToldAsSideways) {
    Document d = with_keys(car(), ChannelKind::ShiftX,
                           {{0, 0, Interpolation::Linear}, {60, 6, Interpolation::Linear}});
    const auto straight = slip_check(d, {});
    ASSERT_TRUE(straight.ok());
    for (const WheelSlip& wheel : straight->wheels) {
        EXPECT_NEAR(wheel.travelled_m, 6, 1e-6);
        EXPECT_LT(wheel.sideways_m, 1e-9);
        EXPECT_LT(wheel.share(), 1e-6);
    }
    d = test::run(d, {{"op", "channel.set"}, {"parts", {"Car yaw"}}, {"value", "30 deg"}});
    const auto skidding = slip_check(d, {});
    ASSERT_TRUE(skidding.ok());
    // Going on straight with the body turned by 30 degrees: half of the way is sideways.
    for (const WheelSlip& wheel : skidding->wheels) {
        EXPECT_NEAR(wheel.sideways_m, 6 * std::sin(30 * rad_per_deg), 1e-6);
        EXPECT_NEAR(wheel.travelled_m, 6 * std::cos(30 * rad_per_deg), 1e-6);
        EXPECT_LT(wheel.share(), 1e-6);
    }
}

TEST(SlipCheck, ALockedWheelSlidesItsWholeWay) {
    Document d = with_keys(car(), ChannelKind::ShiftX,
                           {{0, 0, Interpolation::Linear}, {60, 3, Interpolation::Linear}});
    const SharedTable<Coupling> couplings = d.couplings;
    for (Coupling coupling : couplings)
        if (auto* roll = std::get_if<Roll>(&coupling.what)) {
            roll->slip = -1;
            d.couplings.set(coupling);
        }
    const auto check = slip_check(d, {});
    for (const WheelSlip& wheel : check->wheels) {
        EXPECT_NEAR(wheel.slip_m, 3, 1e-9);
        EXPECT_EQ(wheel.slip_by_frame_m.size(), 61u);
        EXPECT_NEAR(wheel.slip_by_frame_m[30], 1.5, 1e-9);
    }
    EXPECT_EQ(slip_check(empty_document(), {}).error().code, "slip.none");
}

TEST(SlipCheck, CanBeCancelled) {
    const Document d = with_keys(car(), ChannelKind::ShiftX, {{0, 0}, {60, 3}});
    const auto check = slip_check(d, {}, Progress([](double, std::string_view) { return false; }));
    ASSERT_FALSE(check.ok());
    EXPECT_EQ(check.error().code, "slip.cancelled");
}

TEST(TravelFindings, AWheelThatLostItsShapeAndAGroundThatLostItsOwn) {
    Document d = car();
    EXPECT_EQ(codes(d)["roll.no_radius"], 0);
    Part wheel = *d.parts.find(named(d, "wheel 0"));
    wheel.shape = {};
    d.parts.set(wheel);
    EXPECT_EQ(codes(d)["roll.no_radius"], 1);
    EXPECT_TRUE(Evaluator::compile(d).ok()) << "it stands still, and nothing else suffers";
    const PartId bare = test::add_part(d, "bare");
    Vehicle vehicle = *d.vehicles.begin();
    vehicle.ground = bare;
    d.vehicles.set(vehicle);
    EXPECT_EQ(codes(d)["vehicle.ground"], 1);
    EXPECT_EQ(test::refusal(d, {{"op", "vehicle.set"}, {"vehicle", "Car"}, {"ground", "bare"}}).code,
              "vehicle.ground");
}

TEST(TravelFindings, FramesBeforeTheStartAndFarAfterItAreFinite) {
    const Document d = with_keys(car(), ChannelKind::ShiftX, {{0, 0}, {60, 3}});
    const auto evaluator = Evaluator::compile(d);
    Pose pose = evaluator->make_pose();
    for (const double frame : {-1e9, -500.0, -0.25, 0.0, 61.0, 4000.25}) {
        evaluator->evaluate(frame, pose);
        for (const Frame& world : pose.world_from_part) EXPECT_TRUE(world.translation.allFinite()) << frame;
        const double turn = pose.channels[*evaluator->channel_slot({named(d, "wheel 0"), ChannelKind::Turn})];
        EXPECT_NEAR(turn, frame <= 0 ? 0 : 3 / 0.35, 1e-5) << frame << ": the first and the last key hold";
    }
}

}  // namespace
}  // namespace pivrak
