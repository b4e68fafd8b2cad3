// What follows what and by which formula, by hands: two picks and one button, texts typed, names picked.
#include <QHeaderView>
#include <QPlainTextEdit>
#include <QTableWidget>

#include "tests/app/bank.h"

namespace pivrak {
namespace {

TEST_F(Bank, TwoPicksAndOneButtonLetAPartFollow) {
    hands.clickRow(hands.named("Slat 1"));
    hands.clickRow(handle(), Qt::ShiftModifier);
    hands.choose("followHow", "gain");
    hands.type("followGain", "50");
    hands.settle();
    hands.click("addFollow");
    ASSERT_EQ(hands.session.document().couplings.size(), 1u) << hands.refusals.join("; ").toStdString();
    pull("400 mm");
    EXPECT_NEAR(turned(1), 20, 1e-9);
    auto* list = hands.find<QListWidget>("drivenList");
    ASSERT_EQ(list->count(), 1);
    EXPECT_TRUE(list->item(0)->text().contains("follows")) << list->item(0)->text().toStdString();
    EXPECT_TRUE(list->item(0)->text().contains("20.0")) << list->item(0)->text().toStdString();
    // Down to what follows, and up to what leads.
    list->setCurrentRow(0);
    hands.click("pickFollowers");
    EXPECT_EQ(hands.session.selection(), std::vector{hands.named("Slat 1")});
    hands.find<QListWidget>("drivenList")->setCurrentRow(0);
    hands.click("pickDriver");
    EXPECT_EQ(hands.session.selection(), std::vector{handle()});
    hands.find<QListWidget>("drivenList")->setCurrentRow(0);
    hands.click("holdDriven");
    EXPECT_TRUE(hands.session.document().couplings.empty());
    pull("100 mm");
    EXPECT_NEAR(turned(1), 20, 1e-9) << "it stays";
    hands.clickRow(hands.named("Slat 2"));
    hands.clickRow(handle(), Qt::ControlModifier);
    hands.click("followOpposite");
    hands.click("addFollow");
    EXPECT_NEAR(turned(2), -5, 1e-9) << "the other way";
}

TEST_F(Bank, ARangeIsGivenByPosingItsEnds) {
    hands.pickRows(slats());
    hands.clickRow(handle(), Qt::ShiftModifier);
    hands.choose("followHow", "poses");
    hands.settle();
    EXPECT_FALSE(hands.find("addFollow")->isEnabled()) << "no end is known yet";
    hands.clickRow(hands.named("Slat 1"));
    hands.typeAtGauge({hands.named("Slat 1"), ChannelKind::Turn}, "-80 deg");
    hands.pickRows(slats());
    hands.clickRow(handle(), Qt::ShiftModifier);
    hands.click("followFromHere");
    pull("1200 mm");
    hands.clickRow(hands.named("Slat 1"));
    hands.typeAtGauge({hands.named("Slat 1"), ChannelKind::Turn}, "80 deg");
    hands.pickRows(slats());
    hands.clickRow(handle(), Qt::ShiftModifier);
    hands.click("followToHere");
    EXPECT_TRUE(facts("followEnds").contains("from -80")) << facts("followEnds").toStdString();
    EXPECT_TRUE(facts("followEnds").contains("to 80")) << facts("followEnds").toStdString();
    hands.click("addFollow");
    ASSERT_EQ(hands.session.document().couplings.size(), 4u) << hands.refusals.join("; ").toStdString();
    EXPECT_TRUE(facts("followEnds").isEmpty()) << "the next range has ends of its own";
    for (const auto& [pulled, turn] : {std::pair("0 mm", -80.0), {"600 mm", 0.0}, {"900 mm", 40.0}}) {
        pull(pulled);
        for (int i = 1; i <= 4; ++i) EXPECT_NEAR(turned(i), turn, 1e-9) << pulled << i;
    }
    // All four are one line, and are let go at once.
    auto* list = hands.find<QListWidget>("drivenList");
    ASSERT_EQ(list->count(), 1);
    EXPECT_TRUE(list->item(0)->text().contains("and 3 more follow")) << list->item(0)->text().toStdString();
    list->setCurrentRow(0);
    hands.click("dropDriven");
    EXPECT_TRUE(hands.session.document().couplings.empty()) << hands.refusals.join("; ").toStdString();
}

TEST_F(Bank, ACurveIsMadeOfPosesAndTyped) {
    const auto pose = [&](const char* pulled, const char* turn) {
        pull(pulled);
        hands.clickRow(hands.named("Slat 1"));
        hands.typeAtGauge({hands.named("Slat 1"), ChannelKind::Turn}, turn);
        hands.pickRows(slats());
        hands.clickRow(handle(), Qt::ShiftModifier);
        hands.click("followAddPoint");
    };
    hands.choose("followHow", "curve");
    pose("0 mm", "0 deg");
    pose("500 mm", "50 deg");
    pose("1 m", "20 deg");
    EXPECT_EQ(hands.find<QLineEdit>("followCurve")->text(), "0 m: 0 deg, 0.5 m: 50 deg, 1 m: 20 deg");
    EXPECT_TRUE(hands.find<QCheckBox>("followEachTurn")->isVisible());
    hands.find<QCheckBox>("followStraight")->setChecked(true);
    hands.settle();
    hands.click("addFollow");
    ASSERT_EQ(hands.session.document().couplings.size(), 4u) << hands.refusals.join("; ").toStdString();
    for (const auto& [pulled, turn] : {std::pair("250 mm", 25.0), {"750 mm", 35.0}, {"1.2 m", 20.0}}) {
        pull(pulled);
        for (int i = 1; i <= 4; ++i) EXPECT_NEAR(turned(i), turn, 1e-9) << pulled << i;
    }
}

TEST_F(Bank, AFormulaIsTypedForAllOfThemAndItsInputsArePicked) {
    hands.click("tabFormulas");
    hands.pickRows(slats());
    hands.click("formulaDrives");
    typeFormula("clamp(handle * 100 - 5 * (n - 1), 0, 70) * 1 deg");
    EXPECT_TRUE(facts("formulaFacts").contains("handle")) << facts("formulaFacts").toStdString();
    EXPECT_FALSE(hands.find("setFormula")->isEnabled()) << "two names stand for nothing";
    const auto marks = hands.find<QPlainTextEdit>("formulaText")->extraSelections();
    ASSERT_EQ(marks.size(), 1);
    EXPECT_EQ(marks[0].cursor.selectedText(), "handle") << "underlined where it is";
    hands.clickRow(handle());
    hands.choose("formulaAddWhat", "channel");
    hands.click("formulaAddInput");
    hands.choose("formulaAddWhat", "number");
    hands.click("formulaAddInput");
    auto* table = hands.find<QTableWidget>("formulaInputs");
    ASSERT_EQ(table->rowCount(), 2);
    EXPECT_EQ(table->item(0, 0)->text(), "handle");
    hands.settle();
    EXPECT_TRUE(hands.find("setFormula")->isEnabled()) << facts("formulaFacts").toStdString();
    hands.click("setFormula");
    ASSERT_EQ(hands.session.document().couplings.size(), 4u) << hands.refusals.join("; ").toStdString();
    pull("500 mm");
    for (int i = 1; i <= 4; ++i) EXPECT_NEAR(turned(i), 50 - 5 * (i - 1), 1e-9) << i;
    // All of the series are taken in hand from one of them, and keep their numbers.
    hands.click("tabDrivers");
    hands.clickRow(hands.named("Slat 3"));
    hands.find<QListWidget>("drivenList")->setCurrentRow(0);
    hands.click("editFormula");
    EXPECT_EQ(hands.find<QTableWidget>("formulaInputs")->rowCount(), 2);
    typeFormula("handle * 20 + n");
    hands.click("setFormula");
    for (int i = 1; i <= 4; ++i) EXPECT_NEAR(turned(i), 10 + i, 1e-9) << i;
    hands.key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_NEAR(turned(2), 45, 1e-9) << "undone";
}

TEST_F(Bank, WhatIsWrongIsUnderlinedAndTheLastGoodCourseStays) {
    hands.click("tabFormulas");
    hands.clickRow(hands.named("Slat 1"));
    hands.click("formulaDrives");
    hands.choose("formulaAddWhat", "seconds");
    hands.click("formulaAddInput");
    typeFormula("20 * t");
    ASSERT_TRUE(hands.find("setFormula")->isEnabled()) << facts("formulaFacts").toStdString();
    EXPECT_TRUE(facts("formulaFacts").contains("'Slat 1 turn' is")) << facts("formulaFacts").toStdString();
    const QImage course = hands.find("formulaPlot")->grab().toImage();
    typeFormula("20 * t + sinn(3)");
    EXPECT_FALSE(hands.find("setFormula")->isEnabled());
    EXPECT_EQ(hands.find<QPlainTextEdit>("formulaText")->extraSelections()[0].cursor.selectedText(), "sinn");
    EXPECT_EQ(hands.find("formulaPlot")->grab().toImage(), course) << "the last good one stays";
    typeFormula("t");
    EXPECT_TRUE(hands.find("setFormula")->isEnabled()) << "unlike quantities are hinted at, not refused";
    EXPECT_EQ(hands.find<QPlainTextEdit>("formulaText")->extraSelections().size(), 1)
        << facts("formulaFacts").toStdString();
    // The keys alone: Ctrl and Return set it.
    typeFormula("30 * t");
    QTest::keyClick(hands.find<QPlainTextEdit>("formulaText"), Qt::Key_Return, Qt::ControlModifier);
    hands.settle();
    ASSERT_EQ(hands.session.document().couplings.size(), 1u);
}

TEST_F(Bank, AnInputIsTakenOutAndANumberWithItsUnitTakesItsPlace) {
    hands.click("tabFormulas");
    hands.clickRow(hands.named("Slat 1"));
    hands.click("formulaDrives");
    hands.clickRow(handle());
    hands.choose("formulaAddWhat", "channel");
    hands.click("formulaAddInput");
    typeFormula("handle * 50");
    hands.click("setFormula");
    hands.click("formulaDropInput");
    hands.settle();
    EXPECT_FALSE(hands.find("setFormula")->isEnabled()) << facts("formulaFacts").toStdString();
    hands.choose("formulaAddWhat", "constant");
    hands.click("formulaAddInput");
    auto* table = hands.find<QTableWidget>("formulaInputs");
    ASSERT_EQ(table->rowCount(), 1);
    // The new number is being typed already.
    QTest::keyClicks(QApplication::focusWidget(), "250 mm");
    QTest::keyClick(QApplication::focusWidget(), Qt::Key_Return);
    typeFormula("r * 100");
    hands.click("setFormula");
    EXPECT_NEAR(turned(1), 25, 1e-9) << facts("formulaFacts").toStdString();
    const Formula& formula = *hands.session.document().couplings.begin()->as<Formula>();
    ASSERT_EQ(formula.inputs.size(), 1u) << "the handle is out of it";
    EXPECT_EQ(formula.inputs[0].counts, ConstantKind::Length);
}

TEST_F(Bank, WhatIsMeasuredIsShownLiveAndTakenByAFormula) {
    hands.click("tabMeasures");
    hands.clickRow(hands.named("Slat 1"));
    EXPECT_FALSE(hands.find("addMeasure")->isEnabled()) << "a distance is between two";
    hands.clickRow(handle(), Qt::ShiftModifier);
    hands.choose("measureWhat", "distance");
    hands.type("measureName", "gap");
    hands.settle();
    hands.click("addMeasure");
    ASSERT_EQ(hands.session.document().measures.size(), 1u) << hands.refusals.join("; ").toStdString();
    const auto apart = [&] {
        return (hands.session.worldFromPart(handle()).translation -
                hands.session.worldFromPart(hands.named("Slat 1")).translation)
            .norm();
    };
    auto* list = hands.find<QListWidget>("measureList");
    ASSERT_EQ(list->count(), 1);
    const QString before = list->item(0)->text();
    EXPECT_TRUE(before.contains(QString::fromStdString(format_length(apart(), hands.session.document()))))
        << before.toStdString();
    pull("700 mm");
    EXPECT_NE(list->item(0)->text(), before) << "live";
    EXPECT_TRUE(list->item(0)->text().contains(
        QString::fromStdString(format_length(apart(), hands.session.document()))));
    // A formula takes it, and goes on with it.
    hands.click("tabFormulas");
    hands.clickRow(hands.named("Slat 2"));
    hands.click("formulaDrives");
    hands.choose("formulaAddWhat", "measure");
    hands.click("formulaAddInput");
    typeFormula("gap * 20");
    hands.click("setFormula");
    ASSERT_EQ(hands.session.document().couplings.size(), 1u) << hands.refusals.join("; ").toStdString();
    pull("100 mm");
    EXPECT_NEAR(turned(2), 20 * apart(), 1e-9);
    // Unticked it is not drawn any more; removed, its last value stands.
    hands.click("tabMeasures");
    list->item(0)->setCheckState(Qt::Unchecked);
    hands.settle();
    EXPECT_TRUE(hands.session.document().measures.begin()->hidden);
    hands.click("removeMeasure");
    EXPECT_TRUE(hands.session.document().measures.empty());
    EXPECT_EQ(hands.session.document().couplings.size(), 1u) << "the formula stays";
}

TEST_F(Bank, PlacesThatWereClickedAreMeasured) {
    hands.click("tabMeasures");
    hands.choose("measureWhat", "distance");
    hands.choose("measureEnds", "clicked");
    hands.window.view().setDirection(-0.8, 0.3);
    hands.window.view().frameAll();
    hands.settle();
    hands.click("measurePlaces");
    hands.clickInView(handle());
    hands.clickInView(hands.named("Slat 4"));
    hands.settle();
    ASSERT_EQ(hands.session.picks().places.size(), 2u);
    hands.click("addMeasure");
    ASSERT_EQ(hands.session.document().measures.size(), 1u) << hands.refusals.join("; ").toStdString();
    const Measure& measure = *hands.session.document().measures.begin();
    EXPECT_EQ(measure.a, handle());
    EXPECT_EQ(measure.b, hands.named("Slat 4"));
    EXPECT_GT(measure.place_a.norm(), 1e-3) << "not at its pivot";
    hands.click("measurePlaces");
    hands.choose("measureWhat", "speed");
    hands.choose("measureEnds", "pivots");
    hands.clickRow(handle());
    hands.click("addMeasure");
    ASSERT_EQ(hands.session.document().measures.size(), 2u) << hands.refusals.join("; ").toStdString();
    EXPECT_TRUE(hands.find<QListWidget>("measureList")->item(1)->text().contains("0 m/s"));
}

/// Ids of one project are others' in the next one.
TEST_F(Bank, WhatWasTakenInAnotherProjectIsForgotten) {
    hands.click("tabFormulas");
    hands.clickRow(hands.named("Slat 1"));
    hands.click("formulaDrives");
    hands.clickRow(handle());
    hands.choose("formulaAddWhat", "channel");
    hands.click("formulaAddInput");
    typeFormula("handle * 50");
    hands.click("tabDrivers");
    hands.clickRow(handle());
    hands.click("followDriver");
    hands.session.newProject();
    for (int i = 0; i < 6; ++i) runAll(hands, {box("Other", {1.0 * i, 0, 0})});
    hands.key(Qt::Key_5);
    hands.click("tabDrivers");
    EXPECT_EQ(hands.find<QPushButton>("followDriver")->text(), "last picked");
    hands.click("tabFormulas");
    EXPECT_EQ(hands.find<QPushButton>("formulaDrives")->text(), "the picked parts");
    EXPECT_EQ(hands.find<QTableWidget>("formulaInputs")->rowCount(), 0);
    EXPECT_TRUE(hands.find<QPlainTextEdit>("formulaText")->toPlainText().isEmpty());
}

TEST_F(Bank, WordsAreCompletedFromTheNamesOfInputsAndFunctions) {
    hands.click("tabFormulas");
    hands.clickRow(hands.named("Slat 1"));
    hands.click("formulaDrives");
    hands.clickRow(handle());
    hands.choose("formulaAddWhat", "channel");
    hands.click("formulaAddInput");
    auto* editor = hands.find<QPlainTextEdit>("formulaText");
    QTest::mouseClick(editor->viewport(), Qt::LeftButton, {}, {20, 12});
    QTest::keyClicks(editor, "50 * ha");
    QWidget* offered = QApplication::activePopupWidget();
    ASSERT_NE(offered, nullptr);
    QTest::keyClick(offered, Qt::Key_Return);
    hands.settle();
    EXPECT_EQ(editor->toPlainText(), "50 * handle");
    EXPECT_TRUE(hands.find("setFormula")->isEnabled()) << facts("formulaFacts").toStdString();
}

}  // namespace
}  // namespace pivrak
