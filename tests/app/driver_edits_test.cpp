// Drivers switched off, replaced, bent and swaying, by mouse and keys.
#include "app/stages/rig/drivers/response_plot.h"
#include "tests/app/bank.h"

namespace pivrak {
namespace {

struct Edits : Bank {
    void follow(const std::vector<PartId>& parts, const char* gain) {
        hands.pickRows(parts);
        hands.clickRow(handle(), Qt::ShiftModifier);
        hands.type("followGain", gain);
        hands.settle();
        hands.click("addFollow");
    }
    ResponsePlot& plot() { return *hands.find<ResponsePlot>("responsePlot"); }
    const Follow& rule() { return *hands.session.document().couplings.begin()->as<Follow>(); }
};

TEST_F(Edits, ADriverIsSwitchedOffStaysInTheListAndIsSwitchedOnAgain) {
    follow(slats(), "50");
    pull("400 mm");
    hands.clickRow(hands.named("Slat 2"));
    ASSERT_EQ(hands.find<QListWidget>("drivenList")->count(), 1);
    hands.click("switchDriven");
    EXPECT_TRUE(hands.find<QListWidget>("drivenList")->item(0)->text().contains("off"));
    pull("800 mm");
    EXPECT_NEAR(turned(2), 20, 1e-9) << "held where it was";
    EXPECT_NEAR(turned(1), 40, 1e-9);
    hands.clickRow(hands.named("Slat 2"));
    hands.typeAtGauge({hands.named("Slat 2"), ChannelKind::Turn}, "7 deg");
    EXPECT_NEAR(turned(2), 7, 1e-9) << "a hand may";
    hands.click("switchDriven");
    EXPECT_NEAR(turned(2), 40, 1e-9);
}

TEST_F(Edits, AnotherPartTakesTheDriversPlace) {
    runAll(hands, {box("Crank", {1.2, 0, 0.3}),
                   {{"op", "joint.set"}, {"parts", {"Crank"}}, {"kind", "slide"}, {"axis", "z"}}});
    follow(slats(2), "50");
    hands.clickRow(hands.named("Slat 1"));
    hands.click("replaceDriver");
    EXPECT_FALSE(hands.find("replaceDriver")->isEnabled()) << "it does not drive itself: nothing to take yet";
    hands.click("keepDriver");
    hands.click("replaceDriver");
    hands.clickRow(hands.named("Crank"));
    hands.click("replaceDriver");
    for (const Coupling& coupling : hands.session.document().couplings)
        EXPECT_EQ(coupling.driver()->part(), hands.named("Crank")) << hands.refusals.join(" ").toStdString();
    hands.typeAtGauge({hands.named("Crank"), ChannelKind::Shift}, "200 mm");
    EXPECT_NEAR(turned(2), 10, 1e-9);
}

/// A straight rule is bent: a point put in by a double click, dragged, typed, and taken out again.
TEST_F(Edits, AResponseIsEditedInItsPlot) {
    follow(slats(2), "50");
    hands.clickRow(handle());
    hands.find<QListWidget>("drivenList")->setCurrentRow(0);
    hands.click("bendFollow");
    ASSERT_EQ(rule().curve.size(), 2u) << hands.refusals.join(" ").toStdString();
    EXPECT_NEAR(rule().curve.back().driver, 1.2, 1e-12) << "to the end of the handle's limits";
    EXPECT_NEAR(rule().curve.back().answer, 60 * rad_per_deg, 1e-12);
    const QPoint middle = (0.5 * (plot().placeOf(0) + plot().placeOf(1))).toPoint();
    QTest::mouseDClick(&plot(), Qt::LeftButton, {}, middle);
    hands.settle();
    ASSERT_EQ(rule().curve.size(), 3u);
    EXPECT_NEAR(rule().curve[1].driver, 0.6, 0.01);
    const QPoint point = plot().placeOf(1).toPoint();
    QTest::mousePress(&plot(), Qt::LeftButton, {}, point);
    QTest::mouseMove(&plot(), point + QPoint(0, -20));
    QTest::mouseMove(&plot(), point + QPoint(0, -40));
    QTest::mouseRelease(&plot(), Qt::LeftButton, {}, point + QPoint(0, -40));
    hands.settle();
    EXPECT_GT(rule().curve[1].answer, 40 * rad_per_deg);
    hands.type("responseAnswer", "45 deg");
    QTest::keyClick(hands.find("responseAnswer"), Qt::Key_Return);
    hands.type("responseDriver", "600 mm");
    QTest::keyClick(hands.find("responseDriver"), Qt::Key_Return);
    hands.settle();
    EXPECT_NEAR(rule().curve[1].answer, 45 * rad_per_deg, 1e-12);
    EXPECT_NEAR(rule().curve[1].driver, 0.6, 1e-12);
    pull("600 mm");
    EXPECT_NEAR(turned(2), 45, 1e-9) << "all of the row answer so";
    // Its bar is turned level by an end, typed, and let go again.
    QTest::mouseClick(&plot(), Qt::LeftButton, {}, plot().placeOf(1).toPoint());
    ASSERT_TRUE(plot().barEnd().has_value());
    const QPoint end = plot().barEnd()->toPoint(), level(end.x(), plot().placeOf(1).toPoint().y());
    QTest::mousePress(&plot(), Qt::LeftButton, {}, end);
    QTest::mouseMove(&plot(), level);
    QTest::mouseRelease(&plot(), Qt::LeftButton, {}, level);
    hands.settle();
    ASSERT_TRUE(rule().curve[1].slope.has_value()) << hands.refusals.join(" ").toStdString();
    EXPECT_NEAR(*rule().curve[1].slope, 0, 0.05);
    EXPECT_NEAR(rule().curve[1].answer, 45 * rad_per_deg, 1e-12) << "the point stays";
    hands.type("responseSlope", "90");
    QTest::keyClick(hands.find("responseSlope"), Qt::Key_Return);
    hands.settle();
    EXPECT_NEAR(*rule().curve[1].slope, 90 * rad_per_deg, 1e-12);
    pull("601 mm");
    EXPECT_NEAR(turned(2), 45.09, 2e-4) << "0.09 degrees for the millimetre behind it";
    auto* slope = hands.find<QLineEdit>("responseSlope");
    slope->setFocus();
    slope->selectAll();
    QTest::keyClick(slope, Qt::Key_Delete);
    QTest::keyClick(slope, Qt::Key_Return);
    hands.settle();
    EXPECT_FALSE(rule().curve[1].slope.has_value()) << "it runs by itself again";
    QTest::mouseClick(&plot(), Qt::LeftButton, {}, plot().placeOf(1).toPoint());
    QTest::keyClick(&plot(), Qt::Key_Delete);
    hands.settle();
    EXPECT_EQ(rule().curve.size(), 2u);
    EXPECT_EQ(hands.session.document().parts.size(), 5u) << "the point went, no part";
    QTest::keyClick(&plot(), Qt::Key_Delete);
    hands.settle();
    EXPECT_EQ(hands.session.document().parts.size(), 5u) << "none is picked: nothing goes";
}

TEST_F(Edits, PartsSwayAndStopWhenLetGo) {
    hands.pickRows(slats(2));
    hands.choose("swayGoes", "swing");
    hands.type("swayStrength", "5 deg");
    hands.type("swayPace", "2");
    hands.click("swayWithClip");
    hands.settle();
    hands.click("addSway");
    ASSERT_EQ(hands.session.document().couplings.size(), 2u) << hands.refusals.join(" ").toStdString();
    EXPECT_TRUE(hands.find<QListWidget>("drivenList")->item(0)->text().contains("sway"));
    hands.session.setFrame(3);
    hands.settle();
    // Two a second are ten in a clip of five seconds.
    ASSERT_NEAR(hands.session.clip().last_frame / hands.session.document().settings.frame_rate, 5, 1e-9);
    EXPECT_NEAR(turned(1), 5 * std::sin(2 * pi * 10 * 3 / hands.session.clip().last_frame), 1e-6);
    hands.find<QListWidget>("drivenList")->setCurrentRow(0);
    hands.click("dropDriven");
    EXPECT_NEAR(turned(1), 0, 1e-9);
}

TEST_F(Edits, BeforeADriverIsRemovedWhoLosesItIsListed) {
    follow(slats(3), "50");
    const PartId lead = handle();
    hands.clickRow(lead);
    hands.removal_answer = false;
    hands.key(Qt::Key_Delete);
    EXPECT_EQ(hands.losses.size(), 3);
    EXPECT_TRUE(hands.losses.join(" ").contains("Slat 2")) << hands.losses.join(" ").toStdString();
    EXPECT_TRUE(hands.session.document().parts.contains(lead)) << "kept";
    hands.removal_answer = true;
    hands.key(Qt::Key_Delete);
    EXPECT_FALSE(hands.session.document().parts.contains(lead));
    hands.losses.clear();
    hands.clickRow(hands.named("Slat 4"));
    hands.key(Qt::Key_Delete);
    EXPECT_TRUE(hands.losses.isEmpty()) << "nobody loses anything: nothing is asked";
}

TEST_F(Edits, TheClearanceOfTwoPartsIsMeasured) {
    hands.click("tabMeasures");
    hands.clickRow(hands.named("Slat 1"));
    hands.clickRow(hands.named("Slat 2"), Qt::ControlModifier);
    hands.choose("measureWhat", "clearance");
    hands.settle();
    hands.click("addMeasure");
    ASSERT_EQ(hands.session.document().measures.size(), 1u) << hands.refusals.join(" ").toStdString();
    // Boxes 0.11 high every 0.12.
    EXPECT_TRUE(hands.find<QListWidget>("measureList")->item(0)->text().contains("10."))
        << hands.find<QListWidget>("measureList")->item(0)->text().toStdString();
}

}  // namespace
}  // namespace pivrak
