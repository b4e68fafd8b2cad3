#include "tests/core/operations/travel/riders.h"

namespace pivrak {
namespace {

TEST(RideOperations, CarriagesStandOnBogiesThatTurnUnderThem) {
    Document d = yard();
    for (const auto& [name, x] : {std::pair{"front bogie", 1.3}, {"rear bogie", -1.3}})
        test::add_shaped(d, name, test::box({-0.4, -0.4, -0.3}, {0.4, 0.4, 0}), named(d, "car"),
                         {Quat(1, 0, 0, 0), Vec3(x, 0, -0.1)});
    json step{{"op", "ride.string"},
              {"parts", {"car"}},
              {"path", "ring"},
              {"count", 3},
              {"gap", 0.3},
              {"height", "50 cm"},
              {"bogies", {"front bogie", "rear bogie"}}};
    const Document on = test::run(d, step);
    EXPECT_EQ(on.parts.size(), d.parts.size() + 6);
    const Document moved =
        test::run(on, {{"op", "channel.set"}, {"parts", {"car"}}, {"channel", "along"}, {"value", 7}});
    for (const Document& at : {on, moved})
        for (const auto& [car, front, rear] : {std::tuple{"car", "front bogie", "rear bogie"},
                                               {"car 2", "front bogie 2", "rear bogie 2"},
                                               {"car 3", "front bogie 3", "rear bogie 3"}}) {
            const Frame body = world_of(at, car);
            for (const auto& [bogie, x] : {std::pair{front, 1.3}, {rear, -1.3}}) {
                const Frame own = world_of(at, bogie);
                EXPECT_LT((own.translation - body.point({x, 0, -0.1})).norm(), 1e-9)
                    << bogie << " under its body";
                EXPECT_NEAR(own.translation.head<2>().norm(), 20, 1e-9) << "on the rail";
                EXPECT_NEAR(own.axis(0).dot(own.translation.normalized()), 0, 1e-3) << "along the rail";
                EXPECT_NEAR(std::acos(own.axis(0).dot(body.axis(0))), std::asin(1.3 / 20), 1e-6)
                    << "turned under it";
            }
        }
    for (const Finding& f : check_document(moved)) EXPECT_NE(f.code, "ride.coupler") << f.message;
    step["bogies"] = {"front bogie"};
    EXPECT_EQ(test::refusal(d, step).code, "ride.bogies");
    step["bogies"] = {"front bogie", "rear bogie"};
    step["coupling"] = "shared";
    EXPECT_EQ(test::refusal(d, step).code, "ride.bogies");
}

/// A wheel of 0.35 m on a ring of 20 m turns 57.14 times a lap.
TEST(RideOperations, WheelsTurnWholeTimesALapWhereThatIsWanted) {
    Document d = yard();
    d = test::run(d, {{"op", "stand_in.add"},
                      {"kind", "wheel"},
                      {"name", "wheel"},
                      {"diameter", 0.7},
                      {"width", 0.2},
                      {"axis", "y"},
                      {"at", {0, 0, 0.35}},
                      {"under", "car"}});
    d = test::run(d, {{"op", "joint.set"}, {"parts", {"wheel"}}, {"kind", "hinge"}, {"axis", "x"}});
    d = test::run(d, {{"op", "ride.set"}, {"parts", {"car"}}, {"path", "ring"}});
    d = test::run(d, {{"op", "coupling.roll"}, {"parts", {"wheel"}}, {"rider", "car"}});
    for (const auto& [frame, along] : {std::pair{0, 0.0}, {96, 40 * pi}})
        d = test::run(d, {{"op", "key.set"},
                          {"parts", {"car"}},
                          {"channel", "along"},
                          {"frame", frame},
                          {"value", along},
                          {"interpolation", "linear"}});
    d = test::run(d, {{"op", "clip.set"}, {"last_frame", 96}, {"loop", true}});
    const auto seam = [](const Document& at) {
        for (const Finding& f : check_document(at))
            if (f.code == "wheel.seam") return f;
        return Finding{};
    };
    const Finding found = seam(d);
    ASSERT_EQ(found.code, "wheel.seam");
    const double wanted = 360 * (40 * pi / (2 * pi * 0.35) - 57);
    EXPECT_NE(found.message.find(fmt::format("{:.1f}°", wanted)), std::string::npos) << found.message;
    const auto mended = make_registry().run(d, found.fix);
    ASSERT_TRUE(mended.ok()) << mended.error().message;
    EXPECT_NE(mended->messages.front().find("57 times a lap"), std::string::npos) << mended->messages.front();
    EXPECT_EQ(seam(mended->document).code, "");
    EXPECT_LT(angle_between(world_of(mended->document, "wheel", 0).rotation,
                            world_of(mended->document, "wheel", 96).rotation),
              1e-6);
    // Cycles that begin again one frame after the last one played close there.
    const Document cycle = test::run(mended->document, {{"op", "clip.set"}, {"last_frame", 95}});
    EXPECT_EQ(seam(cycle).code, "");
    EXPECT_EQ(seam(test::run(d, {{"op", "clip.set"}, {"last_frame", 95}})).code, "wheel.seam");
    EXPECT_EQ(seam(test::run(d, {{"op", "clip.set"}, {"last_frame", 60}})).code, "") << "it drives away";
    EXPECT_EQ(test::refusal(d, {{"op", "coupling.whole_turns"}, {"parts", {"car"}}}).code, "roll.none");
}

TEST(RideOperations, SpreadEvenlyRoundAClosedPath) {
    Document d = yard();
    d = test::run(d, {{"op", "ride.string"},
                      {"parts", {"car"}},
                      {"path", "ring"},
                      {"count", 6},
                      {"coupling", "path"},
                      {"at", "10 m"}});
    const Vec3 first = world_of(d, "car").translation, fourth = world_of(d, "car 4").translation;
    EXPECT_LT((first + fourth).norm(), 1e-6) << "half way round";
    // One channel moves them all.
    d = test::run(d, {{"op", "channel.set"}, {"parts", {"car"}}, {"channel", "along"}, {"value", "15 m"}});
    const Vec3 now = world_of(d, "car 4").translation;
    EXPECT_NEAR(std::acos(now.dot(fourth) / 400), 5.0 / 20, 1e-6);
}

TEST(RideOperations, KeysOfAllChannelsTakeWhatMoves) {
    Document d = yard();
    d = test::run(d, {{"op", "joint.set"}, {"parts", {"car"}}, {"kind", "free"}});
    const auto tracks = [&](const Document& doc) { return clip_or_first(doc).tracks.size(); };
    EXPECT_EQ(tracks(test::run(d, {{"op", "key.set"}, {"parts", {"car"}}, {"channel", "all"}, {"frame", 0}})),
              6u)
        << "nothing moved yet: all of them";
    d = test::run(d, {{"op", "channel.set"}, {"parts", {"car"}}, {"channel", "turn_z"}, {"value", "20 deg"}});
    EXPECT_EQ(tracks(test::run(d, {{"op", "key.set"}, {"parts", {"car"}}, {"channel", "all"}, {"frame", 0}})),
              1u);
    d = test::run(d, {{"op", "ride.set"}, {"parts", {"car"}}, {"path", "ring"}});
    const Document keyed =
        test::run(d, {{"op", "key.set"}, {"parts", {"car"}}, {"channel", "all"}, {"frame", 0}});
    EXPECT_EQ(tracks(keyed), 2u) << "its turn, and how far it rides";
    Document still = empty_document();
    test::add_part(still, "post");
    EXPECT_EQ(
        test::refusal(still, {{"op", "key.set"}, {"parts", {"post"}}, {"channel", "all"}, {"frame", 0}}).code,
        "channel.fixed");
}

TEST(RideOperations, WhatDrivesAChannelIsNamed) {
    Document d = yard();
    d = test::run(d,
                  {{"op", "ride.string"}, {"parts", {"car"}}, {"path", "ring"}, {"count", 2}, {"gap", 0.2}});
    EXPECT_EQ(driver_name(d, {named(d, "car 2"), ChannelKind::Along}), "car");
    EXPECT_FALSE(driver_name(d, {named(d, "car"), ChannelKind::Along}).has_value());
    const PartId wheel = test::add_part(d, "wheel", named(d, "car"));
    test::make_hinge(d, wheel, 1);
    d = test::run(d, {{"op", "coupling.roll"}, {"parts", {"wheel"}}, {"radius", "40 cm"}});
    EXPECT_EQ(driver_name(d, {wheel, ChannelKind::Turn}), "its carrier's motion");
    const Error refused = test::refusal(d, {{"op", "channel.set"}, {"parts", {"wheel"}}, {"value", 1}});
    EXPECT_NE(refused.message.find("rolls as it is carried"), std::string::npos) << refused.message;
    EXPECT_EQ(test::refusal(d, {{"op", "coupling.roll"}, {"parts", {"wheel"}}, {"radius", 1}}).code,
              "roll.driven_twice");
    EXPECT_EQ(test::refusal(d, {{"op", "joint.set"}, {"parts", {"wheel"}}, {"kind", "slide"}}).code,
              "joint.coupled");
    d = test::run(d, {{"op", "coupling.remove"}, {"driven", {"wheel"}}});
    EXPECT_FALSE(driver_name(d, {wheel, ChannelKind::Turn}).has_value());
    EXPECT_EQ(
        test::refusal(d, {{"op", "coupling.roll"}, {"parts", {"wheel"}}, {"radius", 1}, {"rider", "wheel"}})
            .code,
        "roll.no_path");
}

TEST(RideOperations, AWheelWhoseRiderLeavesItsPathRollsByAnyMotion) {
    Document d = yard();
    d = test::run(d, {{"op", "ride.set"}, {"parts", {"car"}}, {"path", "ring"}});
    const PartId wheel = test::add_part(d, "wheel", named(d, "car"));
    test::make_hinge(d, wheel, 1);
    d = test::run(d, {{"op", "coupling.roll"}, {"parts", {"wheel"}}, {"radius", 0.5}, {"rider", "car"}});
    d = test::run(d, {{"op", "ride.remove"}, {"parts", {"car"}}});
    d = test::run(d, {{"op", "joint.set"}, {"parts", {"car"}}, {"kind", "slide"}, {"axis", "x"}});
    d = test::run(d, {{"op", "channel.set"}, {"parts", {"car"}}, {"channel", "shift"}, {"value", 2}});
    const auto evaluator = Evaluator::compile(d);
    ASSERT_TRUE(evaluator.ok()) << evaluator.error().message;
    Pose pose = evaluator->make_pose();
    evaluator->evaluate(0, pose);
    EXPECT_NEAR(pose.channels[*evaluator->channel_slot({wheel, ChannelKind::Turn})], 4, 1e-9);
}

TEST(RideOperations, AnEditThatWouldRunTheRigInACircleIsRefused) {
    Document d = yard();
    test::add_part(d, "boat");
    d = test::run(d, {{"op", "path.carry"}, {"path", "ring"}, {"under", "boat"}});
    d = test::run(d, {{"op", "ride.set"}, {"parts", {"car"}}, {"path", "ring"}});
    const Error refused = test::refusal(d, {{"op", "tree.parent"}, {"parts", {"boat"}}, {"under", "car"}});
    EXPECT_EQ(refused.code, "rig.loop");
    EXPECT_NE(refused.message.find("boat"), std::string::npos) << refused.message;
    EXPECT_NE(refused.message.find("car"), std::string::npos);
}

TEST(RideOperations, SteeringIsMeasuredFromTheTurningAxle) {
    Document d = empty_document();
    test::make_hinge(d, test::add_part(d, "wheel"));
    const PartId left = test::add_part(d, "left", {}, {Quat(1, 0, 0, 0), Vec3(5, 0.8, 0.4)});
    test::make_hinge(d, left);
    d = test::run(d, {{"op", "coupling.steer"},
                      {"driver", "wheel"},
                      {"parts", {"left"}},
                      {"turning", {2, 0, 0}},
                      {"reference", 3}});
    const Steer& steer = *d.couplings.begin()->as<Steer>();
    EXPECT_NEAR(steer.forward_m, 3, 1e-12);
    EXPECT_NEAR(steer.left_m, 0.8, 1e-12);
    const auto code = [&](const json& step) { return test::refusal(d, step).code; };
    EXPECT_EQ(code({{"op", "coupling.steer"},
                    {"driver", "wheel"},
                    {"parts", {"left"}},
                    {"turning", {0, 0, 0}},
                    {"reference", 3}}),
              "steer.driven_twice");
    test::add_part(d, "post");
    EXPECT_EQ(code({{"op", "coupling.steer"},
                    {"driver", "wheel"},
                    {"parts", {"post"}},
                    {"turning", {0, 0, 0}},
                    {"reference", 3}}),
              "steer.not_hinge");
    EXPECT_EQ(code({{"op", "coupling.steer"},
                    {"driver", "wheel"},
                    {"parts", {"left"}},
                    {"turning", {0, 0, 0}},
                    {"reference", 0}}),
              "steer.reference");
}

TEST(RideOperations, AShareOfThePathIsAValueToo) {
    Document d = empty_document();
    test::add_part(d, "car");
    d = test::run(d, {{"op", "path.add"},
                      {"name", "line"},
                      {"form", "line"},
                      {"points", json::array({{0, 0, 0}, {8, 0, 0}})}});
    d = test::run(d, {{"op", "ride.set"}, {"parts", {"car"}}, {"path", "line"}});
    d = test::run(d, {{"op", "channel.set"}, {"parts", {"car"}}, {"channel", "along"}, {"value", "25 %"}});
    EXPECT_NEAR(d.parts.find(test::named(d, "car"))->joint.along.value, 2, 1e-12);
    d = test::run(
        d, {{"op", "key.set"}, {"parts", {"car"}}, {"channel", "along"}, {"frame", 10}, {"value", "100 %"}});
    const Track* track = clip_or_first(d).track({test::named(d, "car"), ChannelKind::Along});
    ASSERT_NE(track, nullptr);
    EXPECT_NEAR(track->keys.front().value, 8, 1e-12);
    EXPECT_FALSE(
        make_registry()
            .run(d, {{"op", "channel.set"}, {"parts", {"car"}}, {"channel", "along"}, {"value", "many %"}})
            .ok());
}

}  // namespace
}  // namespace pivrak
