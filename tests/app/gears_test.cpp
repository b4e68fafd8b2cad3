// Gear pairs, trains, planets, tooth counts and chains by hands.
#include <QListWidget>

#include "core/rig/chains/chain_layout.h"
#include "tests/app/app_test.h"
#include "tests/support/steps.h"

namespace pivrak {
namespace {

using nlohmann::json;
using test::Hands;
using test::runAll;

void clickItem(Hands& hands, const char* list_name, int row) {
    auto* list = hands.find<QListWidget>(list_name);
    ASSERT_NE(list, nullptr) << list_name;
    ASSERT_GT(list->count(), row);
    QTest::mouseClick(list->viewport(), Qt::LeftButton, {}, list->visualItemRect(list->item(row)).center());
    hands.settle();
}

void twoSprockets(Hands& hands) {
    const auto sprocket = [](const char* name, int teeth, double x) {
        return json{{"op", "stand_in.add"}, {"kind", "sprocket"}, {"name", name}, {"teeth", teeth},
                    {"chain", "16B"},       {"width", 0.016},     {"axis", "y"},  {"at", {x, 0, 0.6}}};
    };
    runAll(hands, {sprocket("Small", 19, 0),
                   sprocket("Large", 38, 0.713),
                   {{"op", "stand_in.add"}, {"kind", "inner link"}, {"name", "Inner"}, {"at", {0.2, 0, 0.1}}},
                   {{"op", "stand_in.add"}, {"kind", "outer link"}, {"name", "Outer"}, {"at", {0.3, 0, 0.1}}},
                   {{"op", "joint.set"}, {"parts", {"Small", "Large"}}, {"kind", "hinge"}, {"axis", "x"}}});
    hands.key(Qt::Key_5);
}

TEST(GearsByHand, AChainIsLaidFittedAndBuilt) {
    Hands hands(test::look());
    twoSprockets(hands);
    hands.click("tabChains");
    hands.pickNamed({"Small", "Large"});
    hands.click("takeWheels");
    EXPECT_TRUE(hands.text("chainNewFacts").contains("25.4 mm")) << hands.text("chainNewFacts").toStdString();
    hands.click("layChain");
    hands.click("acceptPreview");
    ASSERT_EQ(hands.session.document().chains.size(), 1u) << hands.refusals.join("; ").toStdString();
    EXPECT_TRUE(hands.text("chainFacts").contains("Slack")) << hands.text("chainFacts").toStdString();
    // A remedy is shown first, then taken: nothing is to spare.
    auto* remedies = hands.find<QListWidget>("chainRemedies");
    ASSERT_NE(remedies, nullptr);
    int move = -1;
    for (int i = 0; i < remedies->count(); ++i)
        if (remedies->item(i)->text().startsWith("Move 'Large'")) move = move < 0 ? i : move;
    ASSERT_GE(move, 0);
    clickItem(hands, "chainRemedies", move);
    hands.click("applyRemedy");
    ASSERT_NE(hands.session.previewed(), nullptr);
    EXPECT_NE(world_from_rest(hands.session.shownDocument(), hands.named("Large")).translation.x(), 0.713);
    hands.click("acceptPreview");
    const Chain& fitted = *hands.session.document().chains.begin();
    EXPECT_NEAR(needed_length(chain_loop(hands.session.document(), fitted)),
                fitted.link_count * fitted.pitch_m, 1e-6 * fitted.pitch_m);
    hands.pickNamed({"Inner", "Outer"});
    hands.click("linkParts");
    hands.click("buildLinks");
    hands.settle();
    hands.click("acceptPreview");
    const Chain& chain = *hands.session.document().chains.begin();
    EXPECT_EQ(chain.links.size() % 2, 0u) << "inner and outer links alternate";
    EXPECT_EQ(chain.pattern, 2);
    // The chain goes round when a sprocket is turned.
    const PartId link = chain.links[5];
    const Vec3 before = hands.session.worldFromPart(link).translation;
    hands.typeAtGauge({hands.named("Small"), ChannelKind::Turn}, "0.5 rad");
    EXPECT_GT((hands.session.worldFromPart(link).translation - before).norm(), 0.01);
    EXPECT_TRUE(hands.refusals.isEmpty()) << hands.refusals.join("; ").toStdString();
}

/// The tree has one row for them: a click on it picks all, the arrow beside it opens them.
TEST(GearsByHand, LinksOfALongChainStandInOneRow) {
    Hands hands(test::look());
    twoSprockets(hands);
    runAll(hands, {{{"op", "chain.add"}, {"wheels", {"Small", "Large"}}, {"pattern", 2}, {"name", "Drive"}},
                   {{"op", "chain.build"}, {"chain", "Drive"}, {"parts", {"Inner", "Outer"}}}});
    hands.session.select({});
    hands.settle();
    const std::vector<PartId> links = hands.session.document().chains.begin()->links;
    ASSERT_GT(links.size(), 60u);
    QTreeView& tree = hands.window.parts().tree();
    QModelIndex row;
    std::size_t shown = 0;
    for (QModelIndex at = tree.model()->index(0, 0); at.isValid(); at = tree.indexBelow(at)) {
        ++shown;
        if (at.data().toString() == QStringLiteral("Drive: %1 links").arg(links.size())) row = at;
    }
    ASSERT_TRUE(row.isValid());
    EXPECT_LT(shown, 10u) << "the links themselves are folded away";
    QTest::mouseClick(tree.viewport(), Qt::LeftButton, {}, tree.visualRect(row).center());
    hands.settle();
    EXPECT_EQ(hands.session.selection().size(), links.size());
    EXPECT_FALSE(tree.isExpanded(row)) << "picking them does not open them";
    // An edit leaves it folded; one link picked in the view is shown.
    hands.session.run({{"op", "part.lock"}, {"parts", {links.front().value}}, {"locked", true}});
    hands.session.select({links[7]});
    hands.settle();
    const QPoint at = hands.window.parts().rowOf(links[7]);
    EXPECT_EQ(tree.indexAt(at).data(PartsModel::IdRole).toULongLong(), links[7].value);
}

TEST(GearsByHand, BucketsGoOnEveryNthLink) {
    Hands hands(test::look());
    twoSprockets(hands);
    runAll(hands,
           {{{"op", "chain.add"}, {"wheels", {"Small", "Large"}}, {"pattern", 2}, {"name", "Elevator"}},
            {{"op", "chain.build"}, {"chain", "Elevator"}, {"parts", {"Inner", "Outer"}}},
            {{"op", "stand_in.add"},
             {"kind", "box"},
             {"name", "Bucket"},
             {"length", 0.05},
             {"width", 0.08},
             {"height", 0.04},
             {"at", {0.3, 0, 0.75}}}});
    hands.click("tabChains");
    hands.pickNamed({"Bucket"});
    hands.click("linkPiece");
    hands.type("chainEvery", "6", false);
    hands.click("attachPieces");
    hands.settle();
    hands.click("acceptPreview");
    const Document& d = hands.session.document();
    const int links = d.chains.begin()->link_count;
    const Tree tree(d);
    int carrying = 0;
    for (const PartId link : d.chains.begin()->links)
        if (!tree.children(link).empty()) ++carrying;
    EXPECT_EQ(carrying, (links + 5) / 6) << hands.refusals.join("; ").toStdString();
    // They ride along.
    const PartId bucket = hands.named("Bucket");
    const Vec3 before = hands.session.worldFromPart(bucket).translation;
    hands.typeAtGauge({hands.named("Small"), ChannelKind::Turn}, "1 rad");
    EXPECT_GT((hands.session.worldFromPart(bucket).translation - before).norm(), 0.03);
}

TEST(GearsByHand, ABeltAndARackAreCoupledAsTheyStand) {
    Hands hands(test::look());
    const auto round = [](const char* name, double diameter, double x) {
        return json{{"op", "stand_in.add"}, {"kind", "wheel"}, {"name", name},     {"diameter", diameter},
                    {"width", 0.05},        {"axis", "y"},     {"at", {x, 0, 0.5}}};
    };
    runAll(
        hands,
        {round("Pulley", 0.2, 0),
         round("Flywheel", 0.6, 1.1),
         {{"op", "stand_in.add"}, {"kind", "rack"}, {"name", "Rack"}, {"module", 0.006}, {"at", {0, 1, 0.1}}},
         {{"op", "stand_in.add"},
          {"kind", "gear"},
          {"name", "Pinion"},
          {"teeth", 20},
          {"module", 0.006},
          {"width", 0.04},
          {"axis", "y"},
          {"at", {0, 1, 0.16}}},
         {{"op", "joint.set"}, {"parts", {"Pulley", "Flywheel", "Pinion"}}, {"kind", "hinge"}, {"axis", "x"}},
         {{"op", "joint.set"}, {"parts", {"Rack"}}, {"kind", "slide"}, {"axis", "x"}}});
    hands.key(Qt::Key_5);
    hands.click("tabGears");
    hands.pickNamed({"Pulley", "Flywheel"});
    hands.choose("pairKind", "belt");
    hands.click("coupleGears");
    hands.pickNamed({"Pinion", "Rack"});
    hands.choose("pairKind", "");
    EXPECT_TRUE(hands.text("gearFacts").contains("a turn")) << hands.text("gearFacts").toStdString();
    hands.click("coupleGears");
    ASSERT_EQ(hands.session.document().couplings.size(), 2u) << hands.refusals.join("; ").toStdString();
    // Radii were measured, the rack's tooth stands in a gap.
    hands.typeAtGauge({hands.named("Pulley"), ChannelKind::Turn}, "3 rad");
    EXPECT_NEAR(hands.session.turnOf(hands.named("Flywheel")), 1, 1e-5);
    EXPECT_TRUE(std::any_of(hands.session.document().couplings.begin(),
                            hands.session.document().couplings.end(), [](const Coupling& c) {
                                return c.as<GearPair>()->kind == PairKind::Rack &&
                                       c.as<GearPair>()->phase_measured;
                            }));
}

TEST(GearsByHand, AWheelThatStandsOutsideIsTicked) {
    Hands hands(test::look());
    twoSprockets(hands);
    runAll(hands, {{{"op", "stand_in.add"},
                    {"kind", "wheel"},
                    {"name", "Roller"},
                    {"diameter", 0.06},
                    {"width", 0.02},
                    {"axis", "y"},
                    {"at", {0.3, 0, 0.5}}},
                   {{"op", "joint.set"}, {"parts", {"Roller"}}, {"kind", "hinge"}, {"axis", "x"}}});
    hands.click("tabChains");
    hands.pickNamed({"Small", "Large", "Roller"});
    hands.click("takeWheels");
    auto* wheels = hands.find<QListWidget>("chainWheels");
    ASSERT_NE(wheels, nullptr);
    ASSERT_EQ(wheels->count(), 3);
    EXPECT_TRUE(wheels->item(2)->text().contains("roller"));
    // The tick is at the row's beginning.
    const QRect row = wheels->visualItemRect(wheels->item(2));
    QTest::mouseClick(wheels->viewport(), Qt::LeftButton, {}, QPoint(row.left() + 10, row.center().y()));
    hands.settle();
    EXPECT_EQ(wheels->item(2)->checkState(), Qt::Checked);
    hands.click("layChain");
    hands.click("acceptPreview");
    ASSERT_EQ(hands.session.document().chains.size(), 1u);
    EXPECT_TRUE(hands.session.document().chains.begin()->wheels[2].outside);
}

TEST(GearsByHand, ToothCountsAreFoundAndBuilt) {
    Hands hands(test::look());
    hands.key(Qt::Key_5);
    hands.click("tabGears");
    hands.type("gearRatio", "51/17*2", false);
    auto* answers = hands.find<QListWidget>("gearAnswers");
    ASSERT_NE(answers, nullptr);
    ASSERT_GT(answers->count(), 3);
    EXPECT_TRUE(answers->item(0)->text().contains("6.000000")) << answers->item(0)->text().toStdString();
    clickItem(hands, "gearAnswers", 0);
    hands.click("buildGears");
    hands.settle();
    hands.click("acceptPreview");
    EXPECT_EQ(hands.session.document().couplings.size(), 2u);
    auto* shafts = hands.find<QListWidget>("trainShafts");
    ASSERT_NE(shafts, nullptr);
    EXPECT_EQ(shafts->count(), 3);
    EXPECT_TRUE(shafts->item(2)->text().contains("6 : 1, the same way"))
        << shafts->item(2)->text().toStdString();
}

TEST(GearsByHand, APairIsTurnedOnceRound) {
    Hands hands(test::look());
    const auto gear = [](const char* name, int teeth, double x) {
        return json{{"op", "stand_in.add"}, {"kind", "gear"}, {"name", name}, {"teeth", teeth},
                    {"module", 0.006},      {"width", 0.03},  {"axis", "y"},  {"at", {x, 0, 0.5}}};
    };
    runAll(hands, {gear("A", 18, 0),
                   gear("B", 24, 0.126),
                   {{"op", "joint.set"}, {"parts", {"A", "B"}}, {"kind", "hinge"}, {"axis", "x"}},
                   {{"op", "coupling.gear"}, {"driver", "A"}, {"driven", "B"}}});
    hands.key(Qt::Key_5);
    hands.click("tabGears");
    hands.click("turnPair");
    EXPECT_TRUE(hands.text("pairMesh").contains("one turn")) << hands.text("pairMesh").toStdString();
    // What was measured no longer holds when a shaft moves.
    runAll(hands, {{{"op", "coupling.fit_centres"}, {"driver", "A"}, {"driven", "B"}, {"distance", 0.125}}});
    hands.settle();
    EXPECT_EQ(hands.find("pairMesh"), nullptr);
    hands.click("turnPair");
    EXPECT_TRUE(hands.text("pairMesh").contains("overlap by")) << hands.text("pairMesh").toStdString();
}

TEST(GearsByHand, AWormShowsItsThreads) {
    Hands hands(test::look());
    runAll(hands, {{{"op", "stand_in.add"},
                    {"kind", "worm"},
                    {"name", "Worm"},
                    {"diameter", 0.044},
                    {"length", 0.09},
                    {"module", 0.004},
                    {"starts", 2},
                    {"axis", "x"},
                    {"at", {0, 0, 0.1}}},
                   {{"op", "stand_in.add"},
                    {"kind", "gear"},
                    {"name", "Wheel"},
                    {"teeth", 32},
                    {"module", 0.004},
                    {"width", 0.02},
                    {"helix", "10.3 deg"},
                    {"axis", "y"},
                    {"at", {0.003, 0, 0.186}}},
                   {{"op", "joint.set"}, {"parts", {"Worm", "Wheel"}}, {"kind", "hinge"}, {"axis", "x"}}});
    hands.key(Qt::Key_5);
    hands.click("tabGears");
    hands.pickNamed({"Worm", "Wheel"});
    EXPECT_TRUE(hands.text("gearFacts").startsWith("Threads 2, right-hand"))
        << hands.text("gearFacts").toStdString();
    hands.click("coupleGears");
    ASSERT_EQ(hands.session.document().couplings.size(), 1u) << hands.refusals.join("; ").toStdString();
    EXPECT_TRUE(hands.session.document().couplings.begin()->as<GearPair>()->phase_measured);
}

TEST(GearsByHand, PlanetsAreSetRoundTheirAxis) {
    Hands hands(test::look());
    const auto gear = [](const char* kind, const char* name, int teeth, double x) {
        return json{{"op", "stand_in.add"}, {"kind", kind},    {"name", name},
                    {"teeth", teeth},       {"module", 0.006}, {"width", 0.03},
                    {"diameter", 0.42},     {"axis", "y"},     {"at", {x, 0, 0.5}}};
    };
    runAll(hands, {gear("gear", "Sun", 18, 0),
                   gear("gear", "Planet", 21, 0.117),
                   gear("ring gear", "Ring", 60, 0),
                   {{"op", "stand_in.add"},
                    {"kind", "cylinder"},
                    {"name", "Carrier"},
                    {"diameter", 0.03},
                    {"length", 0.1},
                    {"axis", "y"},
                    {"at", {0, 0, 0.5}}},
                   {{"op", "tree.parent"}, {"parts", {"Planet"}}, {"under", "Carrier"}},
                   {{"op", "joint.set"},
                    {"parts", {"Sun", "Planet", "Ring", "Carrier"}},
                    {"kind", "hinge"},
                    {"axis", "x"}},
                   {{"op", "joint.set"}, {"parts", {"Ring"}}, {"channel", "turn"}, {"locked", true}}});
    hands.key(Qt::Key_5);
    hands.pickNamed({"Sun"});
    hands.click("planetSun");
    hands.pickNamed({"Ring"});
    hands.click("planetRing");
    hands.pickNamed({"Planet"});
    hands.click("planetPlanets");
    hands.type("planetCount", "4", false);
    EXPECT_TRUE(hands.text("planetFacts").contains("not whole")) << hands.text("planetFacts").toStdString();
    EXPECT_FALSE(hands.find("setPlanets")->isEnabled());
    hands.type("planetCount", "3", false);
    hands.click("setPlanets");
    hands.settle();
    hands.click("acceptPreview");
    EXPECT_EQ(hands.session.document().couplings.size(), 6u) << hands.refusals.join("; ").toStdString();
    // The sun turned by hand takes the carrier along, 18 to 78.
    const double before = hands.session.turnOf(hands.named("Carrier"));
    hands.typeAtGauge({hands.named("Sun"), ChannelKind::Turn}, "1 rad");
    EXPECT_NEAR(hands.session.turnOf(hands.named("Carrier")) - before, 18.0 / 78, 1e-9);
}

}  // namespace
}  // namespace pivrak
