#include "tests/app/panel_hands.h"

namespace pivrak {
namespace {

/// Boxes to tick, each with what it changes.
TEST(PanelOptions, OfIntake) {
    Hands hands(test::look());
    runAll(hands, {box("a", {1, 0, 0.7}), box("b", {1, 0, 2}), {{"op", "datum.add"}, {"name", "unused"}}});
    hands.key(Qt::Key_1);
    hands.click("tabStand");
    const auto lowest = [&] { return document_bounds(hands.session.shownDocument()).min.z(); };
    hands.clickRow(hands.named("b"));
    hands.click("standTouching");
    hands.click("previewStand");
    ASSERT_NE(hands.session.previewed(), nullptr) << hands.refusals.join("; ").toStdString();
    EXPECT_LT(lowest(), -1) << "the upper box stands on the floor";
    hands.click("standTouching");
    hands.click("previewStand");
    EXPECT_NEAR(lowest(), 0, 1e-6);
    EXPECT_NEAR(document_bounds(hands.session.shownDocument()).middle().x(), 0, 1e-6);
    hands.click("standCentre");
    hands.click("previewStand");
    EXPECT_NEAR(document_bounds(hands.session.shownDocument()).middle().x(), 1, 1e-6) << "not centred";
    hands.click("standGround");
    hands.click("previewStand");
    EXPECT_GT(lowest(), 0.3) << "nor put down";
    hands.click("leavePreview");
    hands.click("tabTidy");
    hands.click("tidyEmpty");
    accept(hands);
    EXPECT_FALSE(find_part(hands.session.document(), "unused").ok());
    for (const char* nothing : {"tidyChains", "tidyScale"})
        if (hands.find(nothing)->isEnabled()) {
            hands.click(nothing);
            EXPECT_TRUE(hands.told.last().contains(QStringLiteral("nothing")))
                << hands.told.last().toStdString();
        }
    hands.click("tabStand-ins");
    EXPECT_NE(hands.find("previewStandIn"), nullptr);
}

TEST(PanelOptions, OfSplit) {
    Hands hands(test::look());
    runAll(hands, {box("lid", {0, 0, 0.5}),
                   round_part("cylinder", "can", {1, 0, 0.5}),
                   round_part("cylinder", "can", {2, 0, 0.5}),
                   {{"op", "datum.add"}, {"name", "mark"}, {"under", "lid"}}});
    hands.key(Qt::Key_2);
    hands.click("tabPick");
    hands.click("pickEdges");
    EXPECT_EQ(hands.session.pickSettings().kind, PickKind::Edges);
    hands.click("pickParts");
    hands.click("tabCopy");
    hands.clickRow(hands.named("lid"));
    hands.choose("copyWay", "part.repeat_line");
    hands.click("copyAlone");
    hands.type("copyCount", "2", false);
    hands.type("copyX", "3 m", false);
    hands.click("previewCopy");
    const std::size_t before = hands.session.document().parts.size();
    accept(hands);
    EXPECT_EQ(hands.session.document().parts.size(), before + 1) << "without what it carries";
    hands.click("tabFind");
    hands.click("repeatRename");
    hands.click("findRepeats");
    accept(hands);
    EXPECT_TRUE(find_part(hands.session.document(), "can").ok()) << "names stay";
    hands.click("recogniseRename");
    hands.click("lookForParts");
    hands.click("acceptRecognised");
    accept(hands);
    EXPECT_TRUE(find_part(hands.session.document(), "can").ok()) << "names stay: " << [&] {
        std::string all;
        for (const Part& p : hands.session.document().parts) all += p.name + "; ";
        return all;
    }();
    const auto pivot = [&] { return world_from_rest(hands.session.document(), hands.named("lid")); };
    const Frame before_it = pivot();
    hands.click("recogniseRename");
    hands.click("recognisePivot");
    hands.click("lookForParts");
    hands.click("acceptRecognised");
    accept(hands);
    EXPECT_TRUE(pivot() == before_it);
    EXPECT_FALSE(find_part(hands.session.document(), "can").ok()) << "now they are named";
    hands.click("tabBreak");
    hands.clickRow(hands.named("lid"));
    hands.choose("splitBy", "split.plane");
    hands.click("planeCap");
    hands.click("previewSplit");
    accept(hands);
    bool open = false;
    for (const Finding& f : check_document(hands.session.document())) open |= f.code == "surface.open";
    EXPECT_TRUE(open) << "the cut stays open";
}

TEST(PanelOptions, OfTreeKeysAndHandover) {
    test::TempFolder folder;
    Hands hands(test::look());
    runAll(hands, {box("lid", {0, 0, 0.5}),
                   {{"op", "joint.set"}, {"parts", {"lid"}}, {"kind", "hinge"}, {"axis", "y"}},
                   {{"op", "control.add"}, {"parts", {"lid"}}, {"form", "ring"}}});
    hands.key(Qt::Key_4);
    hands.click("tabNames");
    hands.click("conventionPlain");
    EXPECT_TRUE(hands.session.document().settings.naming.plain);
    hands.click("tabCarrier");
    hands.clickRow(hands.named("lid control"));
    hands.click("frameTakesJoint");
    hands.click("frameAbove");
    accept(hands);
    EXPECT_EQ(part(hands, "lid control").joint.kind, JointKind::Hinge) << "it kept its joint";
    hands.key(Qt::Key_6);
    const bool loops = hands.session.clip().loop;
    hands.click("clipLoop");
    EXPECT_NE(hands.session.clip().loop, loops);
    hands.key(Qt::Key_7);
    const auto parts_delivered = [&](const char* name) {
        hands.type("deliveryPath", QString::fromStdString((folder / name).string()), false);
        hands.click("deliver");
        return hands.session.lastDelivery() ? hands.session.lastDelivery()->parts : 0;
    };
    const std::size_t without = parts_delivered("without.glb");
    hands.click("deliverControls");
    EXPECT_GT(parts_delivered("with.glb"), without);
}

TEST(PanelOptions, AContactBelowBecomesTheLowerLimit) {
    Hands hands(test::look());
    json door = box("door", {0.5, 0, 0}), wall = box("wall", {0, -0.55, 0});
    door["length"] = 1;
    door["width"] = 0.1;
    wall["length"] = 4;
    wall["width"] = 0.1;
    runAll(hands, {door,
                   wall,
                   {{"op", "pivot.to"}, {"parts", {"door"}}, {"place", {0, 0, 0}}},
                   {{"op", "joint.set"}, {"parts", {"door"}}, {"kind", "hinge"}, {"axis", "z"}}});
    hands.key(Qt::Key_3);
    hands.click("tabPlace");
    hands.clickRow(hands.named("door"));
    hands.click("tabSwing");
    hands.type("swingFrom", "-90", false);
    hands.type("swingTo", "90", false);
    hands.click("swingRun");
    hands.click("swingLower");
    if (hands.session.previewed()) hands.click("acceptPreview");
    ASSERT_TRUE(part(hands, "door").joint.turn.limits.has_value()) << hands.refusals.join("; ").toStdString();
    // The corner (1, -0.05) comes to y = -0.5.
    EXPECT_NEAR(part(hands, "door").joint.turn.limits->min,
                -(std::asin(0.5 / std::hypot(1, 0.05)) - std::atan(0.05)), 1e-3);
}

TEST(Panels, AMainButtonStaysInSightHoweverTallItsCard) {
    Hands hands(test::look());
    hands.window.resize(1100, 700);
    hands.click("tabStand-ins");
    hands.choose("standInKind", "bevel gear");
    hands.session.leavePreview();
    hands.settle();
    EXPECT_EQ(hands.find("pinnedMain") != nullptr,
              !hands.find("previewStandIn")
                   ->visibleRegion()
                   .contains(hands.find("previewStandIn")->rect().center()));
    ASSERT_NE(hands.find("pinnedMain"), nullptr) << "the card is taller than the panel";
    EXPECT_EQ(hands.find<QPushButton>("pinnedMain")->text(),
              hands.find<QPushButton>("previewStandIn")->text());
    hands.click("pinnedMain");
    ASSERT_NE(hands.session.previewed(), nullptr);
    EXPECT_EQ(hands.session.previewed()->step["kind"], "bevel gear");
}

/// However much an edit changes, what is seen is told once.
TEST(Panels, AreToldOncePerChange) {
    Hands hands(test::look());
    int told = 0;
    QObject::connect(&hands.session, &Session::changed, &hands.window, [&] { ++told; });
    ASSERT_TRUE(hands.session.run({{"op", "stand_in.add"}, {"kind", "box"}}));
    EXPECT_EQ(told, 1) << "document and selection at once";
    hands.session.select({});
    EXPECT_EQ(told, 2);
    hands.session.undo();
    EXPECT_EQ(told, 3);
    hands.session.setFrame(3);
    EXPECT_EQ(told, 3) << "time alone changes no panel";
}

}  // namespace
}  // namespace pivrak
