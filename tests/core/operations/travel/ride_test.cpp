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
