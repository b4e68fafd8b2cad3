// What was to be typed in jobs only: names of sets, points and forms of paths, ellipses, teeth and links of
// chains.
#include <gtest/gtest.h>

#include <QLabel>
#include <QRegularExpression>
#include <QTableWidget>

#include "app/session/shown_value.h"
#include "core/rig/paths/path_curve.h"
#include "tests/app/app_test.h"
#include "tests/support/steps.h"
#include "tests/support/window.h"

namespace pivrak {
namespace {

using nlohmann::json;
using test::Hands;
using test::runAll;

TEST(TypedForms, ASetIsRenamed) {
    Hands hands(test::look());
    runAll(hands, {test::small_box("A", 0, 0), test::small_box("B", 1, 0)});
    runAll(hands, {{{"op", "set.make"}, {"name", "spares"}, {"parts", {"A", "B"}}},
                   {{"op", "set.make"}, {"name", "covers"}, {"parts", {"B"}}}});
    hands.key(Qt::Key_2);
    hands.click("tabSets");
    auto* list = hands.find<QListWidget>("setList");
    QTest::mouseClick(list->viewport(), Qt::LeftButton, {}, list->visualItemRect(list->item(0)).center());
    EXPECT_FALSE(hands.find("renameSet")->isEnabled()) << "no name is typed";
    hands.type("setName", "old spares", false);
    hands.click("renameSet");
    EXPECT_EQ(hands.session.document().sets.begin()->name, "old spares")
        << hands.refusals.join("; ").toStdString();
    EXPECT_EQ(hands.session.document().sets.begin()->parts.size(), 2u);
    hands.type("setName", "covers", false);
    hands.click("renameSet");
    EXPECT_EQ(hands.session.document().sets.begin()->name, "old spares");
    EXPECT_TRUE(hands.refusals.join(";").contains("there is a set 'covers' already"));
}

TEST(TypedForms, PathsChangeTheirFormAndTheirPointsAreTyped) {
    Hands hands(test::look());
    runAll(hands, {{{"op", "path.add"},
                    {"form", "smooth"},
                    {"name", "way"},
                    {"points", {{0, 0, 0}, {1, 1, 0}, {2, 0, 0}, {3, 1, 0}}}}});
    hands.window.view().setDirection(0.4, 0.9);
    hands.key(Qt::Key_F, Qt::ShiftModifier);
    hands.key(Qt::Key_5);
    hands.click("tabPaths");
    const auto path = [&]() -> const Path& { return *hands.session.document().paths.begin(); };
    hands.session.setPathTool({path().id});
    EXPECT_FALSE(hands.find("pathPointAt")->isEnabled()) << "no point is picked";
    hands.choose("pathRuns", "polyline");
    EXPECT_EQ(path().form, PathForm::Polyline);
    const auto curve = PathCurve::make(path());
    double straight = 0;
    for (std::size_t i = 1; i < path().points.size(); ++i)
        straight += (path().points[i].place - path().points[i - 1].place).norm();
    EXPECT_NEAR(curve->length(), straight, 1e-9) << "straight from point to point";
    hands.clickPathPoint(1);
    EXPECT_TRUE(hands.find<QLineEdit>("pathPointAt")->text().startsWith("1.0000 m, "))
        << hands.find<QLineEdit>("pathPointAt")->text().toStdString();
    hands.type("pathPointAt", "1 m, 1500 mm, 0.25");
    EXPECT_EQ(path().points[1].place, Vec3(1, 1.5, 0.25)) << hands.refusals.join("; ").toStdString();
    hands.type("pathPointAt", "1 m, 2 m");
    EXPECT_EQ(path().points[1].place, Vec3(1, 1.5, 0.25));
    EXPECT_FALSE(hands.refusals.isEmpty()) << "two numbers are no place";
}

// Source: an ellipse's places lie at x^2 / a^2 + y^2 / b^2 = 1.
TEST(TypedForms, AnEllipseIsMadeOfTwoRadii) {
    Hands hands(test::look());
    hands.key(Qt::Key_5);
    hands.click("tabPaths");
    hands.type("circleRadius", "2 m", false);
    hands.type("circleRadius2", "500 mm", false);
    hands.click("addCircle");
    ASSERT_EQ(hands.session.document().paths.size(), 1u) << hands.refusals.join("; ").toStdString();
    const auto curve = PathCurve::make(*hands.session.document().paths.begin());
    double least = 1e9, most = 0;
    for (int i = 0; i < 400; ++i) {
        const double out = curve->place(curve->length() * i / 400).norm();
        least = std::min(least, out), most = std::max(most, out);
    }
    EXPECT_NEAR(most, 2, 1e-3);
    EXPECT_NEAR(least, 0.5, 1e-3);
    EXPECT_FALSE(hands.find("pathRuns")->isEnabled()) << "it stays round";
    EXPECT_EQ(hands.find<QComboBox>("pathRuns")->findData("ellipse"), -1)
        << "nothing else is made round there";
}

TEST(TypedForms, AChainTakesTypedTeethAndLinks) {
    Hands hands(test::look());
    const auto disc = [](const char* name, double x) {
        return json{{"op", "stand_in.add"}, {"kind", "cylinder"}, {"name", name},   {"diameter", 0.15},
                    {"length", 0.02},       {"axis", "y"},        {"at", {x, 0, 1}}};
    };
    runAll(hands, {disc("one", 0),
                   disc("two", 0.6),
                   {{"op", "joint.set"}, {"parts", {"one", "two"}}, {"kind", "hinge"}, {"axis", "x"}}});
    hands.key(Qt::Key_5);
    hands.click("tabChains");
    hands.pickNamed({"one", "two"});
    hands.click("takeWheels");
    hands.choose("chainSize", "16B");
    hands.type("chainTeeth", "19 19", false);
    hands.type("chainLinks", "70", false);
    hands.type("chainPattern", "2", false);
    hands.click("layChain");
    hands.click("acceptPreview");
    ASSERT_EQ(hands.session.document().chains.size(), 1u) << hands.refusals.join("; ").toStdString();
    const Chain& chain = *hands.session.document().chains.begin();
    EXPECT_EQ(chain.wheels[0].teeth, 19) << "plain discs show none";
    EXPECT_EQ(chain.link_count, 70);
    EXPECT_EQ(chain.pattern, 2);
}

TEST(TypedForms, PlanetsTakeTypedTeeth) {
    Hands hands(test::look());
    const auto disc = [](const char* name, double diameter, double x, double length) {
        return json{{"op", "stand_in.add"}, {"kind", "cylinder"}, {"name", name},     {"diameter", diameter},
                    {"length", length},     {"axis", "y"},        {"at", {x, 0, 0.5}}};
    };
    runAll(hands, {disc("Sun", 0.1, 0, 0.03),
                   disc("Planet", 0.12, 0.117, 0.03),
                   disc("Ring", 0.36, 0, 0.03),
                   disc("Carrier", 0.03, 0, 0.1),
                   {{"op", "tree.parent"}, {"parts", {"Planet"}}, {"under", "Carrier"}},
                   {{"op", "joint.set"},
                    {"parts", {"Sun", "Planet", "Ring", "Carrier"}},
                    {"kind", "hinge"},
                    {"axis", "x"}},
                   {{"op", "joint.set"}, {"parts", {"Ring"}}, {"channel", "turn"}, {"locked", true}}});
    hands.key(Qt::Key_5);
    hands.click("tabGears");
    for (const auto& [part, field] :
         {std::pair("Sun", "planetSun"), {"Ring", "planetRing"}, {"Planet", "planetPlanets"}}) {
        hands.pickNamed({part});
        hands.click(field);
    }
    hands.type("planetSunTeeth", "18", false);
    hands.type("planetPlanetTeeth", "21", false);
    hands.type("planetRingTeeth", "60", false);
    hands.click("setPlanets");
    hands.settle();
    hands.click("acceptPreview");
    ASSERT_EQ(hands.session.document().couplings.size(), 6u) << hands.refusals.join("; ").toStdString();
    // Source: Willis' equation with the ring held: the carrier turns by 18 / (18 + 60) of the sun.
    const double before = hands.session.turnOf(hands.named("Carrier"));
    hands.typeAtGauge({hands.named("Sun"), ChannelKind::Turn}, "1 rad");
    EXPECT_NEAR(hands.session.turnOf(hands.named("Carrier")) - before, 18.0 / 78, 1e-9);
}

TEST(PickedCopies, StandAlongAPathThatIsChosen) {
    Hands hands(test::look());
    runAll(hands, {test::small_box("post", 0, 0),
                   {{"op", "path.add"},
                    {"name", "fence"},
                    {"form", "line"},
                    {"points", {{0, 0, 0}, {10, 0, 0}, {10, 6, 0}}}}});
    hands.key(Qt::Key_2);
    hands.click("tabCopy");
    hands.pickNamed({"post"});
    hands.choose("copyWay", "part.repeat_path");
    hands.choose("copyPath", "fence");
    hands.type("copyCount", "", false);
    hands.type("copySpacing", "4 m", false);
    hands.choose("copyTurned", "level");
    hands.click("previewCopy");
    hands.click("acceptPreview");
    const Document& d = hands.session.document();
    ASSERT_EQ(d.parts.size(), 5u) << hands.refusals.join("; ").toStdString();
    // Sixteen metres of path, every fourth: the last one stands at its end, turned with it.
    const Frame last = world_from_rest(d, hands.session.selection().back());
    EXPECT_LT((last.translation.head<2>() - Vec2(10, 6)).norm(), 1e-9);
    EXPECT_NEAR(std::abs(last.axis(0).y()), 1, 1e-9);
}

TEST(PickedStandIns, SprocketsHaveAPitchOfTheirOwn) {
    Hands hands(test::look());
    hands.click("tabStand-ins");
    hands.choose("standInKind", "sprocket");
    EXPECT_EQ(hands.find("standIn_pitch"), nullptr) << "a standard chain has its own";
    hands.choose("standIn_chain", "other");
    hands.type("standIn_pitch", "350 mm", false);
    hands.type("standIn_roller", "100 mm", false);
    hands.click("previewStandIn");
    hands.click("acceptPreview");
    ASSERT_EQ(hands.session.document().shapes.size(), 1u) << hands.refusals.join("; ").toStdString();
    EXPECT_EQ(hands.session.document().shapes.begin()->made_of.value("pitch", 0.0), 0.35);
}

TEST(PickedCopies, AreMirroredHalfWayBetweenTwoPlacesAndTurnedAboutAnAxisThroughThem) {
    Hands hands(test::look());
    runAll(hands,
           {test::small_box("A", 0, 0), test::small_box("B", 1, 0.4), test::small_box("lamp", 0.2, 0)});
    hands.window.view().setDirection(0.4, 0.6);
    hands.key(Qt::Key_F, Qt::ShiftModifier);
    hands.key(Qt::Key_2);
    hands.click("tabCopy");
    hands.pickNamed({"lamp"});
    hands.choose("copyWay", "part.mirror");
    hands.choose("mirrorPlane", "between");
    EXPECT_TRUE(hands.text("copyFacts").contains("Click two places"))
        << hands.text("copyFacts").toStdString();
    EXPECT_FALSE(hands.find("previewCopy")->isEnabled());
    hands.click("copyClickPlace");
    // Corners of both boxes, as they are seen.
    std::vector<Vec3> corners;
    for (const char* name : {"A", "B"}) {
        const auto pixel = hands.visiblePixel(hands.named(name));
        ASSERT_TRUE(pixel.has_value());
        QTest::mouseClick(&hands.window.view(), Qt::LeftButton,
                          corners.empty() ? Qt::NoModifier : Qt::ShiftModifier, *pixel);
        hands.settle();
        const PickedPlace& place = hands.session.picks().places.back();
        corners.push_back(*place_in_world(hands.session.document(), place,
                                          world_from_rest(hands.session.document(), place.part)));
    }
    hands.click("previewCopy");
    hands.click("acceptPreview");
    // A mirror image lies as far beyond the plane half way between as the original before it.
    const Vec3 normal = (corners[1] - corners[0]).normalized(), middle = 0.5 * (corners[0] + corners[1]);
    const Document& d = hands.session.document();
    const auto centre = [&](PartId id) {
        const Part& part = *d.parts.find(id);
        return mesh_bounds(*d.shapes.find(part.shape)->mesh, world_from_rest(d, id) * part.part_from_shape)
            .middle();
    };
    ASSERT_EQ(hands.session.selection().size(), 1u) << hands.refusals.join("; ").toStdString();
    const Vec3 lamp = centre(hands.named("lamp")), image = centre(hands.session.primary());
    EXPECT_LT((image - (lamp - 2 * normal.dot(lamp - middle) * normal)).norm(), 2e-3);
}

TEST(PickedDatums, ADatumStandsWhereAPlaceWasClicked) {
    Hands hands(test::look());
    runAll(hands, {test::small_box("A", 0.3, 0.1)});
    hands.window.view().setDirection(0.4, 0.6);
    hands.key(Qt::Key_F, Qt::ShiftModifier);
    hands.key(Qt::Key_4);
    hands.click("tabCarrier");
    hands.click("datumClickPlace");
    hands.clickInView(hands.named("A"));
    const PickedPlace place = hands.session.picks().places.back();
    const Vec3 at = *place_in_world(hands.session.document(), place,
                                    world_from_rest(hands.session.document(), place.part));
    hands.click("addDatum");
    const Document& d = hands.session.document();
    EXPECT_LT((world_from_rest(d, hands.named("Datum")).translation - at).norm(), 1e-9)
        << hands.refusals.join("; ").toStdString();
    EXPECT_GT((at - Vec3(0.3, 0, 0.1)).norm(), 0.01) << "not its pivot";
}

TEST(TypedForms, AxesTurnByATypedAngle) {
    Hands hands(test::look());
    runAll(hands, {test::small_box("A", 0, 0)});
    hands.key(Qt::Key_3);
    hands.click("tabAim");
    hands.pickNamed({"A"});
    hands.type("turnAxesBy", "30", false);
    hands.click("quarterAxes");
    hands.click("acceptPreview");
    const Frame rest = world_from_rest(hands.session.document(), hands.named("A"));
    // About its own X: Y goes to (0, cos 30, sin 30).
    EXPECT_LT((rest.axis(1) - Vec3(0, std::cos(pi / 6), std::sin(pi / 6))).norm(), 1e-9);
}

TEST(TypedForms, APairTakesATypedPhase) {
    Hands hands(test::look());
    const auto gear = [](const char* name, int teeth, double x) {
        return json{{"op", "stand_in.add"}, {"kind", "gear"}, {"name", name}, {"teeth", teeth},
                    {"module", 0.006},      {"width", 0.03},  {"axis", "y"},  {"at", {x, 0, 0.5}}};
    };
    runAll(hands, {gear("A", 18, 0),
                   gear("B", 24, 0.126),
                   {{"op", "joint.set"}, {"parts", {"A", "B"}}, {"kind", "hinge"}, {"axis", "x"}}});
    hands.key(Qt::Key_5);
    hands.click("tabGears");
    hands.pickNamed({"A", "B"});
    hands.type("pairPhase", "12 deg", false);
    hands.click("coupleGears");
    ASSERT_EQ(hands.session.document().couplings.size(), 1u) << hands.refusals.join("; ").toStdString();
    EXPECT_NEAR(hands.session.turnOf(hands.named("B")), 12 * rad_per_deg, 1e-9)
        << "the driver stands at zero";
}

TEST(TypedForms, ALimitMayBeTakenAtOneEndAlone) {
    Hands hands(test::look());
    runAll(hands, {test::small_box("lid", 0, 0),
                   {{"op", "joint.set"}, {"parts", {"lid"}}, {"kind", "hinge"}, {"axis", "y"}},
                   {{"op", "channel.set"}, {"parts", {"lid"}}, {"value", "-10 deg"}}});
    hands.key(Qt::Key_4);
    hands.pickNamed({"lid"});
    hands.click("tabJoint");
    hands.click("takeMin");
    const auto limits = [&] {
        return hands.session.document().parts.find(hands.named("lid"))->joint.turn.limits;
    };
    ASSERT_TRUE(limits().has_value()) << hands.refusals.join("; ").toStdString();
    EXPECT_NEAR(limits()->min, -10 * rad_per_deg, 1e-4);
    EXPECT_FALSE(std::isfinite(limits()->max));
    EXPECT_EQ(hands.find<QLineEdit>("limitMax")->text(), "") << "it stays open";
    hands.typeAtGauge({hands.named("lid"), ChannelKind::Turn}, "400");
    EXPECT_NEAR(hands.session.turnOf(hands.named("lid")), 400 * rad_per_deg, 1e-9);
    hands.typeAtGauge({hands.named("lid"), ChannelKind::Turn}, "-30");
    EXPECT_NEAR(hands.session.turnOf(hands.named("lid")), limits()->min, 1e-12) << "and stops at the other";
    auto* lowest = hands.find<QLineEdit>("limitMin");
    QTest::mouseClick(lowest, Qt::LeftButton);
    QTest::keyClick(lowest, Qt::Key_A, Qt::ControlModifier);
    QTest::keyClick(lowest, Qt::Key_Delete);
    QTest::keyClick(lowest, Qt::Key_Return);
    hands.settle();
    EXPECT_FALSE(limits().has_value()) << "both ends are open again";
}

/// Fields show values rounded: what nobody typed at keeps all its digits, of each picked part.
TEST(TypedForms, WhatNobodyTypedAtIsNotRounded) {
    Hands hands(test::look());
    const double low = -0.123456789, turn = 0.456789123;
    const auto limited = [](const char* name, double from) {
        return json{{"op", "joint.set"}, {"parts", {name}}, {"kind", "hinge"},
                    {"axis", "y"},       {"min", from},     {"max", "90 deg"}};
    };
    runAll(hands, {test::small_box("lid", 0, 0),
                   test::small_box("flap", 1, 0),
                   limited("lid", low),
                   limited("flap", 2 * low),
                   {{"op", "channel.set"}, {"parts", {"lid"}}, {"value", turn}}});
    const auto joint = [&](const char* name) {
        return hands.session.document().parts.find(hands.named(name))->joint.turn;
    };
    ASSERT_EQ(joint("lid").limits->min, low);
    hands.key(Qt::Key_4);
    hands.click("tabJoint");
    hands.pickNamed({"flap", "lid"});
    hands.type("limitMax", "60");
    EXPECT_NEAR(joint("lid").limits->max, 60 * rad_per_deg, 1e-12);
    EXPECT_NEAR(joint("flap").limits->max, 60 * rad_per_deg, 1e-12);
    EXPECT_EQ(joint("lid").limits->min, low);
    EXPECT_EQ(joint("flap").limits->min, 2 * low);
    const std::size_t steps = hands.session.history().steps().size();
    for (const char* field : {"channelValue", "limitMin", "gaugeEntry"}) hands.enterUntyped(field);
    EXPECT_EQ(hands.session.history().steps().size(), steps);
    EXPECT_EQ(hands.session.turnOf(hands.named("lid")), turn);
    hands.click("takeMin");
    EXPECT_NEAR(joint("lid").limits->min, turn, 1e-12);
}

TEST(TypedForms, APlaceTypedAtOneNumberKeepsTheOthersWhole) {
    Hands hands(test::look());
    runAll(hands, {{{"op", "path.add"},
                    {"form", "polyline"},
                    {"name", "way"},
                    {"points", {{0, 0, 0}, {1.123456789, 1, 0.00001234}, {2, 0, 0}}}}});
    hands.window.view().setDirection(0.4, 0.9);
    hands.key(Qt::Key_F, Qt::ShiftModifier);
    hands.key(Qt::Key_5);
    hands.click("tabPaths");
    hands.session.setPathTool({hands.session.document().paths.begin()->id});
    hands.clickPathPoint(1);
    const auto shown = [&] { return hands.find<QLineEdit>("pathPointAt")->text(); };
    const std::size_t steps = hands.session.history().steps().size();
    hands.type("pathPointAt", shown());
    EXPECT_EQ(hands.session.history().steps().size(), steps) << "nothing was changed";
    QStringList numbers = shown().split(", ");
    ASSERT_EQ(numbers.size(), 3) << shown().toStdString();
    numbers[1] = "1.5 m";
    hands.type("pathPointAt", numbers.join(", "));
    EXPECT_EQ(hands.session.document().paths.begin()->points[1].place, Vec3(1.123456789, 1.5, 0.00001234))
        << hands.refusals.join("; ").toStdString();
}

/// So do the lengths of a rider whose way of standing is changed.
TEST(TypedForms, ARideChangedInOneWordKeepsItsLengthsWhole) {
    Hands hands(test::look());
    runAll(hands, {test::small_box("boat", 0, 1),
                   {{"op", "path.add"},
                    {"form", "polyline"},
                    {"name", "way"},
                    {"points", {{0, 0, 0}, {9, 0, 0}, {9, 9, 0}}}},
                   {{"op", "ride.set"},
                    {"parts", {"boat"}},
                    {"path", "way"},
                    {"side", 1.123456789},
                    {"front", 0.0000004}}});
    const auto ride = [&] { return *hands.session.document().parts.find(hands.named("boat"))->ride; };
    ASSERT_EQ(ride().front_m, 0.0000004) << hands.refusals.join("; ").toStdString();
    hands.key(Qt::Key_5);
    hands.click("tabRide");
    hands.clickRow(hands.named("boat"));
    hands.choose("rideUpright", "path");
    hands.click("setRide");
    EXPECT_EQ(hands.refusals.size(), 0) << hands.refusals.join("; ").toStdString();
    EXPECT_EQ(ride().upright, Upright::Path);
    EXPECT_NEAR(ride().side_m, 1.123456789, 1e-12);
    EXPECT_NEAR(ride().front_m, 0.0000004, 1e-18);
    hands.type("rideSide", "2 m", false);
    hands.click("setRide");
    EXPECT_EQ(ride().side_m, 2);
    EXPECT_NEAR(ride().front_m, 0.0000004, 1e-18);
}

/// One style of numbers: the gauge, the joint, the key, its table and its curve show a value alike.
TEST(TypedForms, AValueIsShownAlikeWhereverItStands) {
    Hands hands(test::look());
    runAll(hands,
           {test::small_box("ram", 0, 0),
            {{"op", "joint.set"}, {"parts", {"ram"}}, {"kind", "slide"}, {"axis", "y"}},
            {{"op", "key.set"}, {"parts", {"ram"}}, {"channel", "shift"}, {"frame", 0}, {"value", 0.01234}}});
    for (const auto& [unit, shown] : {std::pair("m", "0.0123 m"), {"mm", "12.34 mm"}, {"cm", "1.23 cm"}}) {
        runAll(hands, {{{"op", "project.set"}, {"length_unit", unit}}});
        hands.session.setFrame(0);
        hands.key(Qt::Key_4);
        hands.click("tabJoint");
        hands.clickRow(hands.named("ram"));
        EXPECT_EQ(hands.find<QLineEdit>("channelValue")->text().toStdString(), shown);
        EXPECT_EQ(hands.find<QLineEdit>("gaugeEntry")->text().toStdString(), shown);
        hands.key(Qt::Key_6);
        EXPECT_EQ(hands.find<QLineEdit>("keyValue")->text().toStdString(), shown);
        EXPECT_EQ(hands.find<QTableWidget>("keyTable")->item(0, 1)->text().toStdString(), shown);
    }
}

TEST(TypedForms, ScalesHaveTheDigitsThatTellTheirMarksApart) {
    Document d = empty_document();
    EXPECT_EQ(scaleValue(d, ChannelKind::Shift, -0.06, 0.02).toStdString(), "-0.06 m");
    EXPECT_EQ(scaleValue(d, ChannelKind::Shift, 0.0005, 0.0005).toStdString(), "0.0005 m");
    EXPECT_EQ(scaleValue(d, ChannelKind::Turn, 10 * rad_per_deg, 10 * rad_per_deg).toStdString(), "10°");
    EXPECT_EQ(scaleValue(d, ChannelKind::Turn, 0.5 * rad_per_deg, 0.5 * rad_per_deg).toStdString(), "0.5°");
    d.settings.length_unit = LengthUnit::Millimetre;
    EXPECT_EQ(scaleValue(d, ChannelKind::Shift, -0.06, 0.02).toStdString(), "-60 mm");
    EXPECT_EQ(scaleValue(d, ChannelKind::Shift, 1.2, 0.2).toStdString(), "1200 mm");
}

/// A project of millimetres tells no metres, in no stage and in no finding.
TEST(TypedForms, LengthsStandInTheUnitOfTheProject) {
    Hands hands(test::look());
    json far = test::small_box("far", 2.5, 1.7);
    far["length"] = 3;
    runAll(hands, {far,
                   {{"op", "path.add"}, {"name", "way"}, {"points", {{0, 0, 0}, {4, 0, 0}, {4, 4, 0}}}},
                   {{"op", "project.set"}, {"length_unit", "mm"}}});
    hands.session.setPathTool({hands.session.document().paths.begin()->id});
    const QRegularExpression metres(QStringLiteral("[0-9] m\\b"));
    for (int stage = 0; stage < 7; ++stage) {
        hands.key(Qt::Key_1 + stage);
        for (const QLabel* label : hands.window.findChildren<QLabel*>())
            EXPECT_FALSE(label->text().contains(metres)) << stage << ": " << label->text().toStdString();
    }
    hands.told.clear();
    hands.session.run({{"op", "stand_in.add"}, {"kind", "box"}, {"length", 2}, {"width", 1}, {"height", 1}});
    EXPECT_FALSE(hands.told.join("; ").contains(metres)) << hands.told.join("; ").toStdString();
    EXPECT_TRUE(hands.told.join("; ").contains("2000.0 mm")) << hands.told.join("; ").toStdString();
}

TEST(PickedPins, OfASingleLinkAreTheTwoPlacesClickedOnIt) {
    Hands hands(test::look());
    const auto sprocket = [](const char* name, double x) {
        return json{{"op", "stand_in.add"}, {"kind", "sprocket"}, {"name", name}, {"teeth", 19},
                    {"chain", "16B"},       {"width", 0.016},     {"axis", "y"},  {"at", {x, 0, 0.5}}};
    };
    runAll(hands, {sprocket("one", 0),
                   sprocket("two", 0.4),
                   test::small_box("Shoe", 0.2, 1),
                   {{"op", "joint.set"}, {"parts", {"one", "two"}}, {"kind", "hinge"}, {"axis", "x"}},
                   {{"op", "chain.add"}, {"wheels", {"one", "two"}}, {"name", "Drive"}}});
    hands.pickNamed({"Shoe"});
    hands.window.view().setDirection(0.3, 0.5);
    hands.key(Qt::Key_F);
    hands.key(Qt::Key_5);
    hands.click("tabChains");
    hands.click("linkParts");
    hands.click("linkClickPins");
    const Part before = *hands.session.document().parts.find(hands.named("Shoe"));
    // Two corners of its box that are seen.
    const Mesh& mesh = *hands.session.document().shapes.find(before.shape)->mesh;
    const Frame world = hands.session.worldFromPart(before.id) * before.part_from_shape;
    // A little inside its outline.
    const Vec3 middle = mesh_bounds(mesh).middle();
    const auto places = [&] { return hands.session.picks().places; };
    const auto apart = [&] {
        return places().size() > 1 && places().back().part == before.id &&
               places()[places().size() - 2].part == before.id &&
               (places().back().in_shape - places()[places().size() - 2].in_shape).norm() > 0.03;
    };
    for (std::size_t i = 0; i < mesh.positions.size() && !apart(); ++i) {
        const QPoint at = Hands::pixel(hands.window.view().camera().project(
            world.point(0.95 * mesh.positions[i].cast<double>() + 0.05 * middle)));
        if (!hands.isClear(at)) continue;
        QTest::mouseClick(&hands.window.view(), Qt::LeftButton,
                          places().empty() ? Qt::NoModifier : Qt::ShiftModifier, at);
        hands.settle();
    }
    ASSERT_TRUE(apart());
    const Vec3 pins[] = {places()[places().size() - 2].in_shape, places().back().in_shape};
    EXPECT_TRUE(hands.text("linkFacts").contains("two places clicked last"))
        << hands.text("linkFacts").toStdString();
    hands.click("buildLinks");
    hands.settle();
    hands.click("acceptPreview");
    ASSERT_FALSE(hands.session.document().chains.begin()->links.empty())
        << hands.refusals.join("; ").toStdString();
    // Its pivot is on one of the pins, in the middle of its width.
    const Vec3 pivot = hands.session.document().parts.find(before.id)->part_from_shape.inverse().translation;
    const auto off = [&](const Vec3& pin) { return std::hypot(pivot.x() - pin.x(), pivot.z() - pin.z()); };
    EXPECT_LT(std::min(off(pins[0]), off(pins[1])), 1e-6);
}

}  // namespace
}  // namespace pivrak
