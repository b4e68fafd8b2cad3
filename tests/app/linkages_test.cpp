// Closed loops, rams and rows that reach by hands: two picks and one button, and the machine follows.
#include <QListWidget>

#include "tests/app/panel_hands.h"
#include "tests/support/steps.h"

namespace pivrak {
namespace {

using test::cable_between_boxes;
using test::small_box;

json joint(const char* part, const char* kind, const char* axis) {
    return {{"op", "joint.set"}, {"parts", {part}}, {"kind", kind}, {"axis", axis}};
}

json under(const char* part, const char* carrier) {
    return {{"op", "tree.parent"}, {"parts", {part}}, {"under", carrier}};
}

constexpr double crank_m = 0.1, rod_m = 0.4;

/// A crank that stands up, a rod, and a piston on a slide along x.
void addSliderCrank(Hands& hands) {
    runAll(hands,
           {small_box("Crank", 0, 0), small_box("Rod", 0, crank_m),
            small_box("Piston", std::sqrt(rod_m * rod_m - crank_m * crank_m), 0), under("Rod", "Crank"),
            joint("Crank", "hinge", "y"), joint("Rod", "hinge", "y"), joint("Piston", "slide", "x")});
    hands.key(Qt::Key_5);
    hands.click("tabLinkages");
}

double pistonAt(Hands& hands) {
    return hands.session.worldFromPart(hands.named("Piston")).translation.x();
}

TEST(LinkagesByHand, TwoPicksAndOneButtonCloseALoop) {
    Hands hands(test::look());
    addSliderCrank(hands);
    hands.session.select({});
    hands.settle();
    EXPECT_FALSE(hands.find("closeLoop")->isEnabled()) << "nothing is picked";
    hands.clickRow(hands.named("Rod"));
    hands.clickRow(hands.named("Piston"), Qt::ShiftModifier);
    hands.choose("closeBy", "pin");
    hands.choose("closeAt", "b");
    hands.settle();
    hands.click("closeLoop");
    ASSERT_EQ(hands.session.document().linkages.size(), 1u) << hands.refusals.join("; ").toStdString();
    hands.clickRow(hands.named("Crank"));
    hands.typeAtGauge({hands.named("Crank"), ChannelKind::Turn}, "50 deg");
    const double t = 50 * rad_per_deg;
    EXPECT_NEAR(
        pistonAt(hands),
        crank_m * std::sin(t) + std::sqrt(rod_m * rod_m - crank_m * crank_m * std::cos(t) * std::cos(t)),
        1e-9);
    auto* list = hands.find<QListWidget>("linkageList");
    ASSERT_EQ(list->count(), 1);
    EXPECT_TRUE(list->item(0)->text().contains(", closed")) << list->item(0)->text().toStdString();
    EXPECT_TRUE(hands.find<QLabel>("linkageFacts")->text().contains("goes all round"))
        << hands.find<QLabel>("linkageFacts")->text().toStdString();
    EXPECT_FALSE(hands.session.mayMove({hands.named("Piston"), ChannelKind::Shift}).ok()) << "it follows";
    // Now the piston leads, and stops where rod and crank lie in line.
    hands.typeAtGauge({hands.named("Crank"), ChannelKind::Turn}, "0 deg");
    hands.clickRow(hands.named("Piston"));
    hands.click("leadLinkage");
    EXPECT_TRUE(hands.refusals.isEmpty()) << hands.refusals.join("; ").toStdString();
    EXPECT_TRUE(hands.find<QLabel>("linkageFacts")->text().contains("dead point"))
        << hands.find<QLabel>("linkageFacts")->text().toStdString();
    hands.typeAtGauge({hands.named("Piston"), ChannelKind::Shift}, "300 mm");
    EXPECT_NEAR(pistonAt(hands), crank_m + rod_m, 1e-4) << "no further than both in line";
    EXPECT_TRUE(list->item(0)->text().contains("stops at")) << list->item(0)->text().toStdString();
    // Unticked it lets go.
    list->item(0)->setCheckState(Qt::Unchecked);
    hands.settle();
    EXPECT_TRUE(hands.session.document().linkages.begin()->off);
    hands.click("openLinkage");
    EXPECT_EQ(hands.session.document().linkages.size(), 0u);
}

TEST(LinkagesByHand, ALineIsChosenAndOneOfTwoClosuresIsOpened) {
    Hands hands(test::look());
    addSliderCrank(hands);
    hands.clickRow(hands.named("Rod"));
    hands.clickRow(hands.named("Piston"), Qt::ShiftModifier);
    hands.choose("closeBy", "pin");
    hands.choose("closeAt", "b");
    hands.choose("closeAlong", "own y");
    hands.settle();
    hands.click("closeLoop");
    ASSERT_EQ(hands.session.document().linkages.size(), 1u) << hands.refusals.join("; ").toStdString();
    // A second rod beside it, on the same crank and piston, is held by a line of the piston.
    runAll(hands, {small_box("Stay", 0, crank_m), under("Stay", "Crank"), joint("Stay", "hinge", "y")});
    hands.clickRow(hands.named("Stay"));
    hands.clickRow(hands.named("Piston"), Qt::ShiftModifier);
    hands.choose("closeBy", "slider");
    hands.choose("closeAt", "a");
    hands.choose("closeAlong", "z");
    hands.settle();
    hands.click("closeLoop");
    ASSERT_EQ(hands.session.document().linkages.size(), 1u) << hands.refusals.join("; ").toStdString();
    const Linkage& both = *hands.session.document().linkages.begin();
    ASSERT_EQ(both.closures.size(), 2u);
    EXPECT_EQ(both.closures[1].closes, Closes::Slider);
    EXPECT_LT((both.closures[1].axis_b - Vec3::UnitZ()).norm(), 1e-12) << "as chosen";
    hands.choose("linkageClosure", 2);
    hands.click("openLinkage");
    ASSERT_EQ(hands.session.document().linkages.begin()->closures.size(), 1u)
        << hands.refusals.join("; ").toStdString();
    EXPECT_EQ(hands.session.document().linkages.begin()->closures[0].closes, Closes::Pin);
    hands.click("openLinkage");
    EXPECT_EQ(hands.session.document().linkages.size(), 0u) << "all of it when none is chosen";
}

TEST(LinkagesByHand, APlaceThatWasClickedClosesALoop) {
    Hands hands(test::look());
    addSliderCrank(hands);
    hands.choose("closeBy", "ball");
    hands.choose("closeAt", "clicked");
    hands.clickRow(hands.named("Rod"));
    hands.clickRow(hands.named("Piston"), Qt::ShiftModifier);
    hands.settle();
    EXPECT_FALSE(hands.find("closeLoop")->isEnabled()) << "no place was clicked yet";
    hands.key(Qt::Key_F, Qt::ShiftModifier);
    hands.click("closeClickPlace");
    ASSERT_EQ(click_across(hands, hands.named("Piston"), 1), 1);
    ASSERT_EQ(hands.session.picks().places.size(), 1u);
    hands.click("closeLoop");
    ASSERT_EQ(hands.session.document().linkages.size(), 1u) << hands.refusals.join("; ").toStdString();
    const Closure& closure = hands.session.document().linkages.begin()->closures.front();
    EXPECT_EQ(closure.closes, Closes::Ball);
    EXPECT_GT(closure.place_b.norm(), 0.01) << "a corner, an edge or a face of the piston";
    EXPECT_LT(closure.place_b.norm(), 0.08);
    hands.click("closeClickPlace");
}

TEST(LinkagesByHand, ARamIsMadeOfTwoRoundParts) {
    Hands hands(test::look());
    const auto round = [](const char* name, double diameter, double length, double x) {
        return json{{"op", "stand_in.add"}, {"kind", "cylinder"}, {"name", name},     {"diameter", diameter},
                    {"length", length},     {"axis", "x"},        {"at", {x, 0, 0.2}}};
    };
    runAll(hands, {small_box("Frame", 0, 0), small_box("Lever", 0.8, -0.4), round("Barrel", 0.08, 0.4, 0.2),
                   round("Rod", 0.04, 0.4, 0.55), joint("Lever", "hinge", "y")});
    hands.key(Qt::Key_5);
    hands.click("tabLinkages");
    hands.clickRow(hands.named("Frame"));
    hands.click("ramOn");
    hands.clickRow(hands.named("Lever"));
    hands.click("ramTo");
    hands.clickRow(hands.named("Barrel"));
    hands.clickRow(hands.named("Rod"), Qt::ShiftModifier);
    hands.settle();
    hands.click("makeRam");
    ASSERT_EQ(hands.session.document().linkages.size(), 1u) << hands.refusals.join("; ").toStdString();
    EXPECT_EQ(hands.session.document().parts.find(hands.named("Rod"))->parent, hands.named("Barrel"));
    // The lever is turned, and both halves stay on one line.
    hands.clickRow(hands.named("Lever"));
    hands.click("leadLinkage");
    hands.typeAtGauge({hands.named("Lever"), ChannelKind::Turn}, "-5 deg");
    const Frame barrel = hands.session.worldFromPart(hands.named("Barrel")),
                rod = hands.session.worldFromPart(hands.named("Rod"));
    EXPECT_LT(barrel.axis(0).cross(rod.axis(0)).norm(), 1e-12);
    EXPECT_LT((rod.translation - barrel.translation).cross(barrel.axis(0)).norm(), 1e-12);
    EXPECT_LT(rod.translation.x(), 0.71) << "it went along with the lever";
}

TEST(StretchByHand, ACableHangsBetweenTwoSeatsAndTellsItsLength) {
    Hands hands(test::look());
    runAll(hands, {small_box("Winch", 0, 0), small_box("Hook", 1, 0), cable_between_boxes(),
                   joint("Hook", "slide", "x")});
    hands.key(Qt::Key_5);
    hands.click("tabLinkages");
    hands.session.select({});
    hands.settle();
    EXPECT_FALSE(hands.find("addStretch")->isEnabled()) << "nothing is picked";
    hands.clickRow(hands.named("Hook"));
    hands.click("stretchTo");
    hands.clickRow(hands.named("Cable"));
    hands.click("addStretch");
    hands.key(Qt::Key_Return);
    ASSERT_EQ(hands.session.document().stretches.size(), 1u) << hands.refusals.join("; ").toStdString();
    EXPECT_EQ(hands.session.document().stretches.begin()->to, hands.named("Hook"));
    EXPECT_EQ(hands.session.document().stretches.begin()->from, hands.named("Winch")) << "what stands there";
    hands.typeAtGauge({hands.named("Hook"), ChannelKind::Shift}, "470 mm");
    auto* list = hands.find<QListWidget>("stretchList");
    ASSERT_EQ(list->count(), 1);
    EXPECT_TRUE(list->item(0)->text().contains("1.500 ×")) << list->item(0)->text().toStdString();
    const auto mesh = hands.session.meshOf(hands.named("Cable"));
    EXPECT_NEAR(mesh_bounds(*mesh).size().maxCoeff(), 1.41, 1e-4);
    list->item(0)->setCheckState(Qt::Unchecked);
    hands.settle();
    EXPECT_TRUE(hands.session.document().stretches.begin()->off);
    EXPECT_NEAR(mesh_bounds(*hands.session.meshOf(hands.named("Cable"))).size().maxCoeff(), 0.94, 1e-4);
    hands.click("removeStretch");
    EXPECT_TRUE(hands.session.document().stretches.empty());
    hands.clickRow(hands.named("Cable"));
    hands.click("stretchEvenly");
    hands.click("stretchFrom");
}

TEST(ReachByHand, TwoPicksAndOneButtonReachAndFollow) {
    Hands hands(test::look());
    runAll(hands, {small_box("Shoulder", 0, 0), small_box("Elbow", 0.5, 0.1), small_box("Hand", 0.9, 0),
                   small_box("Mark", 0.2, 2), under("Elbow", "Shoulder"), under("Hand", "Elbow"),
                   joint("Shoulder", "hinge", "y"), joint("Elbow", "hinge", "y")});
    hands.key(Qt::Key_5);
    hands.click("tabReach");
    hands.session.select({});
    hands.settle();
    EXPECT_FALSE(hands.find("addReach")->isEnabled()) << "nothing is picked";
    hands.clickRow(hands.named("Mark"));
    hands.click("reachSide");
    hands.clickRow(hands.named("Shoulder"));
    hands.clickRow(hands.named("Hand"), Qt::ShiftModifier);
    hands.settle();
    hands.click("addReach");
    ASSERT_EQ(hands.session.document().reaches.size(), 1u) << hands.refusals.join("; ").toStdString();
    const PartId goal = hands.named("Hand goal");
    hands.clickRow(goal);
    hands.typeAtGauge({goal, ChannelKind::ShiftX}, "-300 mm");
    const auto apart = [&] {
        return (hands.session.worldFromPart(goal).translation -
                hands.session.worldFromPart(hands.named("Hand")).translation)
            .norm();
    };
    EXPECT_LT(apart(), 1e-8);
    auto* list = hands.find<QListWidget>("reachList");
    ASSERT_EQ(list->count(), 1);
    EXPECT_TRUE(list->item(0)->text().contains("at its goal")) << list->item(0)->text().toStdString();
    // Further than it is long.
    hands.typeAtGauge({goal, ChannelKind::ShiftX}, "1 m");
    EXPECT_GT(apart(), 0.5);
    EXPECT_TRUE(list->item(0)->text().contains("misses by")) << list->item(0)->text().toStdString();
    hands.typeAtGauge({goal, ChannelKind::ShiftX}, "-200 mm");
    hands.click("reachToKeys");
    EXPECT_NE(hands.session.clip().track({hands.named("Elbow"), ChannelKind::Turn}), nullptr);
    hands.click("goalToKeys");
    EXPECT_NE(hands.session.clip().track({goal, ChannelKind::ShiftX}), nullptr);
    hands.type("reachBlend", "0.5");
    hands.click("keyReachBlend");
    const ChannelRef blend{hands.session.document().reaches.begin()->id, ChannelKind::Blend};
    EXPECT_NE(hands.session.clip().track(blend), nullptr);
    list->item(0)->setCheckState(Qt::Unchecked);
    hands.settle();
    EXPECT_TRUE(hands.session.document().reaches.begin()->off);
    hands.click("removeReach");
    EXPECT_EQ(hands.session.document().reaches.size(), 0u);
    EXPECT_TRUE(hands.refusals.isEmpty()) << hands.refusals.join("; ").toStdString();
}

TEST(ReachByHand, TheTipIsTakenInTheViewAndTheArmFollows) {
    Hands hands(test::look());
    runAll(hands, {small_box("Shoulder", 0, 0),
                   small_box("Elbow", 0.5, 0.1),
                   small_box("Hand", 0.9, 0),
                   under("Elbow", "Shoulder"),
                   under("Hand", "Elbow"),
                   joint("Shoulder", "hinge", "y"),
                   joint("Elbow", "hinge", "y"),
                   {{"op", "reach.add"}, {"root", "Shoulder"}, {"tip", "Hand"}, {"name", "arm"}}});
    auto& view = hands.window.view();
    view.setDirection(-1.5707963, 0);
    view.frameAll();
    hands.key(Qt::Key_5);
    hands.click("tabReach");
    hands.clickRow(hands.named("Hand"));
    const auto pixel = [&](const Vec3& place) { return Hands::pixel(view.camera().project(place)); };
    const Vec3 from = hands.session.worldFromPart(hands.named("Hand")).translation, to(0.6, 0, 0.25);
    const auto before = hands.session.document();
    double on_the_way = 1;
    hands.drag(&view, pixel(from), pixel(to), {}, Qt::LeftButton, [&] {
        on_the_way = (hands.session.worldFromPart(hands.named("Hand")).translation - to).norm();
        EXPECT_TRUE(hands.session.document() == before) << "nothing is changed before it is let go";
    });
    EXPECT_LT(on_the_way, 0.01) << "it follows as it is dragged";
    EXPECT_LT((hands.session.worldFromPart(hands.named("Hand")).translation - to).norm(), 0.01);
    EXPECT_LT((hands.session.worldFromPart(hands.named("Hand goal")).translation - to).norm(), 0.01);
    hands.key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_TRUE(hands.session.document() == before) << "one step back";
    // How much its turn counts is typed, once it turns.
    EXPECT_FALSE(hands.find("reachWeight")->isEnabled());
    runAll(hands, {{{"op", "reach.set"}, {"reaches", {"arm"}}, {"turn", true}}});
    hands.settle();
    hands.type("reachWeight", "4");
    EXPECT_EQ(hands.session.document().reaches.begin()->turn_weight, 4);
    hands.type("reachWeight", "-4");
    EXPECT_EQ(hands.session.document().reaches.begin()->turn_weight, 4);
    EXPECT_FALSE(hands.refusals.isEmpty());
}

TEST(ReachByHand, ARowMayBecomeLongerWhenThatIsTyped) {
    Hands hands(test::look());
    runAll(hands, {small_box("Shoulder", 0, 0),
                   small_box("Elbow", 0.5, 0.1),
                   small_box("Hand", 0.9, 0),
                   under("Elbow", "Shoulder"),
                   under("Hand", "Elbow"),
                   joint("Shoulder", "hinge", "y"),
                   joint("Elbow", "hinge", "y"),
                   {{"op", "reach.add"}, {"root", "Shoulder"}, {"tip", "Hand"}, {"name", "arm"}}});
    hands.key(Qt::Key_5);
    hands.click("tabReach");
    const PartId goal = hands.named("Hand goal");
    hands.clickRow(goal);
    hands.typeAtGauge({goal, ChannelKind::ShiftX}, "300 mm");
    const auto apart = [&] {
        return (hands.session.worldFromPart(hands.named("Hand")).translation -
                hands.session.worldFromPart(goal).translation)
            .norm();
    };
    EXPECT_GT(apart(), 0.2) << "it keeps its length unless told";
    hands.type("reachStretch", "1.5");
    EXPECT_LT(apart(), 1e-8);
    auto* list = hands.find<QListWidget>("reachList");
    EXPECT_TRUE(list->item(0)->text().contains("times as long")) << list->item(0)->text().toStdString();
    hands.type("reachStretch", "0.2");
    EXPECT_FALSE(hands.refusals.isEmpty());
    EXPECT_LT(apart(), 1e-8) << "what was refused changed nothing";
    hands.type("reachStretch", "1");
    EXPECT_GT(apart(), 0.2);
    EXPECT_FALSE(list->item(0)->text().contains("times as long"));
}

TEST(ReachByHand, AllFieldsOfTheCardAreHeard) {
    Hands hands(test::look());
    runAll(hands,
           {small_box("Shoulder", 0, 0), small_box("Elbow", 0.5, 0.1), small_box("Hand", 0.9, 0),
            small_box("Crate", 0.6, 0), under("Elbow", "Shoulder"), under("Hand", "Elbow"),
            joint("Shoulder", "hinge", "y"), joint("Elbow", "hinge", "y"), joint("Crate", "free", "z")});
    hands.key(Qt::Key_5);
    hands.click("tabReach");
    hands.clickRow(hands.named("Crate"));
    hands.click("reachGoal");
    hands.clickRow(hands.named("Shoulder"));
    hands.clickRow(hands.named("Hand"), Qt::ShiftModifier);
    hands.click("reachTurn");
    hands.click("reachKeep");
    hands.choose("reachWith", "clicked");
    hands.settle();
    EXPECT_FALSE(hands.find("addReach")->isEnabled()) << "no place was clicked";
    hands.click("reachClickPlace");
    EXPECT_EQ(hands.session.pickSettings().kind, PickKind::Places);
    hands.click("reachClickPlace");
    hands.choose("reachWith", "");
    hands.choose("reachTo", "clicked");
    hands.settle();
    EXPECT_FALSE(hands.find("addReach")->isEnabled()) << "nothing to reach was clicked";
    hands.choose("reachTo", "");
    hands.settle();
    hands.click("addReach");
    ASSERT_EQ(hands.session.document().reaches.size(), 1u) << hands.refusals.join("; ").toStdString();
    const Reach& reach = *hands.session.document().reaches.begin();
    EXPECT_EQ(reach.goal, hands.named("Crate"));
    EXPECT_TRUE(reach.turns);
    EXPECT_NEAR(reach.goal_place.x(), 0.3, 1e-6) << "it stays where it was";
}

}  // namespace
}  // namespace pivrak
