// The Tree stage by hands: carriers, frames above, alignment, names, joints, controls and hands off.
#include <gtest/gtest.h>

#include <QTreeView>

#include "app/view/control_marks.h"
#include "tests/app/app_test.h"
#include "tests/support/window.h"

namespace pivrak {
namespace {

using nlohmann::json;
using test::Hands;

class Truck : public ::testing::Test {
protected:
    Hands hands{test::look()};

    void SetUp() override {
        box("Body", 4, 2, 1, {0, 0, 1});
        int i = 0;
        for (const auto& [x, y] : {std::pair(1.3, 1.0), {1.3, -1.0}, {-1.3, 1.0}, {-1.3, -1.0}})
            add({{"kind", "wheel"},
                 {"name", "Mesh " + std::to_string(++i)},
                 {"diameter", 0.8},
                 {"width", 0.3},
                 {"axis", "y"},
                 {"at", {x, y, 0.4}}});
        hands.window.view().setDirection(0.7, 0.4);
        hands.key(Qt::Key_F, Qt::ShiftModifier);
        hands.key(Qt::Key_4);
    }

    void box(const char* name, double l, double w, double h, std::array<double, 3> at) {
        add({{"kind", "box"}, {"name", name}, {"length", l}, {"width", w}, {"height", h}, {"at", at}});
    }

    void add(json step) {
        step["op"] = "stand_in.add";
        ASSERT_TRUE(hands.session.run(step)) << hands.refusals.join("; ").toStdString();
        hands.settle();
    }

    void pickWheels() { hands.pickNamed({"Mesh 1", "Mesh 2", "Mesh 3", "Mesh 4"}); }
    const Part& part(const std::string& name) {
        return *hands.session.document().parts.find(hands.named(name));
    }
};

TEST_F(Truck, RowsAreDraggedOntoTheirCarrierAndOff) {
    const Frame before = hands.session.worldFromPart(hands.named("Mesh 1"));
    hands.dragRow(hands.named("Mesh 1"), hands.named("Body"));
    EXPECT_EQ(part("Mesh 1").parent, hands.named("Body")) << hands.refusals.join("; ").toStdString();
    EXPECT_LT((hands.session.worldFromPart(hands.named("Mesh 1")).translation - before.translation).norm(),
              1e-12)
        << "it stays where it stands";
    hands.dragRow(hands.named("Body"), hands.named("Mesh 1"));
    EXPECT_EQ(part("Body").parent, PartId{}) << "no part goes under what it carries";
    hands.dragRow(hands.named("Mesh 1"), {});
    EXPECT_EQ(part("Mesh 1").parent, PartId{});
}

TEST_F(Truck, WheelsAreNamedBySideCarriedAndHingedAllAtOnce) {
    pickWheels();
    hands.click("tabNames");
    auto* pattern = hands.find<QComboBox>("namePattern");
    ASSERT_NE(pattern, nullptr);
    QTest::mouseClick(pattern, Qt::LeftButton, {}, QPoint(20, pattern->height() / 2));
    QTest::keyClick(pattern, Qt::Key_A, Qt::ControlModifier);
    QTest::keyClicks(pattern->lineEdit(), "<side> wheel");
    hands.settle();
    EXPECT_TRUE(hands.text("namesShown").contains("Mesh 1 → front left wheel"))
        << hands.text("namesShown").toStdString();
    hands.click("renameByPattern");
    for (const char* name : {"front left wheel", "front right wheel", "rear left wheel", "rear right wheel"})
        EXPECT_TRUE(find_part(hands.session.document(), name).ok()) << name;

    hands.click("tabCarrier");
    hands.clickRow(hands.named("Body"), Qt::ControlModifier);
    hands.click("putUnder");
    EXPECT_EQ(part("rear left wheel").parent, hands.named("Body"));

    hands.click("tabJoint");
    hands.clickRow(hands.named("front left wheel"));
    hands.clickRow(hands.named("front right wheel"), Qt::ControlModifier);
    hands.choose("jointKind", "hinge");
    hands.type("limitMin", "-35", true);
    hands.type("limitMax", "35", true);
    for (const char* name : {"front left wheel", "front right wheel"})
        EXPECT_NEAR(part(name).joint.turn.limits->max, 35 * rad_per_deg, 1e-12) << name;

    // A lock stops the hand and says so.
    hands.click("channelLocked");
    EXPECT_TRUE(part("front right wheel").joint.turn.locked);
    EXPECT_TRUE(hands.find<QLineEdit>("gaugeEntry")->isReadOnly());
    hands.click("channelLocked");
    hands.type("gaugeEntry", "20");
    EXPECT_NEAR(part("front right wheel").joint.turn.value, 20 * rad_per_deg, 1e-12);
    hands.key(Qt::Key_0);
    EXPECT_EQ(part("front right wheel").joint.turn.value, 0);
}

TEST_F(Truck, FramesAboveDatumsAndAlignment) {
    hands.clickRow(hands.named("Mesh 1"));
    hands.click("frameAbove");
    EXPECT_EQ(part("Mesh 1").parent, hands.named("Mesh 1 frame"));
    hands.clickRow(hands.named("Mesh 2"));
    hands.click("addDatum");
    const PartId datum = hands.named("Datum");
    hands.clickRow(hands.named("Mesh 3"));
    hands.clickRow(datum, Qt::ControlModifier);
    hands.choose("alignWhat", "place");
    hands.click("alignToLast");
    ASSERT_NE(hands.session.previewed(), nullptr) << hands.refusals.join("; ").toStdString();
    EXPECT_TRUE(hands.text("previewText").contains("moved by up to")) << "its numbers come before Accept";
    hands.click("acceptPreview");
    const Document& d = hands.session.document();
    EXPECT_LT((world_from_rest(d, hands.named("Mesh 3")).translation - world_from_rest(d, datum).translation)
                  .norm(),
              1e-12);
    // Dragging a carrier into what it carries is refused by name.
    hands.clickRow(hands.named("Mesh 1 frame"));
    hands.clickRow(hands.named("Mesh 1"), Qt::ControlModifier);
    hands.key(Qt::Key_U);
    ASSERT_FALSE(hands.refusals.isEmpty());
    EXPECT_TRUE(hands.refusals.back().contains("Mesh 1 frame")) << hands.refusals.back().toStdString();
}

/// A part is moved by typed numbers, seen first; and one that stays takes the place of another.
TEST(TreeByHand, PartsArePlacedAtRestAndReplaced) {
    Hands hands(test::look(), QStringLiteral(DEMO_MODELS));
    for (const char* name : {"Old snow", "Snow", "Post"})
        ASSERT_TRUE(hands.session.run({{"op", "stand_in.add"},
                                       {"kind", "box"},
                                       {"name", name},
                                       {"at", {0, 0, 0}},
                                       {"length", 2},
                                       {"width", 1},
                                       {"height", 1}}));
    hands.session.run({{"op", "path.add"}, {"name", "way"}, {"points", {{0, 0, 2}, {1, 0, 2}}}});
    hands.session.run({{"op", "path.drape"}, {"path", "way"}, {"ground", "Old snow"}});
    hands.key(Qt::Key_4);
    hands.click("tabPlace");
    hands.clickRow(hands.named("Post"));
    const Frame before = world_from_rest(hands.session.document(), hands.named("Post"));
    hands.type("place_forward", "1.5 m", false);
    hands.type("place_up", "250 mm", false);
    hands.type("place_turn", "90 deg", false);
    hands.settle();
    hands.click("previewPlace");
    ASSERT_NE(hands.session.previewed(), nullptr) << hands.refusals.join("; ").toStdString();
    hands.click("acceptPreview");
    const Frame after = world_from_rest(hands.session.document(), hands.named("Post"));
    EXPECT_LT((after.translation - before.translation - Vec3(1.5, 0, 0.25)).norm(), 1e-12);
    EXPECT_NEAR(angle_between(after.rotation, before.rotation), pi / 2, 1e-9);
    hands.click("tabCarrier");
    hands.clickRow(hands.named("Old snow"));
    const PartId snow = hands.named("Snow");
    hands.clickRow(snow, Qt::ControlModifier);
    hands.click("replaceByLast");
    hands.click("acceptPreview");
    EXPECT_FALSE(find_part(hands.session.document(), "Old snow").ok());
    EXPECT_EQ(hands.session.document().paths.begin()->drape->ground, snow);
}

TEST_F(Truck, TheConventionIsSetCheckedAndKept) {
    hands.click("tabNames");
    hands.choose("conventionSeparator", "underscore");
    EXPECT_TRUE(hands.text("conventionState").contains("4 names do not keep it"))
        << hands.text("conventionState").toStdString();
    const auto& findings = hands.session.findings();
    EXPECT_TRUE(std::any_of(findings.begin(), findings.end(),
                            [](const Finding& f) { return f.code == "name.convention"; }));
    hands.click("conformNames");
    EXPECT_TRUE(find_part(hands.session.document(), "Mesh_3").ok());
    EXPECT_TRUE(hands.text("conventionState").contains("All names keep it"));
}

TEST_F(Truck, ControlsArePickedBeforeGeometryAndAloneWithHandsOff) {
    pickWheels();
    hands.click("tabControls");
    hands.choose("controlColor", "rust");
    hands.click("addControls");
    ASSERT_TRUE(part("Mesh 1 control").is_control());
    EXPECT_EQ(part("Mesh 1 control").control->color, ControlColor::Rust);

    // A click on a line of the ring picks the control, through the wheel that lies there.
    Viewport& view = hands.window.view();
    const auto on_ring = [&](const std::string& name) {
        for (const SeenControl& seen : seenControls(hands.session, view.camera()))
            if (seen.part == hands.named(name)) return seen.lines.front()[5].toPoint();
        return QPoint();
    };
    QTest::mouseClick(&view, Qt::LeftButton, {}, on_ring("Mesh 1 control"));
    hands.settle();
    EXPECT_EQ(hands.session.primary(), hands.named("Mesh 1 control"));

    hands.click("viewHandsOff");
    ASSERT_TRUE(hands.session.handsOff());
    // Geometry is not picked now, neither in the view nor in the tree.
    hands.clickRow(hands.named("Body"));
    EXPECT_TRUE(hands.session.selection().empty());
    QTest::mouseClick(&view, Qt::LeftButton, {}, on_ring("Mesh 2 control"));
    hands.settle();
    EXPECT_EQ(hands.session.primary(), hands.named("Mesh 2 control"));
    hands.click("controlLarger");
    EXPECT_GT(part("Mesh 2 control").control->half_m.maxCoeff(),
              1.2 * part("Mesh 1 control").control->half_m.maxCoeff());
    hands.key(Qt::Key_H, Qt::ShiftModifier);
    EXPECT_FALSE(hands.session.handsOff());
    hands.clickRow(hands.named("Body"));
    EXPECT_EQ(hands.session.primary(), hands.named("Body"));
}

TEST_F(Truck, ASlideIsDraggedOnItsRuleAndAFreePartOnAnyOfItsGauges) {
    hands.clickRow(hands.named("Body"));
    hands.click("tabJoint");
    hands.choose("jointKind", "slide");
    hands.choose("jointAxis", "z");
    Viewport& view = hands.window.view();
    auto gauge = view.gauges().active();
    ASSERT_TRUE(gauge && std::holds_alternative<Rule>(gauge->form));
    const Vec2 knob = gauge->knob(view.camera());
    const QPoint from(static_cast<int>(knob.x()), static_cast<int>(knob.y()));
    hands.drag(&view, from, from - QPoint(0, 60), Qt::ShiftModifier);
    const double lifted = part("Body").joint.shift.value;
    EXPECT_GT(lifted, 0.02);
    EXPECT_NEAR(lifted, std::round(lifted * 100) / 100, 1e-9) << "Shift steps by 10 mm";
    hands.type("gaugeEntry", "3*25 mm");
    EXPECT_NEAR(part("Body").joint.shift.value, 0.075, 1e-12);

    hands.choose("jointKind", "free");
    EXPECT_EQ(view.gauges().gauges().size(), 6u);
    hands.key(Qt::Key_T);
    ASSERT_TRUE(view.gauges().active());
    EXPECT_TRUE(is_turn(view.gauges().active()->channel.kind));
    hands.type("gaugeEntry", "15");
    const ChannelKind turned = view.gauges().active()->channel.kind;
    EXPECT_NEAR(part("Body").joint.channel(turned).value, 15 * rad_per_deg, 1e-12);
    hands.key(Qt::Key_M);
    EXPECT_FALSE(is_turn(view.gauges().active()->channel.kind));
}

TEST_F(Truck, TheTreeIsFilteredByKindAndFinding) {
    hands.session.run({{"op", "joint.set"}, {"parts", {"Mesh 1"}}, {"kind", "hinge"}, {"axis", "x"}});
    hands.settle();
    const auto rows = [&] { return hands.window.parts().tree().model()->rowCount(); };
    EXPECT_EQ(rows(), 5);
    hands.type("partsFilter", "hinge");
    EXPECT_EQ(rows(), 1);
    hands.type("partsFilter", "datum");
    EXPECT_EQ(rows(), 0);
    hands.type("partsFilter", "mesh");
    EXPECT_EQ(rows(), 4);
}

/// Two clicks in the view, a face of what moves and a face of where it goes, and one button.
TEST(PlacedByHand, AFaceComesOntoAFace) {
    Hands hands(test::look());
    for (const nlohmann::json& step : {nlohmann::json{{"op", "stand_in.add"},
                                                      {"kind", "box"},
                                                      {"name", "Table"},
                                                      {"length", 1},
                                                      {"width", 0.6},
                                                      {"height", 0.2},
                                                      {"at", {0, 0, 0.1}}},
                                       json{{"op", "stand_in.add"},
                                            {"kind", "box"},
                                            {"name", "Crate"},
                                            {"length", 0.3},
                                            {"width", 0.2},
                                            {"height", 0.2},
                                            {"at", {1.2, 0, 0.9}}}})
        ASSERT_TRUE(hands.session.run(step)) << hands.refusals.join("; ").toStdString();
    hands.session.select({});
    hands.key(Qt::Key_4);
    hands.click("tabPlace");
    hands.click("snapClickPlace");
    hands.window.view().setDirection(-0.7, 0.6);
    hands.window.view().frameAll();
    hands.settle();
    // Somewhere on the upper face, where that is what is picked.
    const auto click = [&](const char* name) {
        const PartId id = hands.named(name);
        const Part& part = *hands.session.document().parts.find(id);
        const Frame world = world_from_rest(hands.session.document(), id) * part.part_from_shape;
        const Bounds bounds = mesh_bounds(*hands.session.document().shapes.find(part.shape)->mesh, world);
        Viewport& view = hands.window.view();
        for (double u = 0.1; u < 1; u += 0.1)
            for (double v = 0.1; v < 1; v += 0.1) {
                const Vec3 on(bounds.min.x() + u * bounds.size().x(), bounds.min.y() + v * bounds.size().y(),
                              bounds.max.z());
                const QPoint pixel = Hands::pixel(view.camera().project(on));
                const auto place =
                    hands.isClear(pixel) ? view.picker().place(view.camera(), pixel) : std::nullopt;
                if (!place || place->part != id || place->kind != PickedPlace::Kind::FaceCentre ||
                    std::abs(world.point(place->in_shape).z() - bounds.max.z()) > 1e-6)
                    continue;
                QTest::mouseClick(&view, Qt::LeftButton, {}, pixel);
                hands.settle();
                return;
            }
        FAIL() << "the upper face of " << name << " is not to be seen";
    };
    click("Crate");
    click("Table");
    EXPECT_TRUE(hands.text("snapFacts").contains("Crate moves onto Table"))
        << hands.text("snapFacts").toStdString();
    hands.click("snapFaces");
    hands.settle();
    hands.click("acceptPreview");
    const Frame crate = world_from_rest(hands.session.document(), hands.named("Crate"));
    EXPECT_NEAR(crate.axis(2).z(), -1, 1e-6) << "its top lies on the table's top";
    const PartId id = hands.named("Crate");
    const Part& part = *hands.session.document().parts.find(id);
    const Bounds bounds =
        mesh_bounds(*hands.session.document().shapes.find(part.shape)->mesh, crate * part.part_from_shape);
    const PartId table = hands.named("Table");
    const Part& below = *hands.session.document().parts.find(table);
    const Bounds top = mesh_bounds(*hands.session.document().shapes.find(below.shape)->mesh,
                                   world_from_rest(hands.session.document(), table) * below.part_from_shape);
    EXPECT_NEAR(bounds.min.z(), top.max.z(), 1e-6);
    EXPECT_NEAR(bounds.middle().x(), top.middle().x(), 1e-6);
    // By places alone it is moved along X only.
    hands.choose("snapAlong", "x");
    click("Table");
    EXPECT_FALSE(hands.find("snapPlaces")->isEnabled()) << "both on the table";
}

}  // namespace
}  // namespace pivrak
