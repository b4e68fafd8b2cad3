// Pivots by hands: places picked in the view, aiming, the spin check and the swing check.
#include <gtest/gtest.h>

#include <QListWidget>

#include "app/stages/pivots/pivot_plots.h"
#include "app/stages/pivots/swing_map_chart.h"
#include "core/operations/places.h"
#include "tests/app/app_test.h"
#include "tests/support/window.h"

namespace pivrak {
namespace {

using nlohmann::json;
using test::Hands;

Hands& add(Hands& hands, json step) {
    step["op"] = "stand_in.add";
    EXPECT_TRUE(hands.session.run(step)) << hands.refusals.join("; ").toStdString();
    hands.settle();
    return hands;
}

/// The pixel of a place on a part's shape, a little towards a point, so that it is not beside the shape.
QPoint pixelOf(Hands& hands, const Vec3& place, const Vec3& towards, double share) {
    const Vec3 seen = hands.window.view().camera().project(place + share * (towards - place));
    return {static_cast<int>(std::lround(seen.x())), static_cast<int>(std::lround(seen.y()))};
}

TEST(PivotsByHand, AHingeLineByTwoPlaces) {
    Hands hands(test::look());
    add(hands, {{"kind", "box"},
                {"name", "Door"},
                {"length", 0.1},
                {"width", 1.0},
                {"height", 2.0},
                {"at", {0, 0, 0}}});
    hands.window.view().setDirection(0.6, 0.3);
    hands.key(Qt::Key_F, Qt::ShiftModifier);
    hands.key(Qt::Key_3);
    hands.clickRow(hands.named("Door"));
    hands.click("pickPlaces");
    Viewport& view = hands.window.view();
    // Corners of the side that looks forward.
    const Bounds box = document_bounds(hands.session.document());
    const Vec3 middle(box.max.x(), 0, box.middle().z());
    const Vec3 low(box.max.x(), box.min.y(), box.min.z()), high(box.max.x(), box.min.y(), box.max.z());
    QTest::mouseClick(&view, Qt::LeftButton, {}, pixelOf(hands, low, middle, 0.01));
    QTest::mouseClick(&view, Qt::LeftButton, {}, pixelOf(hands, high, middle, 0.01));
    hands.settle();
    ASSERT_EQ(hands.session.picks().places.size(), 2u);
    EXPECT_TRUE(hands.text("placesPicked").contains("2.0000 m apart"))
        << hands.text("placesPicked").toStdString();
    hands.choose("pivotLineAxis", "z");
    hands.click("pivotLine");
    ASSERT_NE(hands.session.previewed(), nullptr) << hands.refusals.join("; ").toStdString();
    EXPECT_TRUE(hands.text("previewText").contains("hinge line of 2")) << "its numbers come before Accept";
    hands.click("acceptPreview");
    const Frame now = world_from_rest(hands.session.document(), hands.named("Door"));
    EXPECT_LT((now.translation - 0.5 * (low + high)).norm(), 1e-5);
    EXPECT_LT((now.axis(2) - Vec3(0, 0, 1)).norm(), 1e-6);
    // Beside the model the places are let go.
    hands.click("pickPlaces");
    EXPECT_EQ(hands.session.pickSettings().kind, PickKind::Parts);
}

TEST(PivotsByHand, RimsFacesAndEdgesSnap) {
    Hands hands(test::look());
    add(hands, {{"kind", "tube"},
                {"name", "Sleeve"},
                {"length", 0.5},
                {"diameter", 0.4},
                {"bore", 0.3},
                {"axis", "z"},
                {"at", {1, 2, 0}}});
    add(hands, {{"kind", "box"},
                {"name", "Lid"},
                {"length", 0.4},
                {"width", 0.4},
                {"height", 0.2},
                {"at", {3, 2, 0}}});
    hands.window.view().setDirection(0.5, 1.0);
    hands.key(Qt::Key_F, Qt::ShiftModifier);
    hands.key(Qt::Key_3);
    hands.clickRow(hands.named("Lid"));
    hands.click("pickPlaces");
    Viewport& view = hands.window.view();
    const Document& d = hands.session.document();
    const Bounds sleeve = mesh_bounds(*d.shapes.find(d.parts.find(hands.named("Sleeve"))->shape)->mesh,
                                      world_from_rest(d, hands.named("Sleeve")));
    // Just inside the outer rim of the upper end.
    const Vec3 rim(1 + 0.199 * std::cos(0.5), 2 + 0.199 * std::sin(0.5), sleeve.max.z());
    QTest::mouseClick(&view, Qt::LeftButton, {}, pixelOf(hands, rim, rim, 0));
    const Bounds lid = mesh_bounds(*d.shapes.find(d.parts.find(hands.named("Lid"))->shape)->mesh,
                                   world_from_rest(d, hands.named("Lid")));
    const Vec3 top(lid.middle().x(), lid.middle().y(), lid.max.z());
    QTest::mouseClick(&view, Qt::LeftButton, {}, pixelOf(hands, top + Vec3(0.05, 0.02, 0), top, 0));
    hands.settle();
    const auto& places = hands.session.picks().places;
    ASSERT_EQ(places.size(), 2u);
    EXPECT_EQ(places[0].kind, PickedPlace::Kind::RimCentre);
    EXPECT_LT((*place_from(d, places[0].argument()) - Vec3(1, 2, sleeve.max.z())).norm(), 1e-4);
    EXPECT_EQ(places[1].kind, PickedPlace::Kind::FaceCentre);
    EXPECT_LT((*place_from(d, places[1].argument()) - top).norm(), 1e-5);
    hands.click("pivotBetween");
    ASSERT_NE(hands.session.previewed(), nullptr) << hands.refusals.join("; ").toStdString();
    hands.click("acceptPreview");
    EXPECT_LT((world_from_rest(hands.session.document(), hands.named("Lid")).translation -
               0.5 * (Vec3(1, 2, sleeve.max.z()) + top))
                  .norm(),
              1e-4);
}

TEST(PivotsByHand, PivotsAndGridCrossingsSnapToo) {
    Hands hands(test::look());
    add(hands, {{"kind", "box"}, {"name", "A"}, {"at", {0, 0, 0}}});
    add(hands, {{"kind", "box"}, {"name", "B"}, {"at", {0.5, 0.6, 0}}});
    hands.window.view().setDirection(0.6, 0.6);
    hands.key(Qt::Key_F, Qt::ShiftModifier);
    hands.key(Qt::Key_3);
    hands.clickRow(hands.named("A"));
    hands.click("viewFrames");
    hands.click("pickPlaces");
    const Document& d = hands.session.document();
    const Vec3 pivot = world_from_rest(d, hands.named("B")).translation,
               crossing(1, 0, 0);  // the grid has lines every metre
    Viewport& view = hands.window.view();
    QTest::mouseClick(&view, Qt::LeftButton, {}, pixelOf(hands, pivot, pivot, 0));
    QTest::mouseClick(&view, Qt::LeftButton, {}, pixelOf(hands, crossing, crossing, 0));
    hands.settle();
    const auto& places = hands.session.picks().places;
    ASSERT_EQ(places.size(), 2u);
    EXPECT_EQ(places[0].kind, PickedPlace::Kind::Pivot);
    EXPECT_EQ(places[1].kind, PickedPlace::Kind::Grid);
    EXPECT_LT((*place_from(d, places[1].argument()) - crossing).norm(), 1e-9);
    hands.click("pivotBetween");
    hands.click("acceptPreview");
    EXPECT_LT(
        (world_from_rest(hands.session.document(), hands.named("A")).translation - 0.5 * (pivot + crossing))
            .norm(),
        1e-9);
}

TEST(PivotsByHand, NumbersAxesAndOtherParts) {
    Hands hands(test::look());
    add(hands, {{"kind", "box"}, {"name", "A"}, {"at", {0, 0, 0}}});
    add(hands, {{"kind", "box"}, {"name", "B"}, {"at", {2, 1, 0}}});
    hands.key(Qt::Key_3);
    hands.clickRow(hands.named("A"));
    hands.type("pivotX", "125 mm");
    hands.click("acceptPreview");
    EXPECT_NEAR(world_from_rest(hands.session.document(), hands.named("A")).translation.x(), 0.125, 1e-12);
    hands.type("pivotY", "3 deg");
    EXPECT_FALSE(hands.refusals.isEmpty()) << "an angle is no place";
    hands.clickRow(hands.named("B"), Qt::ControlModifier);
    hands.click("pivotAsLast");
    hands.click("acceptPreview");
    EXPECT_LT(
        (world_from_rest(hands.session.document(), hands.named("A")).translation - Vec3(2, 1, 0)).norm(),
        1e-9);
    hands.clickRow(hands.named("A"));
    hands.click("tabAim");
    hands.choose("aimAxis", "x");
    hands.choose("aimAlong", "+z");
    hands.click("aimPivot");
    hands.click("acceptPreview");
    EXPECT_LT((world_from_rest(hands.session.document(), hands.named("A")).axis(0) - Vec3(0, 0, 1)).norm(),
              1e-12);
    EXPECT_TRUE(hands.text("axesInWords").contains("own X: world +Z"));
    hands.click("flipAxes");
    hands.click("acceptPreview");
    EXPECT_TRUE(hands.text("axesInWords").contains("own X: world -Z"));
    // The upright edge of the box nearest to the eye, clicked a third of the way up.
    hands.choose("aimAlong", "edge");
    EXPECT_FALSE(hands.find("aimPivot")->isEnabled()) << "no edge is picked";
    const PartId a = hands.named("A");
    const auto& mesh =
        *hands.session.document().shapes.find(hands.session.document().parts.find(a)->shape)->mesh;
    const Frame shape = world_from_rest(hands.session.document(), a) *
                        hands.session.document().parts.find(a)->part_from_shape;
    Vec3 near(0, 0, 0);
    double nearest = 1e300;
    for (const Vec3f& p : mesh.positions) {
        const Vec3 corner = shape.point(p.cast<double>());
        const double away = (corner - hands.window.view().camera().eye()).norm();
        if (away < nearest) std::tie(nearest, near) = std::pair(away, corner);
    }
    double low = 1e300, high = -1e300;
    for (const Vec3f& p : mesh.positions) {
        low = std::min(low, shape.point(p.cast<double>()).z());
        high = std::max(high, shape.point(p.cast<double>()).z());
    }
    const Vec3 on_edge(near.x(), near.y(), low + (high - low) / 3);
    QTest::mouseClick(&hands.window.view(), Qt::LeftButton, {}, pixelOf(hands, on_edge, on_edge, 0));
    hands.settle();
    ASSERT_EQ(hands.session.picks().edges.size(), 1u);
    hands.choose("aimAxis", "y");
    hands.click("aimPivot");
    hands.click("acceptPreview");
    EXPECT_NEAR(std::abs(world_from_rest(hands.session.document(), a).axis(1).z()), 1, 1e-12);
    hands.choose("aimAlong", "world");
    hands.click("aimPivot");
    hands.click("acceptPreview");
    EXPECT_LT(
        angle_between(world_from_rest(hands.session.document(), hands.named("A")).rotation, Quat(1, 0, 0, 0)),
        1e-12);
}

TEST(SpinByHand, AWobblingWheelIsListedAndCentred) {
    Hands hands(test::look());
    add(hands, {{"kind", "wheel"},
                {"name", "Wheel"},
                {"diameter", 0.6},
                {"width", 0.2},
                {"axis", "y"},
                {"at", {0, 0, 0.3}}});
    const PartId wheel = hands.named("Wheel");
    hands.session.run({{"op", "pivot.to"}, {"parts", {"Wheel"}}, {"place", {0.0004, 0, 0.3}}});
    hands.session.run({{"op", "joint.set"}, {"parts", {"Wheel"}}, {"kind", "hinge"}, {"axis", "x"}});
    const Joint joint = hands.session.document().parts.find(wheel)->joint;
    hands.key(Qt::Key_3);
    const auto has_finding = [&] {
        const auto& all = hands.session.findings();
        return std::any_of(all.begin(), all.end(),
                           [](const Finding& f) { return f.code == "pivot.run_out"; });
    };
    EXPECT_TRUE(has_finding());
    hands.click("tabSpin");
    auto* list = hands.find<QListWidget>("spinList");
    ASSERT_NE(list, nullptr);
    ASSERT_TRUE(QTest::qWaitFor([&] { return list->count() == 1; }, 30000));
    EXPECT_TRUE(list->item(0)->text().contains("0.80")) << list->item(0)->text().toStdString();
    list->setCurrentRow(0);
    hands.settle();
    EXPECT_TRUE(hands.session.isSelected(wheel));
    hands.click("letTurn");
    const double before = hands.session.turnOf(wheel);
    EXPECT_TRUE(QTest::qWaitFor([&] { return hands.session.turnOf(wheel) != before; }, 30000))
        << "it turns to look at";
    hands.click("letTurn");
    EXPECT_EQ(hands.session.turnOf(wheel), 0) << "and nothing of it stays";
    hands.click("centrePivot");
    ASSERT_NE(hands.session.previewed(), nullptr) << hands.refusals.join("; ").toStdString();
    hands.click("acceptPreview");
    EXPECT_LT((world_from_rest(hands.session.document(), wheel).translation - Vec3(0, 0, 0.3)).norm(), 1e-5);
    EXPECT_TRUE(hands.session.document().parts.find(wheel)->joint == joint);
    EXPECT_FALSE(has_finding());
    EXPECT_TRUE(hands.text("spinState").contains("run true")) << hands.text("spinState").toStdString();
}

TEST(SwingByHand, ADoorIsSweptAndItsContactBecomesTheLimit) {
    Hands hands(test::look());
    add(hands, {{"kind", "box"},
                {"name", "Door"},
                {"length", 1.0},
                {"width", 0.1},
                {"height", 1.0},
                {"at", {0.5, 0, 0}}});
    add(hands, {{"kind", "box"},
                {"name", "Wall"},
                {"length", 4.0},
                {"width", 0.1},
                {"height", 1.0},
                {"at", {0, 0.55, 0}}});
    hands.session.run({{"op", "pivot.to"}, {"parts", {"Door"}}, {"place", {0, 0, 0}}});
    hands.session.run({{"op", "joint.set"}, {"parts", {"Door"}}, {"kind", "hinge"}, {"axis", "z"}});
    hands.key(Qt::Key_3);
    hands.clickRow(hands.named("Door"));
    hands.click("tabSwing");
    hands.type("swingFrom", "-90", false);
    hands.type("swingTo", "120", false);
    hands.click("swingRun");
    ASSERT_TRUE(hands.text("swingResult").contains("touches Wall"))
        << hands.text("swingResult").toStdString();
    // The corner (1, 0.05) reaches y = 0.5.
    const double expected = std::asin(0.5 / std::hypot(1, 0.05)) - std::atan(0.05);
    hands.click("swingUpper");
    const auto limits = [&] {
        return hands.session.document().parts.find(hands.named("Door"))->joint.turn.limits;
    };
    ASSERT_TRUE(limits().has_value()) << hands.refusals.join("; ").toStdString();
    EXPECT_NEAR(limits()->max * deg_per_rad, expected * deg_per_rad, 0.01);
    EXPECT_TRUE(hands.text("swingResult").contains("out of date"));
    hands.click("swingShow");
    EXPECT_NEAR(hands.session.turnOf(hands.named("Door")), limits()->max, 1e-4);
    EXPECT_TRUE(hands.session.isSelected(hands.named("Wall"))) << "both are shown";
}

/// What a field shows rounded is swept whole, and a contact that is shown is stood at whole.
TEST(SwingByHand, RangesAndContactsAreNotRounded) {
    Hands hands(test::look());
    add(hands, {{"kind", "box"}, {"name", "Drawer"}, {"length", 0.4}, {"width", 0.3}, {"height", 0.2}});
    add(hands, {{"kind", "box"},
                {"name", "Stop"},
                {"length", 0.1},
                {"width", 0.3},
                {"height", 0.2},
                {"at", {0.61234567, 0, 0}}});
    hands.session.run({{"op", "project.set"}, {"length_unit", "mm"}});
    hands.session.run({{"op", "joint.set"},
                       {"parts", {"Drawer"}},
                       {"kind", "slide"},
                       {"axis", "x"},
                       {"channel", "shift"},
                       {"min", -0.1234567},
                       {"max", 0.5}});
    hands.key(Qt::Key_3);
    const PartId drawer = hands.named("Drawer");
    hands.clickRow(drawer);
    hands.click("tabSwing");
    EXPECT_EQ(hands.find<QLineEdit>("swingFrom")->text(), "-123.46 mm");
    EXPECT_EQ(hands.find<QLineEdit>("swingTo")->text(), "500.00 mm");
    hands.click("swingRun");
    ASSERT_TRUE(hands.text("swingResult").contains("touches Stop"))
        << hands.text("swingResult").toStdString();
    EXPECT_FALSE(hands.text("swingResult").contains(QRegularExpression("[0-9] m\\b")));
    hands.click("swingShow");
    // Both halves and the gap: 0.61234567 - 0.05 - 0.2.
    EXPECT_NEAR(hands.session.valueOf({drawer, ChannelKind::Shift}), 0.36234567, 2e-5);
    hands.click("swingUpper");
    EXPECT_EQ(hands.session.valueOf({drawer, ChannelKind::Shift}),
              hands.session.document().parts.find(drawer)->joint.shift.limits->max)
        << "stood at the contact itself";
    // What is typed is told with its unit.
    hands.type("swingFrom", "-50", false);
    hands.click("swingRun");
    EXPECT_EQ(hands.find<QLineEdit>("swingFrom")->text(), "-50.00 mm");
}

TEST(SwingByHand, TwoJointsAtOnceAreChartedAndPosedByAClick) {
    Hands hands(test::look());
    for (const auto& [name, x] : {std::pair("Left leaf", 0.5), {"Right leaf", 1.6}})
        add(hands, {{"kind", "box"},
                    {"name", name},
                    {"length", 1.0},
                    {"width", 0.1},
                    {"height", 1.0},
                    {"at", {x, 0, 0}}});
    hands.session.run({{"op", "pivot.to"}, {"parts", {"Left leaf"}}, {"place", {0, 0, 0}}});
    hands.session.run({{"op", "pivot.to"}, {"parts", {"Right leaf"}}, {"place", {2.1, 0, 0}}});
    hands.session.run(
        {{"op", "joint.set"}, {"parts", {"Left leaf", "Right leaf"}}, {"kind", "hinge"}, {"axis", "z"}});
    hands.key(Qt::Key_3);
    hands.clickRow(hands.named("Left leaf"));
    hands.click("tabSwing");
    EXPECT_FALSE(hands.find("mapRun")->isEnabled()) << "one joint is not two";
    hands.clickRow(hands.named("Right leaf"), Qt::ControlModifier);
    hands.type("mapFirstFrom", "0", false);
    hands.type("mapFirstTo", "90", false);
    hands.type("mapSecondFrom", "-90", false);
    hands.type("mapSecondTo", "0", false);
    hands.click("mapRun");
    EXPECT_TRUE(hands.text("mapResult").contains("of all poses touch"))
        << hands.refusals.join("; ").toStdString();
    auto* chart = hands.find("swingMap");
    ASSERT_NE(chart, nullptr);
    QTest::mouseClick(chart, Qt::LeftButton, {}, QPoint(chart->width() - 13, 7));
    hands.settle();
    EXPECT_NEAR(hands.session.turnOf(hands.named("Left leaf")), pi / 2, 1e-9);
    EXPECT_NEAR(hands.session.turnOf(hands.named("Right leaf")), 0, 1e-9);
    EXPECT_TRUE(hands.text("mapResult").contains("out of date"));
}

TEST(SwingMapChart, CellsAreFoundWhereTheyArePainted) {
    SwingMap map;
    map.first_values = {0, 1, 2};
    map.second_values = {0, 1};
    const MapScale scale = MapScale::fit(QRectF(10, 20, 90, 60), map);
    for (std::size_t i = 0; i < 3; ++i)
        for (std::size_t j = 0; j < 2; ++j) {
            const auto at = scale.at(scale.cell(i, j).center());
            ASSERT_TRUE(at.has_value());
            EXPECT_EQ(at->column, i);
            EXPECT_EQ(at->row, j);
        }
    EXPECT_FALSE(scale.at(QPointF(5, 30)).has_value());
    const Theme theme = Theme::day();
    EXPECT_EQ(clearanceColor(0, 1, theme), theme.rust);
    EXPECT_EQ(clearanceColor(0.5, 1, theme), theme.leaf);
}

TEST(PivotPlots, ScalesHoldWhatTheyShow) {
    SpinCheck spin;
    spin.run_out_m = 2e-3;
    for (int i = 0; i < 36; ++i)
        spin.samples.push_back({i * 10 * rad_per_deg, 1e-3 * std::cos(i * 10 * rad_per_deg)});
    const QRectF box(10, 20, 100, 80);
    const PolarScale polar = PolarScale::fit(box, spin);
    for (const auto& sample : spin.samples) EXPECT_TRUE(box.contains(polar.at(sample)));
    EXPECT_GT(polar.at(spin.samples[0]).x() - polar.middle.x(),
              polar.middle.x() - polar.at(spin.samples[18]).x());
    SwingCheck swing;
    swing.curve = {{-1, 0.2, {}}, {0, 0.1, {}}, {1, std::numeric_limits<double>::infinity(), {}}};
    const CurveScale curve = CurveScale::fit(box, swing);
    EXPECT_EQ(curve.x(-1), box.left());
    EXPECT_EQ(curve.x(1), box.right());
    EXPECT_EQ(curve.y(0), box.bottom());
    EXPECT_GT(curve.y(0.1), curve.y(0.2));
    EXPECT_EQ(curve.y(swing.curve[2].clearance_m), box.top());
}

TEST(PivotsByHand, AnEyeGetsItsPivotOnTheBolt) {
    Hands hands(test::look());
    add(hands, {{"kind", "tube"},
                {"name", "Eye"},
                {"axis", "y"},
                {"diameter", 0.2},
                {"bore", 0.1},
                {"length", 0.1},
                {"at", {1, 0.2, 0.5}}});
    add(hands, {{"kind", "cylinder"},
                {"name", "Bolt"},
                {"axis", "y"},
                {"diameter", 0.1},
                {"length", 0.6},
                {"at", {1, 0.3, 0.5}}});
    hands.session.run({{"op", "pivot.to"}, {"parts", {"Eye"}}, {"place", {0, 0, 0}}});
    hands.key(Qt::Key_3);
    hands.clickRow(hands.named("Eye"));
    hands.clickRow(hands.named("Bolt"), Qt::ControlModifier);
    hands.click("pivotPin");
    hands.click("acceptPreview");
    const Frame eye = world_from_rest(hands.session.document(), hands.named("Eye"));
    EXPECT_NEAR(eye.translation.x(), 1, 1e-6) << hands.refusals.join("; ").toStdString();
    EXPECT_NEAR(eye.translation.z(), 0.5, 1e-6);
    EXPECT_NEAR(eye.translation.y(), 0.2, 0.051) << "half way along what both share";
}

}  // namespace
}  // namespace pivrak
