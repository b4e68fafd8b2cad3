// Everything through its range, by hands: run, read, look, save.
#include <QFile>
#include <QTableWidget>

#include "tests/app/panel_hands.h"
#include "tests/support/temp_folder.h"

namespace pivrak {
namespace {

/// A lid that dips into a chest when it opens too far.
void addChest(Hands& hands) {
    runAll(hands, {{{"op", "stand_in.add"},
                    {"kind", "box"},
                    {"name", "Wall"},
                    {"at", {-0.4, 0, 0}},
                    {"length", 0.05},
                    {"width", 0.6},
                    {"height", 1.2}},
                   {{"op", "stand_in.add"},
                    {"kind", "box"},
                    {"name", "Lid"},
                    {"at", {0, 0, 1.0}},
                    {"length", 0.6},
                    {"width", 0.5},
                    {"height", 0.04}},
                   {{"op", "joint.set"},
                    {"parts", {"Lid"}},
                    {"kind", "slide"},
                    {"axis", "x"},
                    {"min", -0.3},
                    {"max", 0.3}}});
    hands.key(Qt::Key_5);
    hands.click("tabExercise");
}

void waitFor(Hands& hands, QTableWidget& table) {
    for (int i = 0; i < 400 && table.rowCount() == 0; ++i) QTest::qWait(10);
    hands.settle();
}

TEST(ExerciseByHand, RunsTellsShowsAndSaves) {
    Hands hands(test::look());
    addChest(hands);
    // Keys are left aside, by the exercise and by what it shows.
    runAll(
        hands,
        {{{"op", "stand_in.add"},
          {"kind", "box"},
          {"name", "Flag"},
          {"at", {3, 0, 0}},
          {"length", 0.1},
          {"width", 0.1},
          {"height", 0.1}},
         {{"op", "joint.set"}, {"parts", {"Flag"}}, {"kind", "slide"}, {"axis", "z"}, {"min", 0}, {"max", 1}},
         {{"op", "key.set"}, {"parts", {"Flag"}}, {"channel", "shift"}, {"frame", 0}, {"value", 0.5}},
         {{"op", "key.set"}, {"parts", {"Lid"}}, {"channel", "shift"}, {"frame", 0}, {"value", 0.2}}});
    EXPECT_FALSE(hands.find("saveExercise")->isEnabled()) << "there is nothing to save yet";
    hands.type("exercisePairs", "2", false);
    hands.type("exerciseSeed", "7", false);
    hands.click("runExercise");
    auto* table = hands.window.findChild<QTableWidget*>("exerciseTable");
    ASSERT_NE(table, nullptr);
    waitFor(hands, *table);
    ASSERT_TRUE(table->isVisible());
    ASSERT_EQ(table->rowCount(), 1) << hands.refusals.join("; ").toStdString();
    EXPECT_TRUE(table->item(0, 1)->text().contains("touches")) << table->item(0, 1)->text().toStdString();
    EXPECT_TRUE(hands.text("exerciseFacts").contains("1 thing")) << hands.text("exerciseFacts").toStdString();
    // Show me: the lid stands where it touches, and nothing has changed.
    const PartId lid = hands.named("Lid");
    ASSERT_NEAR(hands.session.worldFromPart(lid).translation.x(), 0.2, 1e-12) << "as it is keyed";
    const auto before = hands.session.document();
    hands.click("showExercised");
    const double shown = hands.session.worldFromPart(lid).translation.x();
    EXPECT_LT(shown, -0.07);
    EXPECT_GT(shown, -0.12);
    EXPECT_EQ(hands.session.worldFromPart(hands.named("Flag")).translation.z(), 0) << "as by hand";
    EXPECT_EQ(hands.session.selection().size(), 2u);
    EXPECT_TRUE(hands.session.document() == before);
    hands.click("leaveExercise");
    EXPECT_NEAR(hands.session.worldFromPart(lid).translation.x(), 0.2, 1e-12);
    EXPECT_FALSE(hands.find("leaveExercise")->isEnabled());
    // It is saved as a page and as a table.
    test::TempFolder folder;
    for (const char* name : {"chest.html", "chest.csv"}) {
        hands.save_answer = QString::fromStdString((folder / name).string());
        hands.click("saveExercise");
        QFile file(hands.save_answer);
        ASSERT_TRUE(file.open(QIODevice::ReadOnly));
        EXPECT_TRUE(file.readAll().contains("touches"));
    }
    // An edit makes it old.
    hands.session.run({{"op", "part.rename"}, {"part", "Wall"}, {"name", "Back"}});
    hands.settle();
    EXPECT_TRUE(hands.text("exerciseFacts").contains("Out of date"));
}

TEST(ExerciseByHand, OfPickedPartsAndWithoutContacts) {
    Hands hands(test::look());
    addChest(hands);
    hands.choose("exerciseWhich", "picked");
    hands.session.select({});
    hands.click("runExercise");
    EXPECT_TRUE(hands.refusals.join(" ").contains("pick the parts"));
    hands.clickRow(hands.named("Lid"));
    hands.click("exerciseContacts");
    hands.type("exercisePairs", "none", false);
    hands.click("runExercise");
    EXPECT_TRUE(hands.refusals.join(" ").contains("whole numbers"));
    hands.type("exercisePairs", "0", false);
    hands.click("runExercise");
    for (int i = 0; i < 400 && !hands.text("exerciseFacts").contains("nothing goes wrong"); ++i)
        QTest::qWait(10);
    EXPECT_TRUE(hands.text("exerciseFacts").contains("1 channel run through"))
        << hands.text("exerciseFacts").toStdString();
}

TEST(ExerciseByHand, WhatAnotherProjectGaveIsNotShown) {
    Hands hands(test::look());
    addChest(hands);
    hands.click("runExercise");
    auto* table = hands.window.findChild<QTableWidget*>("exerciseTable");
    waitFor(hands, *table);
    ASSERT_EQ(table->rowCount(), 1);
    hands.session.newProject();
    hands.settle();
    EXPECT_EQ(table->rowCount(), 0);
    EXPECT_FALSE(hands.find("saveExercise")->isEnabled());
    EXPECT_FALSE(hands.text("exerciseFacts").contains("1 thing"))
        << hands.text("exerciseFacts").toStdString();
}

}  // namespace
}  // namespace pivrak
