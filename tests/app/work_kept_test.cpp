// No edit is lost: not by work that runs meanwhile, and not by a crash.
#include <gtest/gtest.h>

#include <QMenu>
#include <thread>

#include "core/io/project/project_file.h"
#include "core/operations/journal.h"
#include "tests/app/app_test.h"
#include "tests/support/temp_folder.h"
#include "tests/support/window.h"

namespace pivrak {
namespace {

using nlohmann::json;
using test::Hands;
using test::TempFolder;

json box_step(const char* name, double x) {
    return {{"op", "stand_in.add"}, {"kind", "box"}, {"name", name},       {"length", 1},
            {"width", 1},           {"height", 1},   {"at", {x, 0.0, 0.5}}};
}

const json station_import{{"op", "model.import"}, {"file", DEMO_MODELS "/drive-station.obj"}};

TEST(WorkKept, AnEditMadeDuringAnImportStaysBesideIt) {
    Hands hands(test::look());
    ASSERT_TRUE(hands.session.run(box_step("box", 0)));
    hands.settle();
    hands.clickRow(hands.named("box"));
    hands.session.importModel(station_import);
    // The answer cannot have arrived: it comes by the event loop.
    ASSERT_TRUE(hands.session.edits().isBusy());
    QTest::keyClick(&hands.window.view(), Qt::Key_H);
    EXPECT_FALSE(hands.session.document().parts.find(hands.named("box"))->shown);
    hands.settle();
    EXPECT_FALSE(hands.session.document().parts.find(hands.named("box"))->shown) << "the edit is still there";
    EXPECT_EQ(hands.session.document().parts.size(), 5u) << "and so is the model";
    EXPECT_EQ(hands.session.history().steps().size(), 3u);
    EXPECT_TRUE(hands.refusals.isEmpty()) << hands.refusals.join("; ").toStdString();
    hands.session.undo();
    EXPECT_EQ(hands.session.document().parts.size(), 1u);
}

TEST(WorkKept, AStepThatHasLostItsPartIsRefusedInWordsAndTheEditStays) {
    Hands hands(test::look());
    ASSERT_TRUE(hands.session.run(box_step("box", 0)));
    ASSERT_TRUE(hands.session.run(box_step("other", 3)));
    hands.session.runInBackground({{"op", "split.pieces"}, {"parts", {"box"}}});
    ASSERT_TRUE(hands.session.run({{"op", "part.remove"}, {"parts", {"box"}}}));
    hands.settle();
    EXPECT_EQ(hands.session.document().parts.size(), 1u);
    ASSERT_EQ(hands.refusals.size(), 1);
    EXPECT_TRUE(hands.refusals.front().contains("box")) << hands.refusals.front().toStdString();
}

TEST(WorkKept, APreviewIsOfTheProjectAsItIsWhenItIsTaken) {
    Hands hands(test::look());
    ASSERT_TRUE(hands.session.run(box_step("box", 0)));
    hands.session.preview({{"op", "model.stand"}, {"scale", 2.0}});
    ASSERT_TRUE(hands.session.run(box_step("late", 5)));
    hands.settle();
    ASSERT_NE(hands.session.previewed(), nullptr);
    hands.key(Qt::Key_Return);
    EXPECT_EQ(hands.session.document().parts.size(), 2u) << "what came in between is not dropped";
}

TEST(WorkKept, MeasuringDoesNotEndADelivery) {
    TempFolder folder;
    Hands hands(test::look());
    ASSERT_TRUE(hands.session.openProject(FINISHED_STATION));
    hands.settle();
    hands.session.deliverTo(folder / "one.glb");
    hands.session.deliverTo(folder / "two.glb");
    bool measured = false;
    hands.session.measuring().start(
        QStringLiteral("test"), [](const Progress&) { return 7; },
        [&](int answer) { measured = answer == 7; });
    ASSERT_TRUE(hands.session.deliveries().isBusy());
    hands.settle();
    EXPECT_TRUE(measured);
    EXPECT_TRUE(std::filesystem::exists(folder / "one.glb"));
    EXPECT_TRUE(std::filesystem::exists(folder / "two.glb")) << "the second one waited for its turn";
}

TEST(WorkKept, LongWorkShowsItselfAndIsCancelledByItsButton) {
    Hands hands(test::look());
    const Document before = hands.session.document();
    bool answered = false;
    hands.session.edits().start(
        QStringLiteral("long"), QStringLiteral("Long work"), SameKind::Waits,
        [] {
            return [](const Progress& progress) -> Result<int> {
                while (progress.go_on(0.5, "waiting"))
                    std::this_thread::sleep_for(std::chrono::milliseconds(2));
                return Error{"test.cancelled", "cancelled", ""};
            };
        },
        [&](Result<int>) { answered = true; });
    ASSERT_TRUE(QTest::qWaitFor([&] { return hands.find("cancelWork") != nullptr; }, 20000));
    EXPECT_EQ(hands.find<QProgressBar>("progressWork")->format(), "Long work");
    hands.click("cancelWork");
    EXPECT_FALSE(hands.session.edits().isBusy());
    EXPECT_FALSE(answered);
    EXPECT_EQ(hands.find("cancelWork"), nullptr);
    EXPECT_TRUE(hands.session.document() == before);
}

TEST(WorkKept, AnExceptionOfALibraryIsARefusalAndTheWindowStays) {
    Hands hands(test::look());
    Error told;
    hands.session.edits().start(
        QStringLiteral("throws"), QStringLiteral("Breaking"), SameKind::Waits,
        [] { return [](const Progress&) -> Result<int> { throw std::bad_alloc(); }; },
        [&](Result<int> answer) { told = answer.error(); });
    hands.settle();
    EXPECT_EQ(told.code, "memory");
    EXPECT_NE(told.message.find("Breaking"), std::string::npos);
}

TEST(WorkKept, WhatACrashLeavesBehindIsOfferedInWordsAndBroughtBack) {
    TempFolder folder;
    const std::string project = folder / "hall.pivrak.glb";
    Document expected;
    {
        Session session;
        Autosave autosave(session, folder.path());
        ASSERT_TRUE(session.run(box_step("box", 0)));
        ASSERT_TRUE(session.saveProject(project));
        EXPECT_FALSE(autosave.journal().has_value()) << "all is saved";
        ASSERT_TRUE(session.run(box_step("second", 2)));
        ASSERT_TRUE(session.run(box_step("third", 4)));
        ASSERT_TRUE(session.run(box_step("fourth", 6)));
        session.undo();
        expected = session.document();
        // The process ends here without a word.
    }
    Hands hands(test::look());
    hands.left_answer = Questions::LeftWork::BringBack;
    hands.window.openFile(QString::fromStdString(project));
    hands.settle();
    ASSERT_EQ(hands.left_words.size(), 1);
    EXPECT_TRUE(hands.left_words.front().contains("hall.pivrak.glb was not closed properly. 2 steps"))
        << hands.left_words.front().toStdString();
    EXPECT_TRUE(hands.session.document() == expected);
    EXPECT_TRUE(hands.session.isModified());
    EXPECT_TRUE(hands.session.history().can_redo()) << "the undone one as well";
    // It goes on with its journal, and a save ends that.
    ASSERT_TRUE(hands.session.run(box_step("fifth", 8)));
    ASSERT_TRUE(hands.session.saveProject(project));
    EXPECT_FALSE(hands.window.autosave().leftBehindOf(project).has_value());
    EXPECT_EQ(open_project(project)->parts.size(), 4u);
}

TEST(WorkKept, UndoingBehindASaveIsKeptToo) {
    TempFolder folder;
    const std::string project = folder / "hall.pivrak.glb";
    Document expected;
    {
        Session session;
        Autosave autosave(session, folder.path());
        for (int i = 0; i < 3; ++i)
            ASSERT_TRUE(session.run(box_step(("box " + std::to_string(i)).c_str(), i * 2.0)));
        ASSERT_TRUE(session.saveProject(project));
        session.undo();
        session.undo();
        ASSERT_TRUE(session.run(box_step("instead", 9)));
        expected = session.document();
    }
    Session session;
    Autosave autosave(session, folder.path());
    ASSERT_TRUE(session.openProject(project));
    const auto left = autosave.leftBehindOf(project);
    ASSERT_TRUE(left.has_value());
    autosave.bringBack(*left);
    session.settle();
    EXPECT_TRUE(session.document() == expected);
    EXPECT_TRUE(session.isModified());
    autosave.finish();
}

TEST(WorkKept, LeftWorkThatNobodyDecidedAboutIsNotWrittenOver) {
    TempFolder folder;
    const std::string project = folder / "hall.pivrak.glb";
    {
        Session session;
        Autosave autosave(session, folder.path());
        ASSERT_TRUE(session.run(box_step("box", 0)));
        ASSERT_TRUE(session.saveProject(project));
        ASSERT_TRUE(session.run(box_step("precious", 2)));
    }
    Session session;
    Autosave autosave(session, folder.path());
    ASSERT_TRUE(session.openProject(project));
    ASSERT_TRUE(session.run(box_step("other", 4)));
    EXPECT_EQ(read_journal(folder / ".hall.pivrak.glb.journal.kept")->entries.size(), 1u);
    // A project that somebody else changed: the steps do not fit, and stay where they are.
    autosave.finish();
    std::filesystem::rename(folder / ".hall.pivrak.glb.journal.kept", folder / ".hall.pivrak.glb.journal");
    ASSERT_TRUE(save_project(empty_document(), project).ok());
    QStringList told;
    QObject::connect(&session, &Session::told, &session, [&](const QString& text, bool refused) {
        if (refused) told << text;
    });
    autosave.bringBack(*autosave.leftBehindOf(project));
    session.settle();
    ASSERT_EQ(told.size(), 1);
    EXPECT_TRUE(told.front().contains("was changed elsewhere")) << told.front().toStdString();
    EXPECT_TRUE(std::filesystem::exists(folder / ".hall.pivrak.glb.journal"));
}

TEST(WorkKept, AWindowThatClosesCleanlyLeavesNothing) {
    Hands hands(test::look());
    ASSERT_TRUE(hands.session.run(box_step("box", 0)));
    ASSERT_TRUE(hands.window.autosave().journal().has_value());
    const auto path = hands.window.autosave().journal()->path();
    EXPECT_TRUE(std::filesystem::exists(path));
    hands.unsaved_answer = Questions::Unsaved::Stay;
    hands.window.close();
    EXPECT_TRUE(std::filesystem::exists(path)) << "it did not close";
    hands.unsaved_answer = Questions::Unsaved::Discard;
    hands.window.close();
    EXPECT_FALSE(std::filesystem::exists(path));
}

/// Projects saved and opened before stand in the File menu, the latest first; a click opens one.
TEST(RecentProjects, AreOpenedFromTheMenu) {
    Hands hands(test::look());
    TempFolder folder;
    for (const char* name : {"first.pivrak.glb", "second.pivrak.glb", "gone.pivrak.glb"}) {
        hands.session.newProject();
        ASSERT_TRUE(hands.session.run({{"op", "datum.add"}, {"name", name}}));
        hands.save_answer = QString::fromStdString((folder / name).string());
        hands.key(Qt::Key_S, Qt::ControlModifier | Qt::ShiftModifier);
    }
    std::filesystem::remove(folder / "gone.pivrak.glb");
    auto* menu = hands.window.findChild<QMenu*>("recentProjects");
    ASSERT_NE(menu, nullptr);
    menu->popup(hands.window.mapToGlobal(QPoint(40, 40)));
    QTest::qWait(30);
    ASSERT_GE(menu->actions().size(), 2);
    EXPECT_EQ(menu->actions()[0]->text(), "second.pivrak.glb") << "what is gone is left out";
    EXPECT_EQ(menu->actions()[1]->text(), "first.pivrak.glb");
    QTest::mouseClick(menu, Qt::LeftButton, {}, menu->actionGeometry(menu->actions()[1]).center());
    hands.settle();
    EXPECT_EQ(hands.session.projectPath().filename(), "first.pivrak.glb");
    EXPECT_TRUE(find_part(hands.session.document(), "first.pivrak.glb").ok());
}

}  // namespace
}  // namespace pivrak
