#include <gtest/gtest.h>

#include "core/checks/exercise/exercise_report.h"
#include "tests/core/elements/linkages.h"
#include "tests/support/cart.h"
#include "tests/support/documents.h"
#include "tests/support/shapes.h"

namespace pivrak {
namespace {

using nlohmann::json;
using test::named;
using test::run;

const ExerciseRow* row_of(const ExerciseReport& report, const std::string& code, PartId part = {}) {
    for (const ExerciseRow& row : report.rows)
        if (row.code == code && (!part || row.part == part || row.other == part)) return &row;
    return nullptr;
}

ExerciseReport exercised(const Document& document, const ExerciseOptions& options = {}) {
    const auto report = exercise(document, options);
    EXPECT_TRUE(report.ok()) << (report ? "" : report.error().message);
    return report ? *report : ExerciseReport{};
}

/// A plate that turns about its end, above a block that it meets at 30 degrees.
Document plate_above_block() {
    Document d = empty_document();
    // The plate runs 1 m along x from its hinge at the origin, 20 mm thick about z = 0.
    PartId plate = test::add_shaped(d, "plate", test::box({0, -0.1, -0.01}, {1, 0.1, 0.01}), {}, {});
    // The block's nearest edge stands where the plate's underside comes at 30 degrees.
    const double down = 30 * rad_per_deg;
    const Vec3 edge(0.5 * std::cos(down) - 0.01 * std::sin(down), 0,
                    -0.5 * std::sin(down) - 0.01 * std::cos(down));
    test::add_shaped(d, "block", test::box({edge.x() - 0.2, -0.1, edge.z() - 0.3}, {edge.x(), 0.1, edge.z()}),
                     {}, {});
    return run(d, {{"op", "joint.set"},
                   {"parts", {plate.value}},
                   {"kind", "hinge"},
                   {"axis", "y"},
                   {"min", "-90 deg"},
                   {"max", "60 deg"}});
}

TEST(Exercise, TellsWhereAPlateMeetsABlock) {
    const Document d = plate_above_block();
    const ExerciseReport report = exercised(d);
    ASSERT_EQ(report.ranges.size(), 1u);
    EXPECT_FALSE(report.ranges[0].assumed);
    EXPECT_EQ(report.motions, 1u);
    EXPECT_EQ(report.poses, 97u);
    const ExerciseRow* row = row_of(report, "contact");
    ASSERT_NE(row, nullptr);
    EXPECT_EQ(report.rows.size(), 1u);
    ASSERT_EQ(row->pose.size(), 1u);
    // Looked at every 3.1 degrees of the way down: the first look behind the contact, never before it.
    EXPECT_GE(row->pose[0].value, 30 * rad_per_deg - 1e-9);
    EXPECT_LT(row->pose[0].value, 33.2 * rad_per_deg);
    EXPECT_NE(row->message.find("'plate' touches 'block' with plate turn at 3"), std::string::npos)
        << row->message;
}

TEST(Exercise, WhatTouchesAtRestAndWhatIsFixedTogetherIsNoContact) {
    Document d = plate_above_block();
    // A bolt through the plate, fixed to it, and a post that the plate's end stands in at rest.
    test::add_shaped(d, "bolt", test::box({0.2, -0.01, -0.05}, {0.22, 0.01, 0.05}), named(d, "plate"), {});
    test::add_shaped(d, "post", test::box({-0.05, -0.05, -0.5}, {0.05, 0.05, 0.05}), {}, {});
    const ExerciseReport report = exercised(d);
    EXPECT_EQ(row_of(report, "contact", named(d, "post")), nullptr);
    EXPECT_EQ(row_of(report, "contact", named(d, "bolt")), nullptr);
    EXPECT_NE(row_of(report, "contact", named(d, "block")), nullptr);
}

TEST(Exercise, APairIsToldOnlyOfWhatNeitherDoesAlone) {
    // Two slides at right angles: the pin hits the cube only when both have moved.
    Document d = empty_document();
    const PartId pin = test::add_shaped(d, "pin", test::box({-0.1, -0.1, -0.1}, {0.1, 0.1, 0.1}), {}, {}),
                 cube = test::add_shaped(d, "cube", test::box({0.7, 0.7, -0.1}, {0.9, 0.9, 0.1}), {}, {});
    d = run(d, {{"op", "joint.set"},
                {"parts", {pin.value}},
                {"kind", "slide"},
                {"axis", "x"},
                {"min", 0},
                {"max", 1}});
    d = run(d, {{"op", "joint.set"},
                {"parts", {cube.value}},
                {"kind", "slide"},
                {"axis", "y"},
                {"min", -1},
                {"max", 0}});
    EXPECT_TRUE(exercised(d, {.pairs = 0}).rows.empty());
    const ExerciseReport both = exercised(d, {.pairs = 8});
    EXPECT_EQ(both.motions, 10u);
    ASSERT_EQ(both.rows.size(), 1u);
    EXPECT_EQ(both.rows[0].code, "contact");
    ASSERT_EQ(both.rows[0].pose.size(), 2u);
    // In that pose they do touch, by the boxes' own numbers.
    const auto value = [&](PartId part) {
        for (const ExercisedValue& one : both.rows[0].pose)
            if (one.channel.part() == part) return one.value;
        return 1e9;
    };
    EXPECT_LE(std::abs(value(pin) - 0.8), 0.2);
    EXPECT_LE(std::abs(0.8 + value(cube)), 0.2);
}

TEST(Exercise, TheSameSeedDrawsTheSamePairs) {
    Document d = empty_document();
    for (const char* name : {"a", "b", "c", "d"}) {
        const PartId part = test::add_shaped(d, name, test::box({-0.1, -0.1, -0.1}, {0.1, 0.1, 0.1}), {},
                                             {Quat(1, 0, 0, 0), Vec3(0.5 * d.parts.size(), 0, 0)});
        d = run(d, {{"op", "joint.set"},
                    {"parts", {part.value}},
                    {"kind", "slide"},
                    {"axis", "x"},
                    {"min", -0.2},
                    {"max", 0.2}});
    }
    const ExerciseReport one = exercised(d, {.pairs = 10, .seed = 5}),
                         same = exercised(d, {.pairs = 10, .seed = 5}),
                         other = exercised(d, {.pairs = 10, .seed = 6});
    EXPECT_FALSE(one.rows.empty());
    EXPECT_EQ(one.rows, same.rows);
    EXPECT_NE(one.rows, other.rows);
}

TEST(Exercise, TellsTheDeadPointOfAFourBar) {
    // Ground 4, crank 3, coupler 2, rocker 2.2: no bar goes round (Grashof's rule: 4 + 2 > 3 + 2.2).
    const ExerciseReport report = exercised(test::four_bar({3, 2, 2.2, 4}, 0.5));
    const ExerciseRow* row = row_of(report, "linkage.stops");
    ASSERT_NE(row, nullptr);
    ASSERT_EQ(row->pose.size(), 1u);
    EXPECT_NE(row->message.find(" with "), std::string::npos) << row->message;
}

TEST(Exercise, ALockedOrDrivenChannelIsLeftAndAShaftRunsByItsInput) {
    Document d = empty_document();
    const PartId a = test::add_part(d, "a"), b = test::add_part(d, "b"), c = test::add_part(d, "c");
    for (const PartId part : {a, b, c}) test::make_hinge(d, part);
    test::couple(d, a, b, 20, 40);
    d = run(d, {{"op", "channel.limit"}, {"parts", {c.value}}, {"channel", "turn"}, {"locked", true}});
    const ExerciseReport report = exercised(d, {.pairs = 0});
    ASSERT_EQ(report.ranges.size(), 1u);
    EXPECT_EQ(report.ranges[0].channel, (ChannelRef{a, ChannelKind::Turn}));
    EXPECT_TRUE(report.ranges[0].assumed);
    EXPECT_EQ(
        exercise(
            run(d, {{"op", "channel.limit"}, {"parts", {a.value}}, {"channel", "turn"}, {"locked", true}}))
            .error()
            .code,
        "exercise.nothing");
}

TEST(Exercise, TellsAGearThatItsLimitStops) {
    Document d = empty_document();
    const PartId a = test::add_part(d, "a"), b = test::add_part(d, "b");
    for (const PartId part : {a, b}) test::make_hinge(d, part);
    test::couple(d, a, b, 20, 40);
    d = run(d, {{"op", "channel.limit"},
                {"parts", {b.value}},
                {"channel", "turn"},
                {"min", "-30 deg"},
                {"max", "45 deg"}});
    const ExerciseReport report = exercised(d);
    const ExerciseRow* row = row_of(report, "limit.stops_gear", b);
    ASSERT_NE(row, nullptr);
    // Half as fast and the other way: stopped at 45 when the driver is beyond -90 degrees.
    EXPECT_LE(row->pose.at(0).value, -90 * rad_per_deg + 1e-9);
    EXPECT_GT(row->pose.at(0).value, -98 * rad_per_deg);
}

TEST(Exercise, AWheelThatIsMadeToSlipIsTold) {
    test::Cart cart;
    Document rolls = cart.document;
    for (const char* other : {"shift_y", "shift_z", "turn_x", "turn_y", "turn_z"})
        rolls =
            run(rolls, {{"op", "channel.limit"}, {"parts", {"cart"}}, {"channel", other}, {"locked", true}});
    EXPECT_EQ(row_of(exercised(rolls, {.pairs = 0, .parts = {cart.cart}}), "wheel.slips"), nullptr);
    Document slips = rolls;
    Coupling coupling = *slips.couplings.begin();
    std::get<Roll>(coupling.what).slip = 0.1;
    slips.couplings.set(coupling);
    const ExerciseReport report = exercised(slips, {.pairs = 0, .parts = {cart.cart}});
    const ExerciseRow* row = row_of(report, "wheel.slips", cart.wheel);
    ASSERT_NE(row, nullptr);
    EXPECT_NE(row->message.find("has slid"), std::string::npos);
}

TEST(Exercise, IsCancelledInTheMiddle) {
    int asked = 0;
    const Progress stops([&](double, std::string_view) { return ++asked < 30; });
    EXPECT_EQ(exercise(plate_above_block(), {}, stops).error().code, "exercise.cancelled");
}

TEST(Exercise, ReportsAreTablesAndPages) {
    Document d = plate_above_block();
    d = run(d, {{"op", "part.rename"}, {"part", "block"}, {"name", "block, \"low\" <b>"}});
    const ExerciseReport report = exercised(d);
    const std::string csv = exercise_csv(d, report), html = exercise_html(d, report);
    EXPECT_NE(csv.find("contact,plate,\"block, \"\"low\"\" <b>\","), std::string::npos) << csv;
    EXPECT_NE(csv.find(",plate turn,3"), std::string::npos) << csv;
    EXPECT_NE(csv.find(",deg,,,\r\n"), std::string::npos) << csv;
    EXPECT_EQ(html.find("<b>"), std::string::npos);
    EXPECT_NE(html.find("block, &quot;low&quot; &lt;b&gt;"), std::string::npos);
    EXPECT_NE(html.find("-90.00° to 60.00°"), std::string::npos) << html;
    EXPECT_EQ(exercise_file(d, report, ".txt").error().code, "exercise.ending");
}

}  // namespace
}  // namespace pivrak
