// Parts moved at rest by gauges in the view.
#include <gtest/gtest.h>

#include "tests/app/app_test.h"
#include "tests/support/steps.h"
#include "tests/support/window.h"

namespace pivrak {
namespace {

using test::Hands;

class PlaceGauges : public ::testing::Test {
protected:
    Hands hands{test::look()};

    void SetUp() override {
        for (const nlohmann::json& step : std::initializer_list<nlohmann::json>{{{"kind", "box"},
                                                                                 {"name", "Body"},
                                                                                 {"length", 4},
                                                                                 {"width", 2},
                                                                                 {"height", 1},
                                                                                 {"at", {0, 0, 1}}},
                                                                                {{"kind", "wheel"},
                                                                                 {"name", "Mesh 1"},
                                                                                 {"diameter", 0.8},
                                                                                 {"width", 0.3},
                                                                                 {"axis", "y"},
                                                                                 {"at", {1.3, 1, 0.4}}},
                                                                                {{"kind", "wheel"},
                                                                                 {"name", "Mesh 2"},
                                                                                 {"diameter", 0.8},
                                                                                 {"width", 0.3},
                                                                                 {"axis", "y"},
                                                                                 {"at", {1.3, -1, 0.4}}}}) {
            nlohmann::json made = step;
            made["op"] = "stand_in.add";
            ASSERT_TRUE(hands.session.run(made)) << hands.refusals.join("; ").toStdString();
        }
        hands.settle();
        hands.window.view().setDirection(0.7, 0.4);
        hands.key(Qt::Key_F, Qt::ShiftModifier);
        hands.key(Qt::Key_4);
    }
};

/// Takes a gauge into use: M goes from rule to rule, T from dial to dial.
ChannelGauge takeGauge(Hands& hands, ChannelKind kind) {
    for (int i = 0; i < 4; ++i) {
        const auto gauge = hands.window.view().gauges().active();
        if (gauge && gauge->channel.kind == kind) return *gauge;
        hands.key(is_turn(kind) ? Qt::Key_T : Qt::Key_M);
    }
    ADD_FAILURE() << "no such gauge";
    return {};
}

TEST_F(PlaceGauges, PartsAreMovedAndTurnedAtRestByGauges) {
    hands.pickNamed({"Mesh 2", "Mesh 1"});
    hands.click("tabPlace");
    EXPECT_FALSE(hands.window.view().gauges().active()) << "its joint is fixed";
    hands.click("placeGauges");
    Viewport& view = hands.window.view();
    const auto world = [&](const char* name) { return hands.session.worldFromPart(hands.named(name)); };
    const Frame first = world("Mesh 1"), second = world("Mesh 2");

    // Dragged to the left: both go with the knob while it is held, and nothing else moves.
    const ChannelGauge rule = takeGauge(hands, ChannelKind::ShiftY);
    const Vec2 knob = rule.knob(view.camera());
    const Vec3 there = view.camera().project(std::get<Rule>(rule.form).place(0.5));
    Vec3 held(0, 0, 0);
    hands.drag(
        &view, Hands::pixel(Vec3(knob.x(), knob.y(), 0)), Hands::pixel(there), {}, Qt::LeftButton, [&] {
            held = world("Mesh 2").translation - second.translation;
            EXPECT_EQ(
                hands.session.document().parts.find(hands.named("Mesh 1"))->parent_from_rest.translation,
                first.translation)
                << "nothing is edited before the button is let go";
        });
    EXPECT_NEAR(held.y(), 0.5, 0.02);
    EXPECT_LT(Vec2(held.x(), held.z()).norm(), 1e-9);
    for (const auto& [name, was] : {std::pair("Mesh 1", first), {"Mesh 2", second}})
        EXPECT_LT((world(name).translation - was.translation - held).norm(), 1e-9) << name;
    EXPECT_EQ(hands.session.history().undo_title(), "Place at rest");

    // Typed beside the knob: so far on from where they are.
    takeGauge(hands, ChannelKind::ShiftX);
    hands.type("gaugeEntry", "-120 mm");
    EXPECT_NEAR(world("Mesh 2").translation.x(), second.translation.x() - 0.12, 1e-9);

    // Turned about the pivot of the one picked last.
    const Vec3 pivot = world("Mesh 1").translation, from = world("Mesh 2").translation - pivot;
    takeGauge(hands, ChannelKind::TurnZ);
    hands.type("gaugeEntry", "90");
    EXPECT_LT((world("Mesh 1").translation - pivot).norm(), 1e-9);
    EXPECT_LT((world("Mesh 2").translation - pivot - Vec3(-from.y(), from.x(), from.z())).norm(), 1e-9);
    for (int i = 0; i < 3; ++i) hands.key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_LT((world("Mesh 2").translation - second.translation).norm(), 1e-12);

    // Elsewhere gauges are those of joints again.
    hands.click("tabJoint");
    EXPECT_FALSE(hands.session.isPlacing());
    EXPECT_FALSE(view.gauges().active());
}

// What carries a part has turned since rest: the part goes the way its rule shows, as far as was typed.
TEST_F(PlaceGauges, APartOnATurnedCarrierGoesAlongItsRule) {
    test::runAll(hands, {{{"op", "joint.set"}, {"parts", {"Body"}}, {"kind", "hinge"}, {"axis", "z"}},
                         {{"op", "tree.parent"}, {"parts", {"Mesh 1"}}, {"under", "Body"}},
                         {{"op", "channel.set"}, {"parts", {"Body"}}, {"value", "40 deg"}}});
    hands.pickNamed({"Mesh 1"});
    hands.click("tabPlace");
    hands.click("placeGauges");
    const ChannelGauge rule = takeGauge(hands, ChannelKind::ShiftX);
    const Vec3 way = std::get<Rule>(rule.form).direction,
               before = hands.session.worldFromPart(hands.named("Mesh 1")).translation;
    EXPECT_NEAR(way.x(), std::cos(40 * pi / 180), 1e-9);
    hands.type("gaugeEntry", "0.3 m");
    const Vec3 moved = hands.session.worldFromPart(hands.named("Mesh 1")).translation - before;
    EXPECT_LT((moved - 0.3 * way).norm(), 1e-9);
}

// The part picked last hangs on another picked one: its gauge stays where it was taken, so that the hand is
// followed.
TEST_F(PlaceGauges, ABranchPickedWithItsCarrierFollowsTheHand) {
    test::runAll(hands, {{{"op", "tree.parent"}, {"parts", {"Mesh 1"}}, {"under", "Body"}}});
    hands.pickNamed({"Body", "Mesh 1"});
    hands.click("tabPlace");
    hands.click("placeGauges");
    Viewport& view = hands.window.view();
    const ChannelGauge rule = takeGauge(hands, ChannelKind::ShiftY);
    const Vec2 knob = rule.knob(view.camera());
    const Vec3 there = view.camera().project(std::get<Rule>(rule.form).place(0.5));
    const Vec3 before = hands.session.worldFromPart(hands.named("Mesh 1")).translation;
    hands.drag(&view, Hands::pixel(Vec3(knob.x(), knob.y(), 0)), Hands::pixel(there));
    const Vec3 moved = hands.session.worldFromPart(hands.named("Mesh 1")).translation - before;
    EXPECT_NEAR(moved.y(), 0.5, 0.02);
}

}  // namespace
}  // namespace pivrak
