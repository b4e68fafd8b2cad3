// Constraints and carriers by hands: two picks and one button, and then things follow.
#include "app/stages/rig/constraint_cards.h"

#include "tests/app/app_test.h"
#include "tests/support/pixels.h"
#include "tests/support/steps.h"

namespace pivrak {
namespace {

using nlohmann::json;
using test::Hands;
using test::runAll;

/// A lamp on a hinge, and a ball that can be moved freely.
void addLamp(Hands& hands) {
    runAll(hands, {{{"op", "stand_in.add"},
                    {"kind", "box"},
                    {"name", "Lamp"},
                    {"at", {0, 0, 0}},
                    {"length", 0.6},
                    {"width", 0.2},
                    {"height", 0.2}},
                   {{"op", "joint.set"}, {"parts", {"Lamp"}}, {"kind", "hinge"}, {"axis", "z"}},
                   {{"op", "stand_in.add"},
                    {"kind", "box"},
                    {"name", "Ball"},
                    {"at", {2, 1, 0}},
                    {"length", 0.2},
                    {"width", 0.2},
                    {"height", 0.2}},
                   {{"op", "joint.set"}, {"parts", {"Ball"}}, {"kind", "free"}}});
    hands.key(Qt::Key_5);
    hands.click("tabConstraints");
}

double heading(Hands& hands) {
    const Vec3 ahead = hands.session.worldFromPart(hands.named("Lamp")).axis(0);
    return std::atan2(ahead.y(), ahead.x());
}
double bearing(Hands& hands) {
    const Vec3 way = hands.session.worldFromPart(hands.named("Ball")).translation -
                     hands.session.worldFromPart(hands.named("Lamp")).translation;
    return std::atan2(way.y(), way.x());
}

TEST(ConstraintsByHand, APlaceOnThePathInHandIsFollowed) {
    Hands hands(test::look());
    addLamp(hands);
    runAll(hands, {{{"op", "path.add"}, {"name", "rail"}, {"points", json::array({{0, 5, 1}, {4, 5, 1}})}}});
    hands.clickRow(hands.named("Ball"));
    hands.choose("askWhat", "place");
    EXPECT_EQ(hands.find("askAlong"), nullptr) << "how far along what?";
    hands.choose("askTo", "path");
    EXPECT_NE(hands.find("askAlong"), nullptr);
    hands.settle();
    EXPECT_FALSE(hands.find("askJoint")->isEnabled()) << "no path is in hand";
    hands.session.setPathTool({hands.session.document().paths.begin()->id});
    hands.type("askAlong", "25 %", false);
    hands.settle();
    hands.click("askJoint");
    ASSERT_EQ(hands.session.document().constraints.size(), 1u) << hands.refusals.join("; ").toStdString();
    EXPECT_LT((hands.session.worldFromPart(hands.named("Ball")).translation - Vec3(1, 5, 1)).norm(), 1e-9);
}

TEST(ConstraintsByHand, BoundsAreTypedAndKeepAPartInside) {
    Hands hands(test::look());
    addLamp(hands);
    runAll(hands, {{{"op", "joint.set"}, {"parts", {"Ball"}}, {"kind", "free"}}});
    hands.clickRow(hands.named("Ball"));
    hands.choose("askWhat", "inside");
    hands.settle();
    EXPECT_FALSE(hands.find("askJoint")->isEnabled()) << "nothing bounds it";
    hands.type("ask_most_z", "500 mm", false);
    hands.type("ask_least_x", "2", false);
    hands.settle();
    hands.click("askJoint");
    ASSERT_EQ(hands.session.document().constraints.size(), 1u) << hands.refusals.join("; ").toStdString();
    const Vec3 at = hands.session.worldFromPart(hands.named("Ball")).translation;
    EXPECT_GE(at.x(), 2 - 1e-9);
    EXPECT_LE(at.z(), 0.5 + 1e-9);
    // Wherever keys and hands would have it.
    hands.session.setChannel({hands.named("Ball"), ChannelKind::ShiftX}, "-7");
    EXPECT_NEAR(hands.session.worldFromPart(hands.named("Ball")).translation.x(), 2, 1e-9);
    // What is wanted of nothing is said in the card, not lost.
    hands.choose("askWhat", "inside");
    hands.type("ask_most_z", "soon", false);
    hands.settle();
    EXPECT_FALSE(hands.find("askJoint")->isEnabled());
}

TEST(ConstraintsByHand, TwoPicksAndOneButtonAimAPart) {
    Hands hands(test::look());
    addLamp(hands);
    hands.session.select({});
    hands.settle();
    EXPECT_FALSE(hands.find("askJoint")->isEnabled()) << "nothing is picked";
    hands.clickRow(hands.named("Lamp"));
    hands.clickRow(hands.named("Ball"), Qt::ShiftModifier);
    hands.settle();
    hands.click("askJoint");
    ASSERT_EQ(hands.session.document().constraints.size(), 1u) << hands.refusals.join("; ").toStdString();
    EXPECT_NEAR(heading(hands), bearing(hands), 1e-12);
    // The target goes elsewhere, and the lamp looks after it.
    hands.clickRow(hands.named("Ball"));
    hands.typeAtGauge({hands.named("Ball"), ChannelKind::ShiftY}, "-4 m");
    EXPECT_NEAR(heading(hands), bearing(hands), 1e-12);
    EXPECT_LT(heading(hands), -0.5);
    EXPECT_FALSE(hands.session.mayMove({hands.named("Lamp"), ChannelKind::Turn}).ok()) << "it is asked";
    hands.clickRow(hands.named("Lamp"));
    auto* list = hands.find<QListWidget>("askedList");
    ASSERT_EQ(list->count(), 1);
    EXPECT_TRUE(list->item(0)->text().contains("\nmet,")) << list->item(0)->text().toStdString();
    // Half of it is left to the hand.
    hands.type("askedBlend", "0.5");
    EXPECT_NEAR(heading(hands), 0.5 * bearing(hands), 1e-12) << hands.refusals.join("; ").toStdString();
    hands.type("askedBlend", "1.5");
    EXPECT_FALSE(hands.refusals.isEmpty()) << "a share is at most the whole";
    hands.click("keyBlend");
    const ChannelRef blend{hands.session.document().constraints.begin()->id, ChannelKind::Blend};
    EXPECT_NE(hands.session.clip().track(blend), nullptr);
    // Unticked it asks no more.
    list->item(0)->setCheckState(Qt::Unchecked);
    hands.settle();
    EXPECT_TRUE(hands.session.document().constraints.begin()->off);
    EXPECT_NEAR(heading(hands), 0, 1e-12);
    hands.click("removeAsked");
    EXPECT_EQ(hands.session.document().constraints.size(), 0u);
}

TEST(ConstraintsByHand, WhoAsksLastHasTheLastWord) {
    Hands hands(test::look());
    addLamp(hands);
    hands.clickRow(hands.named("Lamp"));
    hands.clickRow(hands.named("Ball"), Qt::ShiftModifier);
    hands.settle();
    hands.click("askJoint");
    hands.clickRow(hands.named("Ball"));
    hands.click("askTowards");
    hands.clickRow(hands.named("Lamp"));
    hands.choose("askWhat", "turn");
    hands.settle();
    hands.click("askJoint");
    ASSERT_EQ(hands.session.document().constraints.size(), 2u) << hands.refusals.join("; ").toStdString();
    EXPECT_NEAR(heading(hands), 0, 1e-12) << "it turns as the world does";
    hands.find<QListWidget>("askedList")->setCurrentRow(1);
    hands.click("askEarlier");
    EXPECT_NEAR(heading(hands), bearing(hands), 1e-12);
    hands.click("askLater");
    EXPECT_NEAR(heading(hands), 0, 1e-12);
    // Its row is dragged up.
    hands.find<QListWidget>("askedList")->model()->moveRow({}, 1, {}, 0);
    hands.settle();
    EXPECT_NEAR(heading(hands), bearing(hands), 1e-12);
}

TEST(ConstraintsByHand, AllThatCanBeAskedIsAskedByTheCard) {
    Hands hands(test::look());
    addLamp(hands);
    hands.clickRow(hands.named("Lamp"));
    hands.clickRow(hands.named("Ball"), Qt::ShiftModifier);
    hands.choose("askWhat", "turn");
    hands.click("askKeep");
    for (const char* axis : {"ask_x", "ask_y"}) hands.click(axis);
    hands.settle();
    hands.click("askJoint");
    ASSERT_EQ(hands.session.document().constraints.size(), 1u) << hands.refusals.join("; ").toStdString();
    const Constraint turn = *hands.session.document().constraints.begin();
    EXPECT_TRUE(turn.not_x && turn.not_y && !turn.not_z);
    hands.click("ask_z");
    hands.settle();
    EXPECT_FALSE(hands.find("askJoint")->isEnabled()) << "with no axis nothing is asked";
    hands.session.select({hands.named("Ball")});
    hands.choose("askWhat", "rest");
    hands.click("askSlope");
    hands.type("askHeight", "300 mm", false);
    hands.settle();
    hands.click("askJoint");
    EXPECT_NEAR(hands.session.worldFromPart(hands.named("Ball")).translation.z(), 0.3, 1e-9)
        << hands.refusals.join("; ").toStdString();
    runAll(hands, {{{"op", "joint.set"}, {"parts", {"Lamp"}}, {"kind", "ball"}}});
    hands.session.select({hands.named("Lamp")});
    hands.choose("askWhat", "plumb");
    hands.choose("askAxis", "-z");
    hands.click("askSwings");
    hands.settle();
    hands.click("askJoint");
    ASSERT_EQ(hands.session.document().constraints.size(), 3u) << hands.refusals.join("; ").toStdString();
    EXPECT_LT((hands.session.worldFromPart(hands.named("Lamp")).axis(2) - Vec3::UnitZ()).norm(), 1e-9);
}

TEST(ConstraintsByHand, APlaceOnTheTargetIsClicked) {
    Hands hands(test::look());
    addLamp(hands);
    hands.clickRow(hands.named("Lamp"));
    hands.clickRow(hands.named("Ball"), Qt::ShiftModifier);
    hands.choose("askTo", "clicked");
    hands.settle();
    EXPECT_FALSE(hands.find("askJoint")->isEnabled()) << "no place was clicked yet";
    hands.key(Qt::Key_F, Qt::ShiftModifier);
    hands.click("askClickPlace");
    Viewport& view = hands.window.view();
    for (int y = 40; y < view.height() - 40 && hands.session.picks().places.empty(); y += 5)
        for (int x = 20; x < view.width() - 20 && hands.session.picks().places.empty(); x += 5) {
            const QPoint pixel(x, y);
            if (!hands.isClear(pixel) || view.partAt(pixel) != hands.named("Ball")) continue;
            QTest::mouseClick(&view, Qt::LeftButton, {}, pixel);
            hands.settle();
        }
    ASSERT_EQ(hands.session.picks().places.size(), 1u);
    hands.click("askJoint");
    ASSERT_EQ(hands.session.document().constraints.size(), 1u) << hands.refusals.join("; ").toStdString();
    const Constraint& aims = *hands.session.document().constraints.begin();
    EXPECT_GT(aims.target_place.norm(), 0.05) << "a corner, an edge or a face of the ball";
    const Vec3 place = hands.session.worldFromPart(hands.named("Ball")).point(aims.target_place);
    EXPECT_NEAR(heading(hands), std::atan2(place.y(), place.x()), 1e-9);
}

TEST(ConstraintsByHand, MatchNowLeavesNothingBehind) {
    Hands hands(test::look());
    addLamp(hands);
    hands.clickRow(hands.named("Ball"));
    hands.click("askTarget");
    hands.clickRow(hands.named("Lamp"));
    hands.settle();
    hands.click("matchNow");
    EXPECT_EQ(hands.session.document().constraints.size(), 0u);
    EXPECT_NEAR(heading(hands), bearing(hands), 1e-12) << hands.refusals.join("; ").toStdString();
}

TEST(ConstraintsByHand, ACarrierIsChangedAtTheFrameThatIsSeen) {
    Hands hands(test::look());
    addLamp(hands);
    for (const auto& [frame, value] : {std::pair{0, "0 m"}, {40, "2 m"}})
        runAll(hands, {{{"op", "key.set"},
                        {"parts", {"Ball"}},
                        {"channel", "shift_x"},
                        {"frame", frame},
                        {"value", value}}});
    hands.session.setFrame(20);
    hands.clickRow(hands.named("Ball"));
    hands.click("carryBy");
    hands.clickRow(hands.named("Lamp"));
    hands.settle();
    hands.click("carryByOther");
    ASSERT_EQ(hands.session.document().carries.size(), 1u) << hands.refusals.join("; ").toStdString();
    const auto lamp = [&] { return hands.session.worldFromPart(hands.named("Lamp")).translation; };
    EXPECT_LT(lamp().norm(), 1e-12) << "nothing jumps";
    hands.session.setFrame(40);
    const Vec3 went = hands.session.worldFromPart(hands.named("Ball")).translation;
    EXPECT_GT(lamp().x(), 0.5) << "it goes along";
    EXPECT_NEAR(lamp().x(), went.x() - 3, 0.01) << "from the ball's place at frame 20, a metre on";
}

}  // namespace
}  // namespace pivrak
