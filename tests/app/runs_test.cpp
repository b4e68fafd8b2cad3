// Hoists, cords, cable chains, tensioners and the drive map by hands.
#include <QListWidget>

#include "app/drive_map/drive_map_view.h"
#include "core/rig/chains/chain_layout.h"
#include "tests/app/app_test.h"
#include "tests/support/steps.h"

namespace pivrak {
namespace {

using nlohmann::json;
using test::Hands;
using test::runAll;

/// Parts picked in the tree one after the other, and taken by a field.
void take(Hands& hands, const std::vector<std::string>& names, const char* field) {
    hands.pickNamed(names);
    hands.click(field);
}

json wheel(const char* name, double diameter, double x, double z) {
    return {{"op", "stand_in.add"}, {"kind", "wheel"}, {"name", name},   {"diameter", diameter},
            {"width", 0.1},         {"axis", "y"},     {"at", {x, 0, z}}};
}

json box(const char* name, double x, double z) {
    return {{"op", "stand_in.add"}, {"kind", "box"}, {"name", name},   {"length", 0.2},
            {"width", 0.2},         {"height", 0.1}, {"at", {x, 0, z}}};
}

void winch(Hands& hands) {
    runAll(hands, {wheel("Drum", 0.4, -1.2, 0.5),
                   wheel("Pulley", 0.3, 0, 2.4),
                   box("Hook", 0.15, 1),
                   {{"op", "joint.set"}, {"parts", {"Drum", "Pulley"}}, {"kind", "hinge"}, {"axis", "x"}},
                   {{"op", "joint.set"}, {"parts", {"Hook"}}, {"kind", "slide"}, {"axis", "z"}}});
    hands.key(Qt::Key_5);
    hands.click("tabChains");
}

void layHoist(Hands& hands) {
    take(hands, {"Drum", "Pulley"}, "runWheels");
    take(hands, {"Hook"}, "runTo");
    hands.click("runPulls");
    EXPECT_TRUE(hands.text("runFacts").contains("links")) << hands.text("runFacts").toStdString();
    hands.type("runName", "Rope", false);
    hands.click("layRun");
    hands.click("acceptPreview");
    ASSERT_EQ(hands.session.document().chains.size(), 1u) << hands.refusals.join("; ").toStdString();
}

TEST(RunsByHand, AHoistIsLaidAndItsDrumLowersTheHook) {
    Hands hands(test::look());
    winch(hands);
    layHoist(hands);
    const double before = hands.session.worldFromPart(hands.named("Hook")).translation.z();
    // A drum of 0.2 m lets half a metre of rope go, less what the chords of its links on it are shorter than
    // the arc.
    hands.typeAtGauge({hands.named("Drum"), ChannelKind::Turn}, "-2.5 rad");
    const double half = 0.5 * hands.session.document().chains.begin()->pitch_m / 0.2;
    EXPECT_NEAR(before - hands.session.worldFromPart(hands.named("Hook")).translation.z(),
                2.5 * 0.2 * half / std::asin(half), 1e-4);
    EXPECT_TRUE(hands.text("chainFacts").contains("turns are wound"))
        << hands.text("chainFacts").toStdString();
    EXPECT_TRUE(hands.refusals.isEmpty()) << hands.refusals.join("; ").toStdString();
}

TEST(RunsByHand, ARopePassesAWheelOnTheOtherSide) {
    const auto outside = [](bool other) {
        Hands hands(test::look());
        winch(hands);
        if (other) take(hands, {"Pulley"}, "runOtherSide");
        layHoist(hands);
        return hands.session.document().chains.begin()->wheels[1].outside;
    };
    EXPECT_NE(outside(false), outside(true));
}

TEST(RunsByHand, WhatIsNotThereYetIsAskedFor) {
    Hands hands(test::look());
    winch(hands);
    EXPECT_FALSE(hands.find("layRun")->isEnabled());
    take(hands, {"Hook"}, "runWheels");
    take(hands, {"Hook"}, "runTo");
    EXPECT_FALSE(hands.find("layRun")->isEnabled());
    EXPECT_FALSE(hands.text("runFacts").isEmpty());
    hands.choose("runKind", "fold");
    EXPECT_EQ(hands.find("runWheels"), nullptr) << "a cable chain goes over no wheels";
    EXPECT_NE(hands.find("runReach"), nullptr);
}

TEST(RunsByHand, ACableChainFolds) {
    Hands hands(test::look());
    runAll(hands, {box("Bed", 0, 0.2),
                   box("Carriage", 0.4, 0.6),
                   {{"op", "joint.set"}, {"parts", {"Carriage"}}, {"kind", "slide"}, {"axis", "x"}}});
    hands.key(Qt::Key_5);
    hands.click("tabChains");
    hands.choose("runKind", "fold");
    take(hands, {"Bed"}, "runFrom");
    take(hands, {"Carriage"}, "runTo");
    hands.type("runPitch", "50 mm", false);
    hands.type("runReach", "1 m", false);
    hands.click("runBack");
    hands.click("layRun");
    ASSERT_NE(hands.session.previewed(), nullptr) << hands.refusals.join("; ").toStdString();
    const Frame back =
        world_from_rest(hands.session.shownDocument(), hands.session.shownDocument().chains.begin()->frame);
    hands.click("leavePreview");
    hands.click("runBack");
    hands.click("layRun");
    hands.click("acceptPreview");
    ASSERT_EQ(hands.session.document().chains.size(), 1u) << hands.refusals.join("; ").toStdString();
    const Frame ahead =
        world_from_rest(hands.session.document(), hands.session.document().chains.begin()->frame);
    EXPECT_NEAR(back.axis(0).dot(ahead.axis(0)), -1, 1e-9) << "it leaves its start the other way";
    EXPECT_TRUE(hands.session.document().chains.begin()->folds());
    EXPECT_TRUE(hands.text("chainFacts").contains("reach")) << hands.text("chainFacts").toStdString();
}

TEST(RunsByHand, ATensionerIsTakenAndKeepsTheChain) {
    Hands hands(test::look());
    const auto sprocket = [](const char* name, int teeth, double x) {
        return json{{"op", "stand_in.add"}, {"kind", "sprocket"}, {"name", name}, {"teeth", teeth},
                    {"chain", "16B"},       {"width", 0.016},     {"axis", "y"},  {"at", {x, 0, 1}}};
    };
    runAll(hands,
           {sprocket("Small", 19, 0),
            sprocket("Large", 38, 0.8),
            wheel("Roller", 0.06, 0.4, 0.86),
            {{"op", "joint.set"}, {"parts", {"Small", "Large", "Roller"}}, {"kind", "hinge"}, {"axis", "x"}},
            {{"op", "datum.add"}, {"name", "Arm"}, {"like", "Roller"}},
            {{"op", "tree.parent"}, {"parts", {"Roller"}}, {"under", "Arm"}},
            {{"op", "joint.set"}, {"parts", {"Roller"}}, {"kind", "hinge"}, {"axis", "x"}},
            {{"op", "joint.set"}, {"parts", {"Arm"}}, {"kind", "slide"}, {"axis", "z"}},
            {{"op", "chain.add"},
             {"wheels", {"Small", "Roller", "Large"}},
             {"outside", {"Roller"}},
             {"name", "Drive"}}});
    hands.key(Qt::Key_5);
    hands.click("tabChains");
    hands.clickRow(hands.named("Small"));
    hands.clickRow(hands.named("Arm"));
    hands.click("chainTakeUp");
    EXPECT_EQ(hands.session.document().chains.begin()->take_up, hands.named("Arm"))
        << hands.refusals.join("; ").toStdString();
    EXPECT_EQ(hands.find<QPushButton>("chainTakeUp")->text(), "Arm");
    // What it leaves to hang is typed, keyed like the turn of a hinge, and plotted in a lane.
    hands.clickRow(hands.named("Drive"));
    hands.type("chainKept", "2 mm");
    const ChannelRef slack{hands.session.document().chains.begin()->id, ChannelKind::Slack};
    EXPECT_NEAR(hands.session.valueOf(slack), 0.002, 1e-12);
    hands.key(Qt::Key_6);
    hands.choose("keyChannel", QStringLiteral("slack %1").arg(slack.owner.value));
    hands.click("panelSetKey");
    hands.type("frameEntry", "40");
    hands.type("keyValue", "9 mm");
    const Track* track = hands.session.clip().track(slack);
    ASSERT_TRUE(track) << hands.refusals.join("; ").toStdString();
    EXPECT_EQ(track->keys.size(), 2u);
    hands.type("frameEntry", "20");
    EXPECT_NEAR(hands.session.valueOf(slack), 0.0055, 1e-4);
    hands.key(Qt::Key_5);
    EXPECT_TRUE(hands.find<QLineEdit>("chainKept")->text().startsWith("5.5")) << "it follows the keys";
    hands.type("chainKept", "-1 mm");
    EXPECT_TRUE(hands.refusals.join("; ").contains("no slack is below"))
        << hands.refusals.join("; ").toStdString();
    // The chain itself, picked, takes it away again.
    hands.clickRow(hands.named("Drive"));
    hands.click("chainTakeUp");
    EXPECT_FALSE(hands.session.document().chains.begin()->take_up);
}

TEST(DriveMapByHand, ShowsWhoMovesWhomAndPicksByClick) {
    Hands hands(test::look());
    winch(hands);
    auto* map = hands.window.findChild<DriveMapView*>();
    ASSERT_NE(map, nullptr);
    EXPECT_FALSE(map->isVisible()) << "nothing moves anything yet";
    layHoist(hands);
    ASSERT_TRUE(map->isVisible());
    EXPECT_EQ(map->shown().channels.size(), 4u);
    const QRectF drum = map->boxOf({hands.named("Drum"), ChannelKind::Turn}),
                 rope = map->boxOf({hands.named("Rope"), ChannelKind::Travel}),
                 hook = map->boxOf({hands.named("Hook"), ChannelKind::Shift});
    EXPECT_LT(drum.right(), rope.left()) << "drivers stand left of what they move";
    EXPECT_LT(rope.right(), hook.left());
    QTest::mouseClick(map->sheet(), Qt::LeftButton, {}, drum.center().toPoint());
    hands.settle();
    EXPECT_EQ(hands.session.selection(), std::vector{hands.named("Drum")});
    // Values follow the motion.
    const QImage before = map->sheet()->grab().toImage();
    hands.typeAtGauge({hands.named("Drum"), ChannelKind::Turn}, "1 rad");
    hands.settle();
    EXPECT_NE(map->sheet()->grab().toImage(), before);
    // Another stage has its own place below the view.
    hands.key(Qt::Key_4);
    EXPECT_FALSE(map->isVisible());
}

TEST(RunsByHand, ACordIsTiedWherePlacesWereClicked) {
    Hands hands(test::look());
    runAll(hands, {box("Post", -1, 2),
                   box("Hook", 1, 1.5),
                   wheel("Pulley", 0.3, 0, 2.4),
                   {{"op", "joint.set"}, {"parts", {"Pulley"}}, {"kind", "hinge"}, {"axis", "x"}}});
    hands.window.view().setDirection(0.3, 0.5);
    hands.key(Qt::Key_F, Qt::ShiftModifier);
    hands.key(Qt::Key_5);
    hands.click("tabChains");
    hands.choose("runKind", "tied");
    take(hands, {"Pulley"}, "runWheels");
    hands.click("runClickPlace");
    std::vector<Vec3> ends;
    for (const auto& [part, button] : {std::pair("Post", "runStartThere"), {"Hook", "runEndThere"}}) {
        hands.clickInView(hands.named(part));
        const PickedPlace& place = hands.session.picks().places.back();
        ends.push_back(*place_in_world(hands.session.document(), place,
                                       world_from_rest(hands.session.document(), place.part)));
        hands.click(button);
    }
    EXPECT_TRUE(hands.text("runTied").contains("a place on Post to a place on Hook"))
        << hands.text("runTied").toStdString();
    hands.click("layRun");
    hands.click("acceptPreview");
    ASSERT_EQ(hands.session.document().chains.size(), 1u) << hands.refusals.join("; ").toStdString();
    const Chain& cord = *hands.session.document().chains.begin();
    const Document& d = hands.session.document();
    // It hangs in the plane of its pulley.
    const auto off = [&](const ChainTie& tie, const Vec3& clicked) {
        const Vec3 way = world_from_rest(d, tie.part).point(tie.place) - clicked;
        return std::hypot(way.x(), way.z());
    };
    EXPECT_LT(off(cord.ends->from, ends[0]), 1e-6);
    EXPECT_LT(off(cord.ends->to, ends[1]), 1e-6);
}

}  // namespace
}  // namespace pivrak
