// Linkages in whole rigs: rams, trains, limits, files, copies, damage; and places that stay when pivots move.
#include <gtest/gtest.h>

#include "core/checks/findings.h"
#include "core/io/project/project_file.h"
#include "core/rig/driven_by.h"
#include "core/rig/linkages/input_range.h"
#include "tests/core/elements/linkages.h"
#include "tests/support/temp_folder.h"

namespace pivrak {
namespace {

using namespace test;
using nlohmann::json;

const FourBarSizes crank_rocker{0.12, 0.35, 0.28, 0.4};

bool has_finding(const Document& d, const std::string& code) {
    for (const Finding& finding : check_document(d))
        if (finding.code == code) return true;
    return false;
}

json cylinder_step(const char* name, double diameter, double length, const Vec3& at) {
    return {{"op", "stand_in.add"},          {"kind", "cylinder"}, {"name", name},
            {"diameter", diameter},          {"length", length},   {"axis", "x"},
            {"at", {at.x(), at.y(), at.z()}}};
}

/// A lever on a frame, and two round parts that slide in one another between them.
Document lever_and_ram() {
    Document d = empty_document();
    add_part(d, "frame");
    add_part(d, "lever", {}, {Quat(1, 0, 0, 0), Vec3(0.8, 0, -0.4)});
    make_hinge(d, named(d, "lever"), 1);
    d = run(d, cylinder_step("barrel", 0.08, 0.4, {0.2, 0, 0.2}));
    d = run(d, cylinder_step("rod", 0.04, 0.4, {0.55, 0, 0.2}));
    return run(d,
               {{"op", "ram.make"}, {"barrel", "barrel"}, {"rod", "rod"}, {"on", "frame"}, {"to", "lever"}});
}

TEST(LinkageRig, ARamIsMeasuredOnItsShapesAndKeepsItsLine) {
    Document d = lever_and_ram();
    const Part& rod = *d.parts.find(named(d, "rod"));
    EXPECT_EQ(rod.parent, named(d, "barrel"));
    EXPECT_EQ(rod.joint.kind, JointKind::Slide);
    // From end to end without eyes: 0 to 0.75 m.
    EXPECT_NEAR(world_from_rest(d, named(d, "barrel")).translation.x(), 0, 1e-6);
    EXPECT_NEAR(world_from_rest(d, rod.id).translation.x(), 0.75, 1e-6);
    d = run(d, {{"op", "joint.set"}, {"parts", {"rod"}}, {"min", "-100 mm"}, {"max", "60 mm"}});
    d = run(d, {{"op", "linkage.input"}, {"linkages", {d.linkages.begin()->name}}, {"parts", {"lever"}}});
    key(d, named(d, "lever"), {{0, 0, Interpolation::Linear}, {20, 0.5, Interpolation::Linear}});
    Moved at(d);
    for (double frame = 0; frame <= 20; frame += 0.5) {
        at(frame);
        const Frame barrel = at.world("barrel"), slid = at.world("rod");
        EXPECT_LT(barrel.axis(0).cross(slid.axis(0)).norm(), 1e-12) << frame;
        EXPECT_LT((slid.translation - barrel.translation).cross(barrel.axis(0)).norm(), 1e-12) << frame;
        EXPECT_LT(at.miss().apart_m, 1e-9) << frame;
        // The rod's eye goes round the lever's hinge.
        EXPECT_NEAR((slid.translation - at.world("lever").translation).norm(), std::hypot(0.05, 0.6), 1e-9);
        EXPECT_LE(at.value("rod", ChannelKind::Shift), 0.06 + 1e-9) << frame;
    }
    EXPECT_NEAR(at.value("rod", ChannelKind::Shift), 0.06, 1e-6) << "drawn out it stops";
    EXPECT_TRUE(has_finding(d, "linkage.stops"));
}

TEST(LinkageRig, ALengthLeadsTheLever) {
    Document d = lever_and_ram();
    EXPECT_TRUE(d.linkages.begin()->is_input({named(d, "rod"), ChannelKind::Shift}));
    d = run(d, {{"op", "channel.set"}, {"parts", {"rod"}}, {"channel", "shift"}, {"value", "-40 mm"}});
    Moved at(d);
    at(0);
    // Law of cosines on frame, lever's hinge and rod's eye.
    const Vec3 eye = at.world("rod").translation, foot = at.world("barrel").translation;
    EXPECT_NEAR((eye - foot).norm(), 0.71, 1e-7) << "shapes are stored in single precision";
    EXPECT_LT(at.miss().apart_m, 1e-9);
    EXPECT_EQ(refusal(d, {{"op", "channel.set"}, {"parts", {"lever"}}, {"value", "5 deg"}}).code,
              "channel.driven");
}

TEST(LinkageRig, ATrainTurnsTheCrankAndTheRockerTurnsATrain) {
    Document d = four_bar(crank_rocker, 0.7);
    const PartId motor = add_part(d, "motor"), pointer = add_part(d, "pointer");
    make_hinge(d, motor);
    make_hinge(d, pointer);
    couple(d, motor, named(d, "crank"), 20, 40);
    couple(d, named(d, "rocker"), pointer, 30, 15);
    key(d, motor, {{0, 0, Interpolation::Linear}, {60, 30, Interpolation::Linear}});
    Moved at(d);
    for (int frame = 0; frame <= 60; ++frame) {
        at(frame);
        EXPECT_NEAR(at.value("crank"), -0.5 * at.value("motor"), 1e-12) << frame;
        EXPECT_NEAR(at.value("pointer"), -2 * at.value("rocker"), 1e-12) << frame;
        EXPECT_LT(at.miss().apart_m, 1e-9) << frame;
    }
    EXPECT_GT(std::abs(at.value("pointer")), 0.01);
}

TEST(LinkageRig, AFollowerAtItsLimitStopsTheInput) {
    Document d = four_bar(crank_rocker, 0.7);
    d = run(d, {{"op", "joint.set"}, {"parts", {"rocker"}}, {"min", "-5 deg"}, {"max", "5 deg"}});
    key(d, named(d, "crank"), {{0, 0, Interpolation::Linear}, {40, 3, Interpolation::Linear}});
    Moved at(d);
    double most = 0;
    for (double frame = 0; frame <= 40; frame += 0.5) {
        at(frame);
        most = std::max(most, std::abs(at.value("rocker")));
        EXPECT_LT(at.miss().apart_m, 1e-9) << frame;
    }
    EXPECT_NEAR(most, 5 * rad_per_deg, 1e-6);
    EXPECT_LT(at.value("crank"), 2);
    const Linkage& linkage = *d.linkages.begin();
    const auto built = build_linkage(d, linkage.closures, [&](ChannelRef c) { return linkage.is_input(c); });
    ASSERT_TRUE(built.ok());
    EXPECT_EQ(input_range(*built, 0).at_most.why, Stops::Limit);
}

TEST(LinkageRig, ItIsSavedCopiedMirroredAndRemoved) {
    Document d = four_bar(crank_rocker, 0.7);
    key(d, named(d, "crank"), {{0, 0, Interpolation::Linear}, {40, 5, Interpolation::Linear}});
    const TempFolder folder;
    ASSERT_TRUE(save_project(d, folder.path() / "bar.pivrak.glb"));
    const auto again = open_project(folder.path() / "bar.pivrak.glb");
    ASSERT_TRUE(again.ok());
    EXPECT_EQ(*again->linkages.begin(), *d.linkages.begin());
    for (const json& step : {json{{"op", "part.duplicate"}, {"parts", {"frame"}}, {"shift", {0, 2, 0}}},
                             json{{"op", "part.mirror"}, {"parts", {"frame"}}},
                             // Of what is copied without its frame, the pins on that are found anew.
                             json{{"op", "part.mirror"}, {"parts", {"crank", "rocker"}}}}) {
        const Document two = run(d, step);
        ASSERT_EQ(two.linkages.size(), 2U) << step.dump();
        Moved at(two);
        for (int frame = 0; frame <= 40; frame += 4) EXPECT_LT(at(frame).miss().apart_m, 1e-9) << step.dump();
        EXPECT_FALSE(has_finding(two, "linkage.apart")) << step.dump();
    }
    EXPECT_EQ(run(d, {{"op", "part.remove"}, {"parts", {"coupler"}}}).linkages.size(), 0U);
}

TEST(LinkageRig, BadInputIsRefusedOrTold) {
    Document d = four_bar(crank_rocker, 0.7);
    const std::string name = d.linkages.begin()->name;
    EXPECT_EQ(refusal(d, {{"op", "linkage.close"}, {"a", "crank"}, {"b", "crank"}}).code, "linkage.itself");
    EXPECT_EQ(refusal(d, {{"op", "linkage.close"}, {"a", "crank"}, {"b", "rocker"}}).code, "linkage.no_pin");
    EXPECT_EQ(refusal(d, {{"op", "linkage.input"}, {"linkages", {name}}, {"parts", {"frame"}}}).code,
              "linkage.not_in");
    EXPECT_EQ(refusal(d, {{"op", "joint.set"}, {"parts", {"crank"}}, {"kind", "fixed"}}).code,
              "joint.coupled");
    // A second pin elsewhere leaves it no way to move.
    Document stiff =
        run(d, {{"op", "linkage.close"}, {"a", "coupler"}, {"b", "frame"}, {"at", {{"part", "coupler"}}}});
    EXPECT_EQ(stiff.linkages.size(), 1U);
    EXPECT_TRUE(has_finding(stiff, "linkage.stuck"));
    key(stiff, named(stiff, "crank"), {{0, 0, Interpolation::Linear}, {10, 1, Interpolation::Linear}});
    Moved at(stiff);
    for (const double value : at(10).pose().channels) EXPECT_NEAR(value, 0, 1e-4);
    // What was moved after it was closed is told, not hidden.
    Document moved = d;
    Part rocker = *moved.parts.find(named(moved, "rocker"));
    rocker.parent_from_rest.translation.x() += 0.003;
    moved.parts.set(rocker);
    Moved still(moved);
    EXPECT_LT(still(0).miss().apart_m, 1e-6) << "it closes by turning its joints a little";
    // A whole linkage that is switched off lets go.
    const Document off = run(d, {{"op", "linkage.set"}, {"linkages", {name}}, {"on", false}});
    EXPECT_FALSE(driver_name(off, {named(off, "rocker"), ChannelKind::Turn}));
    EXPECT_EQ(driver_name(d, {named(d, "rocker"), ChannelKind::Turn}), name);
}

TEST(LinkageRig, PlacesStayWherePivotsMove) {
    Document d = four_bar(crank_rocker, 0.7);
    key(d, named(d, "crank"), {{0, 0, Interpolation::Linear}, {20, 2, Interpolation::Linear}});
    // A fixed datum of the coupler is what the pin is told by.
    Document moved =
        run(d, {{"op", "pivot.turn"}, {"parts", {"rocker"}}, {"axis", "z"}, {"angle", "30 deg"}});
    Moved at(moved), before(d);
    for (int frame = 0; frame <= 20; ++frame) {
        EXPECT_LT(at(frame).miss().apart_m, 1e-9) << frame;
        EXPECT_NEAR(at.value("coupler"), before(frame).value("coupler"), 1e-9) << frame;
    }
    // Seen to fail before: a path went along with the pivot of its carrier.
    Document road = empty_document();
    add_part(road, "ground");
    add_part(road, "cart");
    road = run(road, {{"op", "path.add"},
                      {"name", "road"},
                      {"form", "line"},
                      {"points", {{0, 0, 1}, {4, 0, 1}}},
                      {"under", "ground"}});
    road = run(road, {{"op", "ride.set"}, {"parts", {"cart"}}, {"path", "road"}});
    road = run(road, {{"op", "pivot.to"}, {"parts", {"ground"}}, {"place", {1, 0.5, 0}}});
    Moved rides(road);
    EXPECT_LT((rides(0).world("cart").translation - Vec3(0, 0, 1)).norm(), 1e-12);
    // And a place on a target went along with the target's pivot.
    Document asked = empty_document();
    add_part(asked, "a");
    add_part(asked, "b", {}, {Quat(1, 0, 0, 0), Vec3(0, 2, 0)});
    asked = run(asked, {{"op", "joint.set"}, {"parts", {"a"}}, {"kind", "free"}});
    asked = run(asked, {{"op", "constraint.add"},
                        {"parts", {"a"}},
                        {"asks", "place"},
                        {"target", "b"},
                        {"to", {0.5, 2, 0}}});
    asked = run(asked, {{"op", "pivot.to"}, {"parts", {"b"}}, {"place", {0.3, 2, 0}}});
    Moved goes(asked);
    EXPECT_LT((goes(0).world("a").translation - Vec3(0.5, 2, 0)).norm(), 1e-12);
}

TEST(LinkageRig, AReachMovesALinkagesInput) {
    // A boom on a hinge, pushed by a ram; the boom reaches, and the ram follows.
    Document d = lever_and_ram();
    const PartId tip = add_part(d, "tip", named(d, "lever"), {Quat(1, 0, 0, 0), Vec3(0, 0, 0.9)});
    (void)tip;
    d = run(d, {{"op", "linkage.input"}, {"linkages", {d.linkages.begin()->id.value}}, {"parts", {"lever"}}});
    d = run(d, {{"op", "joint.set"}, {"parts", {"rod"}}, {"unlimited", true}});
    d = run(d, {{"op", "reach.add"}, {"root", "lever"}, {"tip", "tip"}, {"name", "r"}});
    for (const auto& [frame, value] : {std::pair{0, 0.0}, {20, 0.25}})
        d = run(d, {{"op", "key.set"},
                    {"parts", {"tip goal"}},
                    {"channel", "shift_x"},
                    {"frame", frame},
                    {"value", value}});
    Moved at(d);
    for (int frame = 0; frame <= 20; ++frame) {
        EXPECT_LT(at(frame).miss().apart_m, 1e-9) << frame;
        const Vec3 line = at.world("tip goal").translation - at.world("lever").translation;
        EXPECT_LT(line.cross(at.world("lever").axis(2)).norm(), 1e-6) << frame;
    }
    EXPECT_GT(at.value("lever"), 0.2);
    EXPECT_GT(std::abs(at.value("rod", ChannelKind::Shift)), 0.02);
}

}  // namespace
}  // namespace pivrak
