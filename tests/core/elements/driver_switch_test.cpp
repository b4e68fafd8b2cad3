// Drivers that are switched off, changed, and replaced, judged from where parts stand.
#include <gtest/gtest.h>

#include "core/io/project/project_file.h"
#include "core/operations/registry.h"
#include "tests/core/elements/linkages.h"

namespace pivrak {
namespace {

using namespace test;
using nlohmann::json;

/// Flaps that follow a lever, one of them by a formula, and a second lever.
Document flaps() {
    Document d = empty_document();
    for (const char* name : {"lever", "other", "flap", "twin", "tab"}) make_hinge(d, add_part(d, name));
    const PartId cord = add_part(d, "cord");
    EXPECT_TRUE(cord);
    d = run(d, {{"op", "joint.set"}, {"parts", {"cord"}}, {"kind", "slide"}, {"axis", "x"}});
    d = run(d, {{"op", "follow.add"}, {"parts", {"flap", "twin"}}, {"driver", "lever"}, {"gain", 2}});
    d = run(d, {{"op", "formula.set"},
                {"parts", {"tab"}},
                {"inputs", {{"arm", {{"part", "lever"}}}}},
                {"text", "arm + 10"}});
    for (const auto& [name, value] : {std::pair("lever", "20 deg"), {"other", "-5 deg"}})
        d = run(d, {{"op", "channel.set"}, {"parts", {name}}, {"value", value}});
    return d;
}

double turn_deg(const Document& d, const std::string& name) {
    const Moved at = Moved(d)(0);
    const Vec3 x = at.world(name).axis(0);
    return std::atan2(x.y(), x.x()) * deg_per_rad;
}

TEST(DriverSwitch, OffItIsHeldAndMovedByHandUntilItIsOnAgain) {
    const Document d = flaps();
    ASSERT_NEAR(turn_deg(d, "flap"), 40, 1e-9);
    Document off = run(d, {{"op", "driver.off"}, {"parts", {"flap", "tab"}}});
    off = run(off, {{"op", "channel.set"}, {"parts", {"lever"}}, {"value", "31 deg"}});
    EXPECT_NEAR(turn_deg(off, "flap"), 40, 1e-9) << "held where it was";
    EXPECT_NEAR(turn_deg(off, "tab"), 30, 1e-9);
    EXPECT_NEAR(turn_deg(off, "twin"), 62, 1e-9) << "all others follow on";
    EXPECT_EQ(off.couplings.size(), d.couplings.size()) << "nothing is lost";
    EXPECT_TRUE(*project_from_bytes(*project_bytes(off), "off") == off);
    const Document moved = run(off, {{"op", "channel.set"}, {"parts", {"flap"}}, {"value", "7 deg"}});
    EXPECT_NEAR(turn_deg(moved, "flap"), 7, 1e-9) << "a hand may";
    const Document on = run(moved, {{"op", "driver.on"}, {"parts", {"flap", "tab"}}});
    EXPECT_NEAR(turn_deg(on, "flap"), 62, 1e-9);
    EXPECT_NEAR(turn_deg(on, "tab"), 41, 1e-9);
    EXPECT_NE(nothing_done(on, {{"op", "driver.on"}, {"parts", {"flap"}}}), "");
    EXPECT_EQ(refusal(on, {{"op", "driver.off"}, {"parts", {"lever"}}}).code, "driver.none");
    // Held at a value, within its limits.
    Document held = run(d, {{"op", "joint.set"}, {"parts", {"flap"}}, {"min", "-30 deg"}, {"max", "50 deg"}});
    held = run(held, {{"op", "driver.off"}, {"parts", {"flap"}}, {"value", "12 deg"}});
    EXPECT_NEAR(turn_deg(held, "flap"), 12, 1e-9);
    held = run(held, {{"op", "driver.off"}, {"parts", {"flap"}}, {"value", "80 deg"}});
    EXPECT_NEAR(turn_deg(held, "flap"), 50, 1e-9);
}

/// What is off may be in a circle; switched on it is refused by name.
TEST(DriverSwitch, ACircleIsSeenWhenItIsSwitchedOn) {
    Document d = run(flaps(), {{"op", "driver.off"}, {"parts", {"flap"}}});
    d = run(d, {{"op", "follow.add"}, {"parts", {"lever"}}, {"driver", "flap"}, {"gain", 0.5}});
    const Error circle = refusal(d, {{"op", "driver.on"}, {"parts", {"flap"}}});
    EXPECT_EQ(circle.code, "rig.loop") << circle.message;
}

TEST(DriverSwitch, AnotherChannelTakesTheDriversPlaceEverywhere) {
    const Document d = flaps();
    const Document all = run(d, {{"op", "driver.replace"}, {"driver", "lever"}, {"with", "other"}});
    EXPECT_NEAR(turn_deg(all, "flap"), -10, 1e-9);
    EXPECT_NEAR(turn_deg(all, "twin"), -10, 1e-9);
    EXPECT_NEAR(turn_deg(all, "tab"), 5, 1e-9);
    const Document some =
        run(d, {{"op", "driver.replace"}, {"driver", "lever"}, {"with", "other"}, {"parts", {"twin"}}});
    EXPECT_NEAR(turn_deg(some, "flap"), 40, 1e-9);
    EXPECT_NEAR(turn_deg(some, "twin"), -10, 1e-9);
    const auto code = [&](const char* driver, const char* with) {
        return refusal(d, {{"op", "driver.replace"}, {"driver", driver}, {"with", with}}).code;
    };
    EXPECT_EQ(code("lever", "cord"), "driver.unlike") << "degrees are no metres";
    EXPECT_EQ(code("other", "lever"), "driver.none");
    EXPECT_EQ(code("lever", "flap"), "follow.itself");
    const Document led = run(d, {{"op", "follow.add"}, {"parts", {"other"}}, {"driver", "twin"}});
    EXPECT_EQ(refusal(led, {{"op", "driver.replace"}, {"driver", "lever"}, {"with", "other"}}).code,
              "rig.loop");
}

TEST(DriverSwitch, ARuleIsChangedInPartsAndAllElseStays) {
    const Document d =
        run(flaps(), {{"op", "follow.set"}, {"parts", {"flap"}}, {"gain", -1}, {"offset", "3 deg"}});
    EXPECT_NEAR(turn_deg(d, "flap"), -17, 1e-9);
    EXPECT_NEAR(turn_deg(d, "twin"), 40, 1e-9);
    Document curved = run(d, {{"op", "follow.set"},
                              {"parts", {"flap", "twin"}},
                              {"curve", "0 deg: 0 deg, 20 deg: 33 deg, 40 deg: 34 deg"}});
    EXPECT_NEAR(turn_deg(curved, "flap"), 33, 1e-9);
    curved = run(curved, {{"op", "follow.set"}, {"parts", {"flap"}}, {"gain", 0.5}});
    EXPECT_NEAR(turn_deg(curved, "flap"), 16.5, 1e-9) << "times the curve's answer";
    EXPECT_NE(nothing_done(curved, {{"op", "follow.set"}, {"parts", {"flap"}}, {"gain", 0.5}}), "");
    const auto code = [&](json more) {
        json step{{"op", "follow.set"}, {"parts", {"flap"}}};
        step.update(more);
        return refusal(curved, step).code;
    };
    EXPECT_EQ(code({{"curve", "0 deg: 1 deg"}}), "follow.rule");
    EXPECT_EQ(code({{"curve", "0 deg 1 deg"}}), "follow.curve");
    EXPECT_EQ(code({{"delay", -1}}), "follow.rule");
    EXPECT_EQ(refusal(curved, {{"op", "follow.set"}, {"parts", {"tab"}}, {"gain", 1}}).code, "driver.none");
}

/// Before something is removed, a dry run lists who loses what.
TEST(DriverSwitch, WhatARemovalWouldBreakIsListed) {
    const Document d = flaps();
    const auto outcome = make_registry().run(d, {{"op", "part.remove"}, {"parts", {"lever"}}});
    ASSERT_TRUE(outcome.ok());
    ASSERT_EQ(outcome->losses.size(), 3u);
    std::string all;
    for (const std::string& words : outcome->losses) all += words + "\n";
    for (const char* name : {"flap", "twin", "tab", "arm"})
        EXPECT_NE(all.find(name), std::string::npos) << name << " in\n" << all;
    const auto harmless = make_registry().run(d, {{"op", "part.remove"}, {"parts", {"cord"}}});
    EXPECT_TRUE(harmless.ok() && harmless->losses.empty());
}

}  // namespace
}  // namespace pivrak
