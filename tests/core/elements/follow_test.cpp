// Channels that follow another one, judged from where parts stand in the world.
#include <gtest/gtest.h>

#include <random>

#include "core/checks/findings.h"
#include "core/elements/follow/follow_words.h"
#include "core/io/delivery/deliver.h"
#include "core/io/delivery/delivery_formats.h"
#include "core/io/project/project_file.h"
#include "core/model/part_fields.h"
#include "tests/core/elements/linkages.h"

namespace pivrak {
namespace {

using namespace test;
using nlohmann::json;

/// A cord that is pulled down, and slats that turn about x.
Document shutter(int slats = 1) {
    Document d = empty_document();
    const PartId cord = add_part(d, "cord", {}, {Quat(1, 0, 0, 0), Vec3(0.5, 0, 2)});
    d = run(d, {{"op", "joint.set"}, {"parts", {"cord"}}, {"kind", "slide"}, {"axis", "z"}});
    for (int i = 0; i < slats; ++i)
        make_hinge(
            d, add_part(d, "slat" + std::to_string(i + 1), {}, {Quat(1, 0, 0, 0), Vec3(0, 0, 0.1 * i)}), 0);
    EXPECT_TRUE(cord);
    return d;
}

json slat_names(int count) {
    json names = json::array();
    for (int i = 1; i <= count; ++i) names.push_back("slat" + std::to_string(i));
    return names;
}

Document pulled(Document d, double cord_m) {
    return run(d, {{"op", "channel.set"}, {"parts", {"cord"}}, {"channel", "shift"}, {"value", cord_m}});
}

CouplingId follow_id(const Document& d) {
    return d.couplings.begin()->id;
}

/// All lengths of what follows so many times as large.
Follow grown(Follow follow, double factor) {
    ScaleLengths lengths(factor);
    Follow::fields(follow, lengths);
    follow.grow(factor);
    return follow;
}

/// How far a slat is turned about x, by where its y axis points.
double tilt_deg(const Moved& at, const std::string& slat) {
    const Vec3 y = at.world(slat).axis(1);
    return std::atan2(y.z(), y.y()) * deg_per_rad;
}

/// Source: the figures of the job's own description: 2 m of cord with a gain of 1 give 2 degrees, with 15
/// they give 30, and -1 mirrors a flap.
TEST(Follow, AGainCountsDegreesForEachMetre) {
    for (const auto& [gain, turned] : {std::pair(1.0, 2.0), {15.0, 30.0}, {-1.0, -2.0}}) {
        const Document d = pulled(
            run(shutter(), {{"op", "follow.add"}, {"parts", {"slat1"}}, {"driver", "cord"}, {"gain", gain}}),
            2);
        EXPECT_NEAR(tilt_deg(Moved(d)(0), "slat1"), turned, 1e-12) << gain;
    }
    Document flaps = shutter(2);
    flaps = run(flaps, {{"op", "follow.add"}, {"parts", {"slat2"}}, {"driver", "slat1"}, {"opposite", true}});
    flaps = run(flaps, {{"op", "channel.set"}, {"parts", {"slat1"}}, {"value", "35 deg"}});
    EXPECT_NEAR(tilt_deg(Moved(flaps)(0), "slat2"), -35, 1e-12);
}

TEST(Follow, ARangeGoesFromOneEndToTheOtherForManyAtOnce) {
    Document d = run(shutter(24), {{"op", "follow.add"},
                                   {"parts", slat_names(24)},
                                   {"driver", "cord"},
                                   {"driver_from", 0},
                                   {"driver_to", "1.2 m"},
                                   {"from", "-80 deg"},
                                   {"to", "80 deg"}});
    EXPECT_EQ(d.couplings.size(), 24u);
    for (const auto& [cord, turned] : {std::pair(0.0, -80.0), {0.3, -40.0}, {0.6, 0.0}, {1.2, 80.0}}) {
        const Document at_cord = pulled(d, cord);
        Moved at(at_cord);
        at(0);
        for (const char* slat : {"slat1", "slat13", "slat24"})
            EXPECT_NEAR(tilt_deg(at, slat), turned, 1e-9) << cord;
    }
    // Limits of what follows hold.
    d = run(d, {{"op", "channel.limit"}, {"parts", {"slat3"}}, {"min", "-20 deg"}, {"max", "20 deg"}});
    const Document open = pulled(d, 1.2);
    EXPECT_NEAR(tilt_deg(Moved(open)(0), "slat3"), 20, 1e-9);
}

TEST(Follow, EachNextOneIsLaterSmallerAndAside) {
    Document d = shutter(4);
    for (const auto& [frame, value] : {std::pair(0, 0.0), {40, 1.0}})
        d = run(d, {{"op", "key.set"},
                    {"parts", {"cord"}},
                    {"channel", "shift"},
                    {"frame", frame},
                    {"value", value},
                    {"interpolation", "linear"}});
    const json series{{"op", "follow.add"}, {"driver", "cord"}, {"gain", 40},
                      {"step_delay", 5},    {"step_gain", 0.5}, {"step_offset", "3 deg"}};
    json first = series, more = series;
    first["parts"] = slat_names(3);
    d = run(d, first);
    // Another one is added later, as the fourth of the series.
    more["parts"] = {"slat4"};
    more["number"] = 4;
    d = run(d, more);
    Moved at(d);
    for (double frame = 0; frame <= 70; frame += 0.5)
        for (int i = 0; i < 4; ++i) {
            at(frame);
            const double cord = std::clamp((frame - 5 * i) / 40, 0.0, 1.0);
            EXPECT_NEAR(tilt_deg(at, "slat" + std::to_string(i + 1)), 40 * std::pow(0.5, i) * cord + 3 * i,
                        1e-9)
                << frame << " of " << i;
        }
    // Delivered and read back it moves the same.
    const auto made = delivery_bytes(d, {}, {});
    ASSERT_TRUE(made.ok()) << made.error().message;
    const auto back = compare_delivery(d, made->bytes, "shutter.glb", {}, {});
    ASSERT_TRUE(back.ok()) << back.error().message;
    EXPECT_LT(back->at_frames.largest_m, 1e-6);
    // In any order of frames the same.
    Moved mixed(d);
    std::mt19937 random(2);
    for (int i = 0; i < 60; ++i) {
        const double frame = 0.5 * static_cast<double>(random() % 140);
        EXPECT_EQ(mixed(frame).pose().channels, at(frame).pose().channels);
    }
}

TEST(Follow, AFanTurnsWithItsMotorAndATrainBehindItToo) {
    Document d = shutter(3);
    d = run(d, {{"op", "follow.add"}, {"parts", {"slat1"}}, {"driver", "cord"}, {"gain", 90}});
    // What follows drives a gear.
    for (const char* gear : {"slat1", "slat2"})
        d = run(d, {{"op", "joint.set"}, {"parts", {gear}}, {"kind", "hinge"}, {"axis", "x"}});
    d = run(d, {{"op", "coupling.gear"},
                {"driver", "slat1"},
                {"driven", "slat2"},
                {"driver_teeth", 10},
                {"driven_teeth", 20},
                {"phase", 0}});
    const Document moved = pulled(d, 1);
    Moved at(moved);
    at(0);
    EXPECT_NEAR(tilt_deg(at, "slat1"), 90, 1e-9);
    EXPECT_NEAR(tilt_deg(at, "slat2"), -45, 1e-9);
}

TEST(Follow, SurvivesNewNamesCopiesMirrorsAndFiles) {
    Document d =
        run(shutter(2), {{"op", "follow.add"}, {"parts", {"slat1"}}, {"driver", "cord"}, {"gain", 30}});
    d = pulled(d, 1);
    const double before = tilt_deg(Moved(d)(0), "slat1");
    Document renamed = run(d, {{"op", "part.rename"}, {"part", "cord"}, {"name", "pull"}});
    EXPECT_EQ(tilt_deg(Moved(renamed)(0), "slat1"), before);
    const auto file = project_from_bytes(*project_bytes(d), "shutter");
    ASSERT_TRUE(file.ok()) << file.error().message;
    EXPECT_TRUE(*file == d);
    // A copy of the slat alone follows the same cord; one of both its own.
    const Document one = run(d, {{"op", "part.duplicate"}, {"parts", {"slat1"}}, {"shift", {1, 0, 0}}});
    ASSERT_EQ(one.couplings.size(), 2u);
    for (const Coupling& coupling : one.couplings) EXPECT_EQ(coupling.driver()->part(), named(d, "cord"));
    const Document both =
        run(d, {{"op", "part.duplicate"}, {"parts", {"slat1", "cord"}}, {"shift", {1, 0, 0}}});
    ASSERT_EQ(both.couplings.size(), 2u);
    EXPECT_NE(std::next(both.couplings.begin())->driver()->part(), named(d, "cord"));
}

TEST(Follow, WhatLosesItsDriverStaysWhereItIs) {
    Document d =
        run(shutter(1), {{"op", "follow.add"}, {"parts", {"slat1"}}, {"driver", "cord"}, {"gain", 30}});
    d = pulled(d, 1.5);
    ASSERT_NEAR(tilt_deg(Moved(d)(0), "slat1"), 45, 1e-9);
    const Document gone = run(d, {{"op", "part.remove"}, {"parts", {"cord"}}});
    EXPECT_EQ(gone.couplings.size(), 0u);
    EXPECT_NEAR(tilt_deg(Moved(gone)(0), "slat1"), 45, 1e-9) << "it does not fall back to where it rested";
}

/// Through its points, without overshoot; beyond them it holds.
TEST(Follow, ACurveGoesThroughItsPointsAndNeverBeyondThem) {
    const json smooth{{"op", "follow.add"},
                      {"parts", {"slat1"}},
                      {"driver", "cord"},
                      {"curve", "1 m: 60 deg, 0 m: 10 deg, 400 mm: 20 deg"}};
    json straight = smooth;
    straight["straight"] = true;
    for (const auto& [cord, tilt] : {std::pair(-1.0, 10.0), {0, 10}, {0.4, 20}, {1, 60}, {3, 60}})
        for (const json& step : {smooth, straight}) {
            const Document d = pulled(run(shutter(), step), cord);
            EXPECT_NEAR(tilt_deg(Moved(d)(0), "slat1"), tilt, 1e-9) << cord;
        }
    const Document half = pulled(run(shutter(), straight), 0.7);
    EXPECT_NEAR(tilt_deg(Moved(half)(0), "slat1"), 40, 1e-9) << "half way in a straight line";
    double before = 9;
    for (double cord = 0; cord <= 1; cord += 0.02) {
        const Document d = pulled(run(shutter(), smooth), cord);
        const double now = tilt_deg(Moved(d)(0), "slat1");
        EXPECT_GE(now, before - 1e-9) << cord;
        before = now;
    }
    const Document kept = run(shutter(), smooth);
    EXPECT_TRUE(*project_from_bytes(*project_bytes(kept), "curve") == kept);
}

/// A point's slope is what the turn does there for a little of the cord, in degrees for each metre; between
/// two the cubic of both. Source: Hermite's cubic, of which the middle is (p0 + p1)/2 + span (m0 - m1)/8.
TEST(Follow, ACurveGoesThroughItsPointsAsSteeplyAsItIsTold) {
    Document d = run(shutter(), {{"op", "follow.add"},
                                 {"parts", {"slat1"}},
                                 {"driver", "cord"},
                                 {"curve", "0 m: 0 deg slope 80, 400 mm: 20 deg slope -15, 1 m: 60 deg"}});
    const auto at = [](const Document& rig, double cord) {
        return tilt_deg(Moved(pulled(rig, cord))(0), "slat1");
    };
    constexpr double little = 1e-6;
    EXPECT_NEAR((at(d, little) - at(d, 0)) / little, 80, 1e-3);
    EXPECT_NEAR((at(d, 0.4 + little) - at(d, 0.4 - little)) / (2 * little), -15, 1e-3);
    EXPECT_NEAR(at(d, 0.2), 10 + 0.4 * (80 + 15) / 8, 1e-9);
    EXPECT_NEAR(at(d, 0.4), 20, 1e-12);
    EXPECT_TRUE(*project_from_bytes(*project_bytes(d), "curve") == d);
    // Typed again as it is shown, it is the same curve.
    const Follow& follow = *d.couplings.begin()->as<Follow>();
    EXPECT_EQ(curve_words(follow), "0 m: 0 deg slope 80, 0.4 m: 20 deg slope -15, 1 m: 60 deg");
    // Made twice as large, cord and all, it answers to twice the pull.
    Document large = d;
    large.couplings.set({follow_id(d), grown(follow, 2)});
    EXPECT_NEAR(at(large, 0.4), at(d, 0.2), 1e-9);
    // Of a mirror image whose cord counts the other way, and whose slats do not.
    Follow image = follow;
    image.mirror([&](ChannelRef channel) { return channel == follow.driver ? -1.0 : 1.0; });
    Document mirrored = d;
    mirrored.couplings.set({follow_id(d), image});
    EXPECT_NEAR(at(mirrored, -0.2), at(d, 0.2), 1e-9);
    for (const auto& [curve, said] : {std::pair("0 m: 0 deg slope steep, 1 m: 3 deg", "steep"),
                                      {"0 m: 0 deg slope, 1 m: 3 deg", "number"}})
        EXPECT_NE(
            refusal(d, {{"op", "follow.set"}, {"parts", {"slat1"}}, {"curve", curve}}).message.find(said),
            std::string::npos)
            << curve;
    EXPECT_NE(refusal(d, {{"op", "follow.set"}, {"parts", {"slat1"}}, {"straight", true}})
                  .message.find("corners and slopes"),
              std::string::npos);
}

/// A cam begins again with each turn, without a step or a corner where it does.
TEST(Follow, ACamBeginsAgainWithEachTurnWithoutASeam) {
    Document d = shutter();
    make_hinge(d, add_part(d, "camshaft", {}, {Quat(1, 0, 0, 0), Vec3(3, 0, 0)}), 0);
    d = run(d, {{"op", "follow.add"},
                {"parts", {"slat1"}},
                {"driver", "camshaft"},
                {"curve", "0 deg: 0 deg, 120 deg: 30 deg, 240 deg: 12 deg, 360 deg: 0 deg"},
                {"each_turn", true}});
    const auto at = [&](double deg) {
        const Document turned =
            run(d, {{"op", "channel.set"}, {"parts", {"camshaft"}}, {"value", deg * rad_per_deg}});
        return tilt_deg(Moved(turned)(0), "slat1");
    };
    for (const double deg : {0.0, 77.0, 120.0, 200.0, 300.0, 359.0})
        for (const double turns : {-720.0, -360.0, 360.0, 3600.0})
            EXPECT_NEAR(at(deg + turns), at(deg), 1e-8);
    EXPECT_NEAR(at(120), 30, 1e-9);
    constexpr double little = 1e-3;
    const double before = (at(0) - at(-little)) / little, behind = (at(little) - at(0)) / little;
    EXPECT_NEAR(before, behind, 1e-3) << "the same slope on both sides";
    // A slope at the seam is that of both its sides.
    for (const char* curve : {"0 deg: 0 deg slope 0.3, 120 deg: 30 deg, 360 deg: 0 deg",
                              "0 deg: 0 deg, 120 deg: 30 deg, 360 deg: 0 deg slope 0.3"}) {
        d = run(d, {{"op", "follow.set"}, {"parts", {"slat1"}}, {"curve", curve}});
        EXPECT_NEAR((at(360) - at(360 - little)) / little, 0.3, 1e-3) << curve;
        EXPECT_NEAR((at(little) - at(0)) / little, 0.3, 1e-3) << curve;
    }
    EXPECT_EQ(refusal(d, {{"op", "follow.add"},
                          {"parts", {"slat1"}},
                          {"driver", "cord"},
                          {"curve", "0: 0, 1: 5"},
                          {"each_turn", true}})
                  .code,
              "follow.cam");
    EXPECT_EQ(
        refusal(d, {{"op", "follow.add"}, {"parts", {"slat1"}}, {"driver", "cord"}, {"curve", "0, 1"}}).code,
        "follow.curve");
    EXPECT_EQ(refusal(d, {{"op", "follow.add"},
                          {"parts", {"slat1"}},
                          {"driver", "cord"},
                          {"curve", "0 m: 1 deg, 0 m: 2 deg"}})
                  .code,
              "follow.rule");
}

/// At the end of its range it may stand at its limit; only what would go on is stopped there.
TEST(Follow, OnlyWhatWouldGoBeyondItsLimitIsStoppedByIt) {
    const auto stopped = [](const char* to) {
        Document d = shutter();
        d = run(d, {{"op", "joint.set"},
                    {"parts", {"slat1"}},
                    {"kind", "hinge"},
                    {"axis", "x"},
                    {"min", "-80 deg"},
                    {"max", "80 deg"}});
        d = run(d, {{"op", "follow.add"},
                    {"parts", {"slat1"}},
                    {"driver", "cord"},
                    {"driver_from", 0},
                    {"from", "-80 deg"},
                    {"driver_to", "1.2 m"},
                    {"to", to}});
        for (const auto& [frame, at] : {std::pair(0, 0.0), {40, 1.2}})
            d = run(d, {{"op", "key.set"},
                        {"parts", {"cord"}},
                        {"channel", "shift"},
                        {"frame", frame},
                        {"value", at}});
        std::string told;
        for (const Finding& finding : check_document(d))
            if (finding.code == "limit.stops_gear") told += finding.message;
        return told;
    };
    EXPECT_EQ(stopped("80 deg"), "");
    EXPECT_NE(stopped("81 deg").find("'slat1' is stopped by its limit 80.0"), std::string::npos)
        << stopped("81 deg");
}

TEST(Follow, CirclesAndWhatIsDrivenAlreadyAreRefusedByName) {
    Document d = run(shutter(3), {{"op", "follow.add"}, {"parts", {"slat2"}}, {"driver", "slat1"}});
    EXPECT_EQ(refusal(d, {{"op", "follow.add"}, {"parts", {"slat1"}}, {"driver", "slat1"}}).code,
              "follow.itself");
    const Error circle = refusal(d, {{"op", "follow.add"}, {"parts", {"slat1"}}, {"driver", "slat2"}});
    EXPECT_EQ(circle.code, "rig.loop") << circle.message;
    EXPECT_NE(circle.message.find("slat1 turn → slat2 turn"), std::string::npos) << circle.message;
    EXPECT_EQ(refusal(d, {{"op", "follow.add"}, {"parts", {"slat3"}}, {"driver", "slat1"}, {"from", 0}}).code,
              "follow.range");
    EXPECT_EQ(refusal(d, {{"op", "follow.add"},
                          {"parts", {"slat3"}},
                          {"driver", "slat1"},
                          {"driver_from", 1},
                          {"driver_to", 1},
                          {"from", 0},
                          {"to", 1}})
                  .code,
              "follow.range");
    const Error late =
        refusal(d, {{"op", "follow.add"}, {"parts", {"slat3"}}, {"driver", "slat2"}, {"delay", 5}});
    EXPECT_EQ(late.code, "follow.late");
    EXPECT_NE(late.message.find("slat1"), std::string::npos) << late.message;
    const PartId fixed = add_part(d, "wall");
    EXPECT_TRUE(fixed);
    EXPECT_EQ(refusal(d, {{"op", "follow.add"}, {"parts", {"wall"}}, {"driver", "slat1"}}).code,
              "channel.fixed");
    // To follow something else takes the place of following before.
    d = run(d, {{"op", "follow.add"}, {"parts", {"slat2"}}, {"driver", "cord"}});
    EXPECT_EQ(d.couplings.size(), 1u);
    // Hands are told who drives it.
    const Error hand = refusal(d, {{"op", "channel.set"}, {"parts", {"slat2"}}, {"value", 1}});
    EXPECT_EQ(hand.code, "channel.driven");
    EXPECT_NE(hand.message.find("cord"), std::string::npos) << hand.message;
}

}  // namespace
}  // namespace pivrak
