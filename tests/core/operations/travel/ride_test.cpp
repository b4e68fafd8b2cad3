// Riders, strings of carriages, rolling and steering as operations: what they measure, refuse and say.
#include "tests/core/operations/travel/riders.h"

namespace pivrak {
namespace {

TEST(RideOperations, ARiderKeepsWhatIsNotChanged) {
    Document d = yard();
    d = test::run(d, {{"op", "ride.set"},
                      {"parts", {"car"}},
                      {"path", "ring"},
                      {"side", "0.5 m"},
                      {"lead", "-y"},
                      {"at", "50 %"}});
    EXPECT_EQ(ride_of(d, "car").axis, 1);
    EXPECT_TRUE(ride_of(d, "car").against);
    d = test::run(d, {{"op", "ride.set"}, {"parts", {"car"}}, {"height", "20 cm"}});
    EXPECT_EQ(ride_of(d, "car").side_m, 0.5);
    EXPECT_EQ(ride_of(d, "car").height_m, 0.2);
    const Frame world = world_of(d, "car");
    EXPECT_NEAR(world.translation.head<2>().norm(), 19.5, 1e-9)
        << "left of a ring run anticlockwise is inside";
    EXPECT_NEAR(world.translation.z(), 0.2, 1e-9);
    EXPECT_NEAR(world.axis(1).y(), 1, 1e-9) << "half way round it goes towards -Y, and looks back";
    d = test::run(d, {{"op", "ride.remove"}, {"parts", {"car"}}});
    EXPECT_LT(world_of(d, "car").translation.norm(), 1e-12) << "it stands where it rests";
    EXPECT_EQ(test::refusal(d, {{"op", "ride.remove"}, {"parts", {"car"}}}).code, "ride.none");
}

TEST(RideOperations, LimitsAndLocksHoldAlongThePathToo) {
    Document d = yard();
    d = test::run(d, {{"op", "ride.set"}, {"parts", {"car"}}, {"path", "ring"}});
    d = test::run(
        d, {{"op", "joint.set"}, {"parts", {"car"}}, {"channel", "along"}, {"min", "1 m"}, {"max", "9 m"}});
    d = test::run(d, {{"op", "channel.set"}, {"parts", {"car"}}, {"channel", "along"}, {"value", "30 m"}});
    EXPECT_EQ(d.parts.find(named(d, "car"))->joint.along.value, 9);
    d = test::run(d, {{"op", "joint.set"}, {"parts", {"car"}}, {"channel", "along"}, {"locked", true}});
    EXPECT_EQ(
        test::refusal(d, {{"op", "channel.set"}, {"parts", {"car"}}, {"channel", "along"}, {"value", 2}})
            .code,
        "channel.locked");
}

TEST(RideOperations, ARiderMovesByItsJointFromWhereThePathPutsIt) {
    Document d = yard();
    d = test::run(d, {{"op", "ride.set"}, {"parts", {"car"}}, {"path", "ring"}});
    d = test::run(d, {{"op", "joint.set"}, {"parts", {"car"}}, {"kind", "free"}});
    const Frame before = world_of(d, "car");
    d = test::run(d, {{"op", "channel.set"}, {"parts", {"car"}}, {"channel", "shift_y"}, {"value", 0.7}});
    EXPECT_LT((before.inverse().point(world_of(d, "car").translation) - Vec3(0, 0.7, 0)).norm(), 1e-9);
}

TEST(RideOperations, ACarriageIsMeasuredAndCopiedIntoAString) {
    Document d = yard();
    d = test::run(
        d, {{"op", "ride.string"}, {"parts", {"car"}}, {"path", "ring"}, {"count", 4}, {"gap", "50 cm"}});
    EXPECT_NEAR(ride_of(d, "car").front_m, 0.7 * 2, 1e-9) << "carried at seven tenths of its half length";
    EXPECT_EQ(ride_of(d, "car").coupler_rear_m, 2);
    EXPECT_FALSE(ride_of(d, "car").ahead);
    EXPECT_EQ(ride_of(d, "car 2").ahead, named(d, "car"));
    EXPECT_EQ(ride_of(d, "car 4").ahead, named(d, "car 3"));
    EXPECT_EQ(
        test::refusal(d, {{"op", "channel.set"}, {"parts", {"car 3"}}, {"channel", "along"}, {"value", 1}})
            .code,
        "channel.driven");
    for (const char* car : {"car 2", "car 3", "car 4"})
        for (const double at : {-1.4, 1.4}) {
            const Frame world = world_of(d, car);
            EXPECT_NEAR(world.point({at, 0, 0}).head<2>().norm(), 20, 1e-8) << "both points lie on the rail";
        }
}

/// Copies would all stand where the original rides: they get places of their own, keys with them, or leave
/// the path.
TEST(RideOperations, CopiesOfARiderStandApartOrLeaveThePath) {
    Document d =
        test::run(yard(), {{"op", "ride.set"}, {"parts", {"car"}}, {"path", "ring"}, {"at", "10 m"}});
    for (const auto& [frame, value] : {std::pair(0, 10.0), {100, 40.0}})
        d = test::run(d, {{"op", "key.set"},
                          {"parts", {"car"}},
                          {"channel", "along"},
                          {"frame", frame},
                          {"value", value}});
    const Document line =
        test::run(d, {{"op", "part.repeat_line"}, {"parts", {"car"}}, {"count", 3}, {"step", {0, 5, 0}}});
    for (const double frame : {0.0, 37.0, 100.0}) {
        // Each car is 4 m long: the world's distance over 4 m of a ring of 20 m is 2 r sin(4 / 2 r).
        const double apart = 40 * std::sin(4.0 / 40);
        const Vec3 first = world_of(line, "car", frame).translation,
                   second = world_of(line, "car 2", frame).translation,
                   third = world_of(line, "car 3", frame).translation;
        EXPECT_NEAR((first - second).norm(), apart, 1e-3);
        EXPECT_NEAR((second - third).norm(), apart, 1e-3);
    }
    // The image of where it rides, not of where it rests.
    const Vec3 there = world_of(d, "car").translation;
    const Document image = test::run(d, {{"op", "part.mirror"}, {"parts", {"car"}}, {"normal", {1, 0, 0}}});
    const Part& copy = *image.parts.find(named(image, "car 2"));
    EXPECT_FALSE(copy.ride.has_value());
    for (const double frame : {0.0, 100.0})
        EXPECT_LT(
            (world_of(image, "car 2", frame).translation - Vec3(-there.x(), there.y(), there.z())).norm(),
            1e-6);
    for (const Clip& clip : image.clips)
        EXPECT_EQ(clip.tracks.size(), 1u) << "its keys along the path went with it";
}

TEST(RideOperations, ARiderWhosePathIsGoneIsCopiedAsItIs) {
    Document d =
        test::run(yard(), {{"op", "ride.set"}, {"parts", {"car"}}, {"path", "ring"}, {"at", "10 m"}});
    d.paths.erase(ride_of(d, "car").path);
    const Document copied =
        test::run(d, {{"op", "part.duplicate"}, {"parts", {"car"}}, {"shift", {0, 5, 0}}});
    EXPECT_EQ(copied.parts.find(named(copied, "car 2"))->joint.along.value, 10);
}

TEST(RideOperations, ACoupledRiderIsCopiedIntoALongerString) {
    Document d = test::run(
        yard(), {{"op", "ride.string"}, {"parts", {"car"}}, {"path", "ring"}, {"count", 2}, {"gap", "1 m"}});
    std::vector<std::string> names;
    for (const Part& part : d.parts) names.push_back(part.name);
    const std::string second = names.back();
    const Document longer =
        test::run(d, {{"op", "part.repeat_line"}, {"parts", {second}}, {"count", 3}, {"step", {0, 0, 0.5}}});
    std::vector<PartId> cars;
    for (const Part& part : longer.parts) cars.push_back(part.id);
    ASSERT_EQ(cars.size(), 4u);
    for (std::size_t i = 1; i < cars.size(); ++i)
        EXPECT_EQ(longer.parts.find(cars[i])->ride->ahead, cars[i - 1]) << i;
}

/// A gondola on a loop that stands upright, a turn in 100 frames: plumb it turns round at the top and at the
/// bottom.
TEST(RideOperations, APlumbRiderThatTurnsRoundOnALoopIsToldAndMended) {
    Document d = empty_document();
    test::add_shaped(d, "gondola", test::box({-1, -0.5, -2}, {1, 0.5, 0}));
    json points = json::array();
    for (int k = 0; k < 16; ++k)
        points.push_back({10 * std::sin(k * pi / 8), 0, 10 - 10 * std::cos(k * pi / 8)});
    d = test::run(d, {{"op", "path.add"}, {"name", "loop"}, {"points", points}, {"closed", true}});
    d = test::run(d, {{"op", "ride.set"}, {"parts", {"gondola"}}, {"path", "loop"}, {"upright", "plumb"}});
    d = test::run(d, {{"op", "clip.set"}, {"first_frame", 0}, {"last_frame", 100}});
    for (const auto& [frame, value] : {std::pair(0, "0 m"), {100, "60 m"}})
        d = test::run(d, {{"op", "key.set"},
                          {"parts", {"gondola"}},
                          {"channel", "along"},
                          {"frame", frame},
                          {"value", value},
                          {"interpolation", "linear"}});
    const auto turning = [](const Document& document) {
        std::vector<Finding> found;
        for (const Finding& f : check_document(document))
            if (f.code == "ride.turns_round") found.push_back(f);
        return found;
    };
    const auto found = turning(d);
    ASSERT_EQ(found.size(), 1u);
    // A quarter round is where the path goes straight up: 60 m are nearly one round.
    ASSERT_TRUE(found[0].frame.has_value());
    EXPECT_NEAR(*found[0].frame, 26, 2);
    const Document mended = test::run(d, found[0].fix);
    EXPECT_TRUE(turning(mended).empty());
    Vec3 before = world_of(mended, "gondola", 0).axis(0);
    for (int frame = 1; frame <= 100; ++frame) {
        const Frame now = world_of(mended, "gondola", frame);
        EXPECT_NEAR(now.axis(2).z(), 1, 1e-9) << "level";
        EXPECT_GT(now.axis(0).dot(before), 0.99) << frame;
        before = now.axis(0);
    }
}

TEST(RideOperations, NeighboursOnSharedPointsMeetThere) {
    Document d = yard();
    d = test::run(d, {{"op", "ride.string"},
                      {"parts", {"car"}},
                      {"path", "ring"},
                      {"count", 3},
                      {"coupling", "shared"},
                      {"front", 1.8},
                      {"rear", 1.8}});
    for (const auto& [ahead, behind] : {std::pair{"car", "car 2"}, {"car 2", "car 3"}})
        EXPECT_LT((world_of(d, ahead).point({-1.8, 0, 0}) - world_of(d, behind).point({1.8, 0, 0})).norm(),
                  1e-7);
}

TEST(RideOperations, ASharedPointLiesInTheMiddleOfTheGap) {
    Document d = yard();
    json step{{"op", "ride.string"}, {"parts", {"car"}},     {"path", "ring"},
              {"count", 3},          {"coupling", "shared"}, {"gap", "60 cm"}};
    const Document coupled = test::run(d, step);
    for (const auto& [ahead, behind] : {std::pair{"car", "car 2"}, {"car 2", "car 3"}}) {
        const Frame a = world_of(coupled, ahead), b = world_of(coupled, behind);
        EXPECT_LT((a.point({-2.3, 0, 0}) - b.point({2.3, 0, 0})).norm(), 1e-9);
        EXPECT_NEAR((a.point({-2, 0, 0}) - b.point({2, 0, 0})).norm(), 0.6, 0.01) << "bodies, round the bend";
    }
    step["front"] = 1.8;
    EXPECT_EQ(test::refusal(d, step).code, "ride.gap");
    step.erase("gap");
    step["rear"] = 1.8;
    const auto told = make_registry().run(d, step);
    ASSERT_TRUE(told.ok());
    EXPECT_NE(told->messages.front().find("overlap by 400.0 mm"), std::string::npos)
        << told->messages.front();
}

/// Whether some place behind the one ahead holds a straight coupler of the gap: tried every few millimetres.
TEST(RideOperations, StraightCouplersHoldInTheTightestBends) {
    Document d = empty_document();
    test::add_shaped(d, "car", test::box({-2, -0.5, 0}, {2, 0.5, 1}));
    d = test::run(d, {{"op", "path.add"},
                      {"form", "smooth"},
                      {"name", "hairpins"},
                      {"closed", true},
                      {"points", json::array({{0, 0, 0},
                                              {14, 0, 0},
                                              {15, 2, 0},
                                              {14, 4, 0},
                                              {4, 4, 0},
                                              {3, 6, 0},
                                              {4, 8, 0},
                                              {14, 8, 0},
                                              {14, 12, 0},
                                              {-3, 12, 0},
                                              {-4, 6, 0}})}});
    d = test::run(
        d, {{"op", "ride.string"}, {"parts", {"car"}}, {"path", "hairpins"}, {"count", 5}, {"gap", 0.3}});
    const auto curve = PathCurve::make(*d.paths.begin());
    const RiddenPath ridden{*curve, {}, {}};
    const auto evaluator = Evaluator::compile(d);
    ASSERT_TRUE(evaluator.ok());
    Pose pose = evaluator->make_pose();
    const auto slot = *evaluator->channel_slot({named(d, "car"), ChannelKind::Along});
    double least = 1e300, most = 0;
    int without = 0, looks = 0;
    for (double along = 0; along < curve->length(); along += 0.45) {
        evaluator->evaluate(0, pose, HeldChannel{slot, along});
        for (const auto& [ahead, behind] :
             {std::pair{"car", "car 2"}, {"car 2", "car 3"}, {"car 3", "car 4"}, {"car 4", "car 5"}}) {
            const auto frame = [&](const char* car) {
                return pose.world_from_part[*evaluator->part_slot(named(d, car))];
            };
            const Vec3 coupler = frame(ahead).point({-2, 0, 0});
            const double gap = (coupler - frame(behind).point({2, 0, 0})).norm();
            const double at = pose.channels[*evaluator->channel_slot({named(d, ahead), ChannelKind::Along})];
            ++looks;
            if (std::abs(gap - 0.3) > 1e-9) {
                EXPECT_FALSE(a_place_exists(ridden, ride_of(d, behind), coupler, at))
                    << behind << " at " << along << ": " << gap;
                ++without;
            }
            least = std::min(least, gap);
            most = std::max(most, gap);
        }
    }
    EXPECT_GT(without, 0) << "some bends are too tight for any";
    EXPECT_LT(without, looks / 3) << "between " << least << " and " << most;
}

TEST(RideOperations, ABendTooTightForACouplerIsAFinding) {
    Document d = empty_document();
    test::add_shaped(d, "car", test::box({-2, -0.5, 0}, {2, 0.5, 1}));
    d = test::run(d, {{"op", "path.add"},
                      {"form", "polyline"},
                      {"name", "corner"},
                      {"points", json::array({{-30, 0, 0}, {0, 0, 0}, {-20, 3, 0}})}});
    d = test::run(
        d, {{"op", "ride.string"}, {"parts", {"car"}}, {"path", "corner"}, {"count", 2}, {"gap", 0.3}});
    for (const auto& [frame, along] : {std::pair{0, "20 m"}, {48, "40 m"}})
        d = test::run(d, {{"op", "key.set"},
                          {"parts", {"car"}},
                          {"channel", "along"},
                          {"frame", frame},
                          {"value", along},
                          {"interpolation", "linear"}});
    d = test::run(d, {{"op", "clip.set"}, {"last_frame", 48}});
    std::string told;
    for (const Finding& f : check_document(d))
        if (f.code == "ride.coupler") told = f.message;
    EXPECT_NE(told.find("'car 2' to 'car'"), std::string::npos) << told;
    d = test::run(d, {{"op", "key.remove"}, {"parts", {"car"}}, {"channel", "along"}});
    for (const Finding& f : check_document(d)) EXPECT_NE(f.code, "ride.coupler") << "straight on it is none";
}

}  // namespace
}  // namespace pivrak
