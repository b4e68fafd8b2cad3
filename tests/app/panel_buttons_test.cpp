// Buttons of the panels that no longer story goes by: each is clicked by hand, and what it does is looked at.
#include "tests/app/panel_hands.h"

namespace pivrak {
namespace {

TEST(PanelButtons, ModelAndDeliveryAreChosenByDialog) {
    test::TempFolder folder;
    folder.write("plate.obj", "o plate\nv 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n");
    Hands hands(test::look());
    hands.key(Qt::Key_1);
    hands.open_answer = QString::fromStdString((folder / "plate.obj").string());
    hands.click("chooseModel");
    if (!hands.session.previewed()) hands.click("previewImport");
    ASSERT_NE(hands.session.previewed(), nullptr) << hands.refusals.join("; ").toStdString();
    hands.click("leavePreview");
    EXPECT_EQ(hands.session.previewed(), nullptr);
    EXPECT_EQ(hands.session.document().parts.size(), 0u);
    hands.click("previewImport");
    hands.click("acceptPreview");
    EXPECT_GT(hands.session.document().parts.size(), 0u);
    hands.key(Qt::Key_7);
    hands.save_answer = QString::fromStdString((folder / "out.glb").string());
    hands.click("chooseDelivery");
    hands.click("deliver");
    ASSERT_TRUE(hands.session.lastDelivery().has_value()) << hands.refusals.join("; ").toStdString();
    EXPECT_EQ(hands.session.lastDelivery()->path, folder / "out.glb");
}

TEST(PanelButtons, ADeliveryTakesAsManySamplesAsAsked) {
    Hands hands(test::look());
    test::TempFolder folder;
    runAll(hands,
           {box("ram", {0.4, 0, 0}),
            {{"op", "joint.set"}, {"parts", {"ram"}}, {"kind", "slide"}, {"axis", "z"}},
            {{"op", "clip.set"}, {"first_frame", 0}, {"last_frame", 12}},
            {{"op", "key.set"}, {"parts", {"ram"}}, {"channel", "shift"}, {"frame", 0}, {"value", 0}},
            {{"op", "key.set"}, {"parts", {"ram"}}, {"channel", "shift"}, {"frame", 12}, {"value", 2}}});
    hands.key(Qt::Key_7);
    hands.type("deliveryPath", QString::fromStdString((folder / "ram.glb").string()), false);
    hands.click("deliver");
    ASSERT_TRUE(hands.session.lastDelivery().has_value()) << hands.refusals.join("; ").toStdString();
    const double once_a_frame = hands.session.lastDelivery()->read_back.between.largest_m;
    EXPECT_GT(once_a_frame, 1e-4);
    EXPECT_EQ(hands.find("deliverTolerance"), nullptr) << "asked for only where it counts";
    hands.choose("deliverSamples", "4");
    hands.click("deliver");
    EXPECT_LT(hands.session.lastDelivery()->read_back.between.largest_m, 0.2 * once_a_frame);
    hands.choose("deliverSamples", "0");
    hands.type("deliverTolerance", "a little", false);
    hands.click("deliver");
    EXPECT_EQ(hands.refusals.size(), 1);
    hands.type("deliverTolerance", "0.02 mm", false);
    hands.click("deliver");
    EXPECT_LE(hands.session.lastDelivery()->read_back.between.largest_m, 2e-5);
    EXPECT_EQ(hands.refusals.size(), 1) << hands.refusals.join("; ").toStdString();
}

TEST(PanelButtons, TidyFlattensJoinsGroupsAndMends) {
    Hands hands(test::look());
    runAll(hands, {box("a", {0, 0, 0}), box("b", {1, 0, 0}), box("c", {2, 0, 0})});
    hands.key(Qt::Key_1);
    hands.click("tabTidy");
    hands.pickNamed({"a", "b"});
    hands.click("groupParts");
    const PartId group = hands.named("Group");
    EXPECT_EQ(part(hands, "a").parent, group);
    runAll(hands, {{{"op", "tree.group"}, {"parts", {"a"}}, {"name", "inner"}}});
    hands.pickNamed({"Group"});
    hands.click("flattenParts");
    EXPECT_EQ(part(hands, "a").parent, group);
    EXPECT_FALSE(find_part(hands.session.document(), "inner").ok());
    hands.pickNamed({"a", "b"});
    hands.click("joinParts");
    EXPECT_FALSE(find_part(hands.session.document(), "a").ok()) << "it went into the last one";
    EXPECT_TRUE(find_part(hands.session.document(), "b").ok());
    hands.pickNamed({"b"});
    hands.click("repairShapes");
    EXPECT_TRUE(hands.told.last().contains(QStringLiteral("need no mending")))
        << hands.told.last().toStdString();
}

TEST(PanelButtons, PickingGrowsHidesAndShows) {
    Hands hands(test::look());
    runAll(hands, {box("a", {0, 0, 0}), box("b", {1, 0, 0}), round_part("cylinder", "c", {2, 0, 0.3})});
    hands.key(Qt::Key_2);
    hands.click("tabPick");
    hands.pickNamed({"a"});
    hands.click("growSize");
    EXPECT_EQ(hands.session.selection().size(), 2u) << "the other box";
    hands.click("growMaterial");
    EXPECT_EQ(hands.session.selection().size(), 3u);
    hands.pickNamed({"a"});
    hands.click("hidePicked");
    EXPECT_FALSE(part(hands, "a").shown);
    hands.click("showAllParts");
    EXPECT_TRUE(part(hands, "a").shown);
    hands.pickNamed({"b"});
    hands.click("showOnly");
    EXPECT_TRUE(part(hands, "b").shown);
    EXPECT_FALSE(part(hands, "a").shown);
    EXPECT_FALSE(part(hands, "c").shown);
}

TEST(PanelButtons, TrimAndJoin) {
    Hands hands(test::look());
    json bolt = box("bolt", {0.21, 0, 0});
    bolt["length"] = bolt["width"] = bolt["height"] = 0.02;
    runAll(hands, {box("plate", {0, 0, 0}), bolt, box("far", {3, 0, 0})});
    hands.key(Qt::Key_2);
    hands.click("tabBreak");
    hands.click("previewTrim");
    ASSERT_NE(hands.session.previewed(), nullptr) << hands.told.join("; ").toStdString();
    EXPECT_EQ(hands.session.shownDocument().parts.size(), 2u);
    hands.click("leavePreview");
    hands.pickNamed({"far", "plate"});
    hands.click("joinIntoLast");
    EXPECT_FALSE(find_part(hands.session.document(), "far").ok());
}

TEST(PanelButtons, SetsArePickedShownChangedAndForgotten) {
    Hands hands(test::look());
    runAll(hands, {box("a", {0, 0, 0}), box("b", {1, 0, 0}), box("c", {2, 0, 0})});
    hands.key(Qt::Key_2);
    hands.click("tabSets");
    hands.pickNamed({"a", "b"});
    hands.type("setName", "pair", false);
    hands.click("makeSet");
    ASSERT_EQ(hands.session.document().sets.size(), 1u);
    const auto members = [&] { return hands.session.document().sets.begin()->parts; };
    hands.pickNamed({"c"});
    hands.click("addToSet");
    EXPECT_EQ(members().size(), 3u);
    hands.click("takeFromSet");
    EXPECT_EQ(members().size(), 2u);
    hands.click("onlySet");
    EXPECT_FALSE(part(hands, "c").shown);
    EXPECT_TRUE(part(hands, "a").shown);
    hands.click("pickSet");
    EXPECT_EQ(hands.session.selection(), members());
    hands.click("removeSet");
    EXPECT_EQ(hands.session.document().sets.size(), 0u);
}

TEST(PanelButtons, PivotsGoToMiddleCentroidPlacesAndOrigin) {
    Hands hands(test::look());
    runAll(hands, {round_part("cylinder", "can", {0.5, 0.2, 0.4}), box("lid", {2, 1, 0.5})});
    hands.key(Qt::Key_3);
    const auto pivot = [&](const char* name) {
        return world_from_rest(hands.session.document(), hands.named(name));
    };
    runAll(hands, {{{"op", "pivot.to"}, {"parts", {"lid"}}, {"place", {0, 0, 0}}}});
    hands.clickRow(hands.named("lid"));
    hands.click("pivotMiddle");
    accept(hands);
    const Vec3 middle = pivot("lid").translation;
    EXPECT_NEAR(middle.x(), 2, 1e-6);
    runAll(hands, {{{"op", "pivot.to"}, {"parts", {"lid"}}, {"place", {0, 0, 0}}}});
    hands.clickRow(hands.named("lid"));
    hands.click("pivotCentroid");
    accept(hands);
    EXPECT_LT((pivot("lid").translation - middle).norm(), 1e-6);
    hands.click("pivotOrigin");
    accept(hands);
    EXPECT_LT(pivot("lid").translation.norm(), 1e-9);
    hands.click("tabAim");
    hands.click("quarterAxes");
    accept(hands);
    EXPECT_NEAR(angle_between(pivot("lid").rotation, Quat(1, 0, 0, 0)), pi / 2, 1e-9);
}

TEST(PanelButtons, PivotsGoToAPickedPlaceACircleAndRoundFaces) {
    Hands hands(test::look());
    // A long one, which shows more of its side than of its end.
    json long_one = round_part("cylinder", "can", {0.5, 0.2, 0.4}, 0.3);
    long_one["length"] = 3;
    runAll(hands, {long_one});
    hands.key(Qt::Key_3);
    const PartId can = hands.named("can");
    const auto pivot = [&] { return world_from_rest(hands.session.document(), can).translation; };
    const auto away = [&] {
        runAll(hands, {{{"op", "pivot.to"}, {"parts", {"can"}}, {"place", {0, 0, 0}}}});
        hands.clickRow(can);
    };
    away();
    hands.click("pickPlaces");
    EXPECT_EQ(click_across(hands, can, 1), 1);
    ASSERT_EQ(hands.session.picks().places.size(), 1u);
    hands.click("pivotThere");
    accept(hands);
    EXPECT_LT((pivot() - Vec3(0.5, 0.2, 0.4)).norm(), 1.6) << "on the can";
    away();
    ASSERT_EQ(click_across(hands, can, 2), 2);
    hands.click("clearPlaces");
    EXPECT_TRUE(hands.session.picks().places.empty());
    std::vector<QPoint> seen;
    Viewport& view = hands.window.view();
    for (int y = 20; y < view.height(); y += 9)
        for (int x = 20; x < view.width(); x += 9)
            if (const QPoint pixel(x, y); hands.isClear(pixel) && view.partAt(pixel) == can)
                seen.push_back(pixel);
    ASSERT_GT(seen.size(), 50u);
    for (const std::size_t i : {std::size_t{0}, seen.size() / 2, seen.size() - 1}) {
        QTest::mouseClick(&view, Qt::LeftButton, i == 0 ? Qt::NoModifier : Qt::ShiftModifier, seen[i]);
        hands.settle();
    }
    ASSERT_EQ(hands.session.picks().places.size(), 3u);
    hands.click("pivotCircle");
    accept(hands);
    EXPECT_GT(pivot().norm(), 0.01);
    away();
    hands.click("pivotPickFaces");
    ASSERT_EQ(click_across(hands, can, 8), 8);
    ASSERT_FALSE(hands.session.picks().faces.empty());
    hands.click("pivotFaces");
    accept(hands);
    EXPECT_NEAR(pivot().x(), 0.5, 1e-3) << "on the axis of its side";
    EXPECT_NEAR(pivot().z(), 0.4, 1e-3);
}

TEST(PanelButtons, JointsGoBackToRestAndTakeTheirLowest) {
    Hands hands(test::look());
    runAll(hands, {box("lid", {0, 0, 0.5}),
                   {{"op", "joint.set"}, {"parts", {"lid"}}, {"kind", "hinge"}, {"axis", "y"}},
                   {{"op", "channel.set"}, {"parts", {"lid"}}, {"value", "-30 deg"}}});
    hands.key(Qt::Key_4);
    hands.click("tabJoint");
    hands.clickRow(hands.named("lid"));
    hands.click("takeMin");
    hands.type("limitMax", "40");
    ASSERT_TRUE(part(hands, "lid").joint.turn.limits.has_value()) << hands.refusals.join("; ").toStdString();
    EXPECT_NEAR(part(hands, "lid").joint.turn.limits->min, -pi / 6, 1e-9);
    hands.click("toRest");
    EXPECT_EQ(part(hands, "lid").joint.turn.value, 0);
}

}  // namespace
}  // namespace pivrak
