// A machine that is made larger after it was rigged is the same machine: every part stands where it stood,
// times the factor, at every frame.
#include <gtest/gtest.h>

#include "core/motion/evaluator.h"
#include "tests/core/operations/drive/chains.h"
#include "tests/support/documents.h"

namespace pivrak {
namespace {

constexpr double larger = 2.5;

Document keyed_turn(Document d, const char* part, double to) {
    return run(
        run(d, {{"op", "key.set"}, {"parts", part}, {"frame", 0}, {"value", 0}, {"interpolation", "linear"}}),
        {{"op", "key.set"}, {"parts", part}, {"frame", 40}, {"value", to}, {"interpolation", "linear"}});
}

/// Largest distance of a part's place from where it should be [m], and largest turn between the two.
std::pair<double, double> off_by(const Document& before, const Document& after) {
    const auto was = Evaluator::compile(before), is = Evaluator::compile(after);
    EXPECT_TRUE(was.ok() && is.ok());
    Pose old = was->make_pose(), now = is->make_pose();
    double far = 0, turned = 0;
    for (const double frame : {0.0, 7.5, 20.0, 40.0}) {
        was->evaluate(frame, old);
        is->evaluate(frame, now);
        for (const PartId part : was->parts()) {
            const Frame &a = old.world_from_part[*was->part_slot(part)],
                        &b = now.world_from_part[*is->part_slot(part)];
            far = std::max(far, (b.translation - larger * a.translation).norm());
            turned = std::max(turned, angle_between(a.rotation, b.rotation));
        }
    }
    return {far, turned};
}

Document scaled(const Document& d) {
    return run(d, {{"op", "model.stand"}, {"scale", larger}, {"ground", false}});
}

TEST(ScaledRig, AChainWithItsTensionerAndLinks) {
    Document d = two_sprockets(0.7);
    test::add_part(d, "arm", {}, {Quat(1, 0, 0, 0), Vec3(0.6, 0, 0.85)});
    d = run(d, {{"op", "joint.set"}, {"parts", {"arm"}}, {"kind", "hinge"}, {"axis", "y"}});
    d = run(d, {{"op", "tree.parent"}, {"parts", {"roller"}}, {"under", "arm"}});
    d = run(d, {{"op", "chain.add"},
                {"wheels", {"small", "large", "roller"}},
                {"outside", {"roller"}},
                {"name", "drive"},
                {"pattern", 2},
                {"slack_after", "small"},
                {"take_up", "arm"},
                {"spare", "1 mm"}});
    d = run(d, {{"op", "chain.build"}, {"chain", "drive"}, {"parts", {"inner", "outer"}}});
    for (const auto& [frame, slack] : {std::pair{0, "1 mm"}, std::pair{40, "6 mm"}})
        d = run(d, {{"op", "key.set"},
                    {"elements", "drive"},
                    {"channel", "slack"},
                    {"frame", frame},
                    {"value", slack}});
    d = keyed_turn(d, "small", 5);
    const Document large = scaled(d);
    const auto [far, turned] = off_by(d, large);
    EXPECT_LT(far, 1e-7);
    EXPECT_LT(turned, 1e-7);
    EXPECT_NEAR(only_chain(large).pitch_m, larger * only_chain(d).pitch_m, 1e-15);
}

TEST(ScaledRig, ARiderOnAPathThatIsCarriedAndItsRollingWheel) {
    Document d = empty_document();
    const auto add = [&](json step) { d = run(d, step); };
    add({{"op", "datum.add"}, {"name", "yard"}});
    add({{"op", "stand_in.add"}, {"kind", "box"}, {"name", "car"}, {"at", {0, 0, 0.4}}, {"under", "yard"}});
    add({{"op", "stand_in.add"},
         {"kind", "wheel"},
         {"name", "wheel"},
         {"diameter", 0.4},
         {"at", {0.2, 0.3, 0.2}},
         {"under", "car"}});
    add({{"op", "joint.set"}, {"parts", "wheel"}, {"kind", "hinge"}, {"axis", "x"}});
    add({{"op", "path.add"},
         {"name", "road"},
         {"form", "bezier"},
         {"points", {{0, 0, 0}, {6, 1, 0}, {9, 5, 0.5}}},
         {"under", "yard"}});
    add({{"op", "ride.set"}, {"parts", "car"}, {"path", "road"}, {"side", "300 mm"}, {"height", "400 mm"}});
    add({{"op", "coupling.roll"}, {"parts", "wheel"}, {"rider", "car"}, {"radius", 0.2}});
    for (const auto& [frame, way] : {std::pair{0, 0.5}, std::pair{40, 8.0}})
        add({{"op", "key.set"}, {"parts", "car"}, {"channel", "along"}, {"frame", frame}, {"value", way}});
    const auto [far, turned] = off_by(d, scaled(d));
    EXPECT_LT(far, 1e-8);
    EXPECT_LT(turned, 1e-8);
    // A path that stands in the world keeps its size, and so do the ways along it.
    Document alone = run(d, {{"op", "path.carry"}, {"path", "road"}});
    const Document larger_car = run(alone, {{"op", "model.stand"}, {"parts", {"yard"}}, {"scale", larger}});
    const auto keys = [&](const Document& of) {
        return clip_or_first(of).track({test::named(of, "car"), ChannelKind::Along})->keys.back().value;
    };
    EXPECT_EQ(keys(larger_car), 8.0);
    EXPECT_EQ(keys(scaled(d)), 8.0 * larger);
}

/// Turns that follow shifts, shifts that follow turns, by gains, curves, formulas and what is measured.
TEST(ScaledRig, WhatFollowsAndWhatFormulasGive) {
    using nlohmann::json;
    Document d = empty_document();
    const PartId handle = test::add_part(d, "handle", {}, {Quat(1, 0, 0, 0), Vec3(0.3, 0, 0.2)});
    test::add_part(d, "crank", {}, {Quat(1, 0, 0, 0), Vec3(0, 0.4, 0)});
    for (const char* name : {"flap", "cam", "lifter", "door"})
        test::add_part(d, name, handle, {Quat(1, 0, 0, 0), Vec3(0.1, 0.2, 0.1)});
    const auto joint = [&](const char* part, const char* kind) {
        d = test::run(d, {{"op", "joint.set"}, {"parts", {part}}, {"kind", kind}, {"axis", "z"}});
    };
    joint("handle", "slide"), joint("lifter", "slide"), joint("door", "slide");
    joint("crank", "hinge"), joint("flap", "hinge"), joint("cam", "hinge");
    d = keyed_turn(d, "crank", 3);
    for (const auto& [frame, value] : {std::pair(0, 0.0), {40, 0.5}})
        d = test::run(d, {{"op", "key.set"},
                          {"parts", {"handle"}},
                          {"channel", "shift"},
                          {"frame", frame},
                          {"value", value},
                          {"interpolation", "linear"}});
    const auto follow = [&](json step) {
        step["op"] = "follow.add";
        d = test::run(d, step);
    };
    follow({{"parts", {"flap"}}, {"driver", "handle"}, {"gain", 90}, {"offset", "5 deg"}});
    follow(
        {{"parts", {"cam"}}, {"driver", "handle"}, {"curve", "0 m: 0 deg, 0.2 m: 50 deg, 0.5 m: -20 deg"}});
    follow(
        {{"parts", {"lifter"}}, {"driver", "crank"}, {"curve", "0 deg: 0 m, 90 deg: 30 mm, 200 deg: 5 mm"}});
    d = test::run(
        d, {{"op", "measure.add"}, {"what", "distance"}, {"a", "crank"}, {"b", "lifter"}, {"name", "gap"}});
    d = test::run(d, {{"op", "formula.set"},
                      {"parts", {"door"}},
                      {"text", "gap * 0.25 + rest + pull / 3"},
                      {"inputs",
                       {{"gap", {{"element", "gap"}}},
                        {"rest", "40 mm"},
                        {"pull", {{"part", "handle"}, {"channel", "shift"}}}}}});
    const auto [far, turned] = off_by(d, scaled(d));
    EXPECT_LT(far, 1e-9);
    EXPECT_LT(turned, 1e-7);
}

}  // namespace
}  // namespace pivrak
