#include "core/checks/findings.h"

#include <gtest/gtest.h>

#include <algorithm>

#include "tests/support/documents.h"

namespace pivrak {
namespace {

const Finding* finding(const std::vector<Finding>& findings, const std::string& code) {
    const auto found =
        std::find_if(findings.begin(), findings.end(), [&](const Finding& f) { return f.code == code; });
    return found == findings.end() ? nullptr : &*found;
}

std::string message(const Document& d, const std::string& code) {
    const auto findings = check_document(d);
    const Finding* found = finding(findings, code);
    return found ? found->message : "";
}

Document on_floor() {
    Document d = empty_document();
    test::add_shaped(d, "box", with_normals(test::box({0, 0, 0}, {1, 1, 1})));
    return d;
}

TEST(Findings, AGoodModelHasNone) {
    EXPECT_TRUE(check_document(on_floor()).empty());
    EXPECT_TRUE(check_document(empty_document()).empty());
}

TEST(Findings, SizeAndGround) {
    Document d = empty_document();
    test::add_shaped(d, "box", test::box({0, 0, 0.13}, {390, 1, 1}));
    EXPECT_EQ(message(d, "size.huge"),
              "longest side 390.000 m: centimetres read as metres? (expected at most 100.000 m)");
    EXPECT_EQ(message(d, "ground.off"), "lowest point 130.0 mm above the floor (allowed 1.000 mm)");
    d.settings.length_unit = LengthUnit::Millimetre;
    EXPECT_EQ(message(d, "size.huge"),
              "longest side 390000.0 mm: centimetres read as metres? (expected at most 100000.0 mm)");
    d.settings.length_unit = LengthUnit::Centimetre;
    EXPECT_EQ(message(d, "ground.off"), "lowest point 13.00 cm above the floor (allowed 0.1000 cm)");
    Document tiny = empty_document();
    test::add_shaped(tiny, "box", test::box({0, 0, -0.002}, {0.004, 0.001, 0}));
    EXPECT_FALSE(message(tiny, "size.tiny").empty());
    EXPECT_NE(message(tiny, "ground.off").find("below the floor"), std::string::npos);
}

/// Where a rig names a ground, machines stand on that one, and footings go down into it.
TEST(Findings, TheFloorIsNotAskedForWhereThereIsAGround) {
    Document d = on_floor();
    test::add_shaped(d, "Snow", with_normals(test::box({-9, -9, -2}, {9, 9, -1})));
    EXPECT_EQ(message(d, "ground.off"), "lowest point 2.000 m below the floor (allowed 1.000 mm)");
    d = test::run(d, {{"op", "path.add"}, {"name", "way"}, {"points", {{0, 0, 0}, {5, 0, 0}}}});
    EXPECT_FALSE(message(d, "ground.off").empty());
    d = test::run(d, {{"op", "path.drape"}, {"path", "way"}, {"ground", "Snow"}});
    EXPECT_EQ(message(d, "ground.off"), "");
}

/// What is hardly more than is allowed says by how much: never the same number twice.
TEST(Findings, NoneSaysThatOneMillimetreIsMoreThanOne) {
    Document d = empty_document();
    test::add_shaped(d, "box", test::box({0, 0, 0.0010003}, {1, 1, 1}));
    EXPECT_EQ(message(d, "ground.off"), "lowest point 1.0003 mm above the floor (allowed 1.000 mm)");
}

TEST(Findings, PiecesNamesAndTextures) {
    Document d = on_floor();
    test::add_shaped(d, "box",
                     test::joined(test::box({0, 0, 0}, {1, 1, 1}), test::box({2, 0, 0}, {3, 1, 1})));
    Image lost;
    lost.id = d.new_id<ImageId>();
    lost.name = "rust.png";
    d.images.set(lost);
    EXPECT_EQ(message(d, "shape.loose_pieces"), "'box' holds 2 unconnected pieces (expected 1)");
    EXPECT_EQ(message(d, "name.duplicate"), "2 parts are called 'box'");
    EXPECT_EQ(message(d, "texture.missing"), "texture 'rust.png' is missing");
}

/// What somebody joined may hold as many pieces as were joined, in its copies and after a file too; one more
/// is told.
TEST(Findings, WhatWasJoinedOnPurposeIsNone) {
    Document d = empty_document();
    for (const double x : {0.0, 2.0, 4.0})
        test::add_shaped(d, "box " + std::to_string(static_cast<int>(x)),
                         with_normals(test::box({x, 0, 0}, {x + 1, 1, 1})));
    d = test::run(d, {{"op", "part.join"}, {"parts", {"box 2", "box 4", "box 0"}}});
    d = test::run(d, {{"op", "part.duplicate"}, {"parts", {"box 0"}}, {"shift", {0, 3, 0}}});
    const auto told = [](const Document& document) {
        std::vector<std::string> messages;
        for (const Finding& f : check_document(document))
            if (f.code == "shape.loose_pieces") messages.push_back(f.message);
        return messages;
    };
    EXPECT_TRUE(told(d).empty());
    test::add_shaped(
        d, "pair",
        with_normals(test::joined(test::box({0, 6, 0}, {1, 7, 1}), test::box({2, 6, 0}, {3, 7, 1}))));
    d = test::run(d, {{"op", "part.join"}, {"parts", {"pair", "box 1"}}});
    EXPECT_EQ(told(d), (std::vector<std::string>{"'box 1' holds 5 unconnected pieces (expected 2)"}));
}

TEST(Findings, APivotOutsideItsShape) {
    Document d = on_floor();
    test::make_hinge(d, test::named(d, "box"));
    EXPECT_TRUE(message(d, "pivot.outside").empty()) << "a corner is not outside";
    Part part = *d.parts.begin();
    part.part_from_shape.translation = Vec3(0.5, 0, 0);
    d.parts.set(part);
    EXPECT_NE(message(d, "pivot.outside").find("500.0 mm outside"), std::string::npos);
    // Far along its axis a pivot turns the shape about the same line.
    part.part_from_shape.translation = Vec3(0, 0, 5);
    d.parts.set(part);
    EXPECT_EQ(message(d, "pivot.outside"), "");
}

/// A pair of gears whose distance is off by some millimetres and whose second axis is tilted.
Document gears(double off_m, double tilt_rad, int driven_teeth = 51) {
    Document d = empty_document();
    const PartId a = test::add_shaped(d, "small", test::to_mesh(gear({17, 8, 20, 20})));
    const PartId b = test::add_shaped(d, "large", test::to_mesh(gear({driven_teeth, 8, 20, 20})), {},
                                      {turn_about_axis(0, tilt_rad), Vec3(0.272 + off_m, 0, 0)});
    test::make_hinge(d, a);
    test::make_hinge(d, b);
    test::couple(d, a, b, 17, 51);
    return d;
}

TEST(Findings, GearsThatDoNotFit) {
    EXPECT_TRUE(message(gears(0, 0), "gear.centres").empty());
    EXPECT_EQ(
        message(gears(0.002, 0), "gear.centres"),
        "centres of 'small' and 'large' are 274.0 mm apart, module 8.000 mm asks for 272.0 mm: 2.00 mm off");
    EXPECT_NE(message(gears(0, 0.01), "gear.axes").find("0.573° apart"), std::string::npos);
    EXPECT_TRUE(message(gears(0, 0), "gear.axes").empty());
    EXPECT_FALSE(message(gears(0, 0, 50), "gear.no_teeth").empty());
}

TEST(Findings, KeysThatDoNothingOrLeaveTheLimits) {
    Document d = gears(0, 0);
    test::key(d, test::named(d, "large"), {{0, 0}});
    EXPECT_EQ(message(d, "keys.driven"), "") << "with keys it drives the other one";
    test::key(d, test::named(d, "small"), {{0, 0}, {200, 2}});
    EXPECT_EQ(message(d, "train.clash").find("'large' has keys, but 'small' turns it already"), 0u)
        << message(d, "train.clash");
    EXPECT_EQ(message(d, "keys.driven"), "1 key of 'large' without effect: 'small' drives it");
    Part small = *d.parts.find(test::named(d, "small"));
    small.joint.turn.limits = Limits{0, 1};
    d.parts.set(small);
    test::key(d, small.id, {{0, 0}, {200, 2}});
    EXPECT_EQ(message(d, "keys.limit"),
              "'small' is keyed to 114.59° at frame 200, its limits are 0.00° to 57.30°");
    EXPECT_EQ(message(d, "keys.after_end"), "'small' has a key at frame 200, clip 'clip 1' ends at 120");
    small.joint.kind = JointKind::Fixed;
    Document fixed = on_floor();
    test::key(fixed, test::named(fixed, "box"), {{0, 0}});
    EXPECT_EQ(message(fixed, "keys.fixed"), "1 key of 'box' without effect: its joint is fixed");
}

TEST(Findings, ADrivenGearStoppedByItsLimitIsToldWithTheFrame) {
    Document d = gears(0, 0);
    Part large = *d.parts.find(test::named(d, "large"));
    large.joint.turn.limits = Limits{-0.5, 0.5};
    d.parts.set(large);
    test::key(d, test::named(d, "small"), {{0, 0, Interpolation::Linear}, {120, 12, Interpolation::Linear}});
    // 0.1 rad a frame at the driver, a third of it at the wheel: 0.5 rad after 15 frames.
    EXPECT_EQ(message(d, "limit.stops_gear"),
              "'large' is stopped by its limit -28.65° at frame 15 of 'clip 1'");
}

TEST(Findings, AreSortedByStageAndTheSameEachTime) {
    Document d = gears(0.002, 0.01);
    test::add_shaped(d, "small",
                     test::joined(test::box({0, 0, 1}, {1, 1, 2}), test::box({2, 0, 0}, {3, 1, 1})));
    const auto findings = check_document(d);
    EXPECT_TRUE(std::is_sorted(findings.begin(), findings.end(),
                               [](const Finding& a, const Finding& b) { return a.stage < b.stage; }));
    EXPECT_EQ(findings, check_document(d));
}

}  // namespace
}  // namespace pivrak

namespace pivrak {
namespace {

const Finding* found(const std::vector<Finding>& findings, const char* code) {
    const auto at =
        std::find_if(findings.begin(), findings.end(), [&](const Finding& f) { return f.code == code; });
    return at == findings.end() ? nullptr : &*at;
}

/// Every fix that a finding offers runs, and the finding is gone after it.
TEST(Findings, WhatTheyOfferMendsThem) {
    Document d = empty_document();
    Mesh bad = test::box({0, 0, 0.2}, {400, 80, 40});
    std::swap(bad.indices[1], bad.indices[2]);
    test::add_shaped(d, "rear axle", with_normals(test::box({300, 0, 0.2}, {310, 80, 40})));
    test::add_shaped(d, "front axle", with_normals(test::box({0, 0, 0.2}, {10, 80, 40})));
    test::add_shaped(d, "hull", bad);
    test::add_shaped(
        d, "pair",
        with_normals(test::joined(test::box({0, 0, 50}, {1, 1, 51}), test::box({3, 0, 50}, {4, 1, 51}))));
    test::add_part(d, "unused");
    test::add_shaped(d, "hull", with_normals(test::box({0, 0, 60}, {1, 1, 61})));
    Mesh crushed = test::box({0, 0, 70}, {1, 1, 71});
    crushed.indices.insert(crushed.indices.end(), {0, 0, 1});
    crushed.submeshes[0].index_count += 3;
    test::add_shaped(d, "crushed", crushed);
    for (const char* code : {"size.huge", "ground.off", "facing.backwards", "node.empty", "surface.zero_area",
                             "surface.turned", "shape.loose_pieces", "name.duplicate"}) {
        SCOPED_TRACE(code);
        const auto before = check_document(d);
        const Finding* finding = found(before, code);
        ASSERT_NE(finding, nullptr);
        ASSERT_TRUE(finding->fix.is_object());
        EXPECT_FALSE(finding->fix_title.empty());
        d = test::run(d, finding->fix);
        EXPECT_EQ(found(check_document(d), code), nullptr);
    }
}

TEST(Findings, OpenCrowdedAndSheets) {
    Document d = empty_document();
    Mesh open = test::box({0, 0, 0}, {1, 1, 1});
    open.indices.resize(30);
    open.submeshes[0].index_count = 30;
    test::add_shaped(d, "crate", open);
    const auto findings = check_document(d);
    const Finding* gap = found(findings, "surface.open");
    ASSERT_NE(gap, nullptr);
    EXPECT_NE(gap->message.find("4 edges, 4.000 m in all"), std::string::npos) << gap->message;
    EXPECT_TRUE(gap->fix.is_null()) << "a person has to decide";

    Document ground = empty_document();
    Mesh sheet;
    sheet.positions = {{0, 0, 0}, {4, 0, 0}, {4, 4, 0.2f}, {0, 4, 0}};
    sheet.indices = {0, 1, 2, 0, 2, 3};
    sheet.submeshes = {{MaterialId{}, 0, 6, {}}};
    test::add_shaped(ground, "field", sheet);
    EXPECT_EQ(found(check_document(ground), "surface.open"), nullptr) << "a sheet is open on purpose";
}

TEST(Findings, AreTheSameWithFactsKeptFromBefore) {
    Document d = empty_document();
    Mesh open = test::box({0, 0, 0}, {1, 1, 1});
    open.indices.resize(30);
    open.submeshes[0].index_count = 30;
    test::add_shaped(d, "crate", open);
    MeshFacts facts;
    const auto first = check_document(d, {}, &facts);
    EXPECT_TRUE(check_document(d, {}, &facts) == first);
    EXPECT_TRUE(check_document(d) == first);
    d = test::run(d, {{"op", "part.remove"}, {"parts", {"crate"}}});
    EXPECT_TRUE(check_document(d, {}, &facts).empty());
}

}  // namespace
}  // namespace pivrak
