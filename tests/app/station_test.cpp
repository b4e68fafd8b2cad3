#include <QFile>
#include <QMenu>
#include <QSet>

#include "app/shell/where_done.h"
#include "tests/app/station.h"

namespace pivrak {
namespace {

TEST_F(Station, PickingInTheView) {
    hands.pickNothing();
    hands.clickInView(hands.named("Cabinet"));
    EXPECT_EQ(hands.session.selection(), std::vector<PartId>{hands.named("Cabinet")});
    hands.clickInView(hands.named("Bull wheel"), Qt::ShiftModifier);
    EXPECT_EQ(hands.session.primary(), hands.named("Bull wheel"));
    hands.clickInView(hands.named("Cabinet"), Qt::ControlModifier);
    EXPECT_EQ(hands.session.selection(), std::vector<PartId>{hands.named("Bull wheel")});
    Viewport& view = hands.window.view();
    hands.drag(&view, QPoint(2, 60), QPoint(view.width() - 2, view.height() - 2));
    const std::size_t seen = hands.session.selection().size();
    EXPECT_GT(seen, 40u) << "a box round everything that is seen";
    hands.key(Qt::Key_T, Qt::AltModifier);
    hands.drag(&view, QPoint(2, 60), QPoint(view.width() - 2, view.height() - 2));
    EXPECT_GT(hands.session.selection().size(), 90u) << "and through, all that is hidden too";
    EXPECT_GT(hands.session.selection().size(), seen);
    hands.key(Qt::Key_T, Qt::AltModifier);
    QTest::mouseClick(&view, Qt::LeftButton, {}, QPoint(view.width() - 8, 8));
    EXPECT_TRUE(hands.session.selection().empty()) << "empty ground picks nothing";
}

TEST_F(Station, InASmallWindowTheViewsButtonsStayInTheView) {
    for (const QSize& size : {QSize(1100, 700), QSize(1280, 800)}) {
        hands.window.resize(size);
        hands.settle();
        QList<QRect> others;
        for (const char* name :
             {"viewPerspective", "viewEdges", "viewFrames", "viewPerson", "viewHandsOff"}) {
            const QWidget* button = hands.find(name);
            ASSERT_NE(button, nullptr);
            const QRect seen(button->mapTo(&hands.window.view(), QPoint()), button->size());
            EXPECT_TRUE(hands.window.view().rect().contains(seen)) << name << " at " << size.width();
            EXPECT_TRUE(button->parentWidget()->rect().contains(button->geometry())) << name;
            for (const QRect& other : others) EXPECT_FALSE(other.intersects(seen)) << name;
            others << seen;
        }
    }
}

TEST_F(Station, LookingRound) {
    Viewport& view = hands.window.view();
    const double azimuth = view.camera().azimuth, distance = view.camera().distance;
    hands.drag(&view, QPoint(300, 200), QPoint(380, 220), {}, Qt::MiddleButton);
    EXPECT_NE(view.camera().azimuth, azimuth);
    const Vec3 target = view.camera().target;
    hands.drag(&view, QPoint(300, 200), QPoint(340, 200), Qt::ShiftModifier, Qt::MiddleButton);
    EXPECT_GT((view.camera().target - target).norm(), 0.01);
    QWheelEvent wheel(QPointF(200, 200), view.mapToGlobal(QPointF(200, 200)), {}, {0, 240}, Qt::NoButton,
                      Qt::NoModifier, Qt::NoScrollPhase, false);
    QApplication::sendEvent(&view, &wheel);
    EXPECT_LT(view.camera().distance, distance);
    QWidget* compass = hands.find("compassDial");
    QTest::mouseClick(compass, Qt::LeftButton, {}, QPoint(compass->width() / 2, 17));
    EXPECT_EQ(view.camera().azimuth, 0) << "front";
    hands.clickRow(hands.named("Hatch"));
    hands.key(Qt::Key_F);
    EXPECT_LT(view.camera().distance, 3);
    hands.click("viewPerspective");
    EXPECT_FALSE(view.camera().perspective);
}

TEST_F(Station, HidingAndShowing) {
    hands.clickRow(hands.named("Cabinet"));
    hands.key(Qt::Key_H);
    EXPECT_FALSE(hands.session.document().parts.find(hands.named("Cabinet"))->shown);
    hands.key(Qt::Key_O, Qt::ShiftModifier);
    EXPECT_TRUE(hands.session.document().parts.find(hands.named("Cabinet"))->shown);
}

TEST_F(Station, TheFilterFindsParts) {
    hands.type("partsFilter", "planet", false);
    EXPECT_TRUE(hands.window.parts().tree().model()->rowCount() > 0);
    const QPoint row = hands.window.parts().rowOf(hands.named("Planet 2"));
    QTest::mouseClick(hands.window.parts().tree().viewport(), Qt::LeftButton, {}, row);
    EXPECT_EQ(hands.session.primary(), hands.named("Planet 2"));
    EXPECT_LT(hands.window.parts().rowOf(hands.named("Bed plate")).y(), 0 + 60)
        << "carriers of what is found stay";
}

TEST_F(Station, TheFinderRunsActionsAndSaysWhyNot) {
    hands.pickNothing();
    hands.key(Qt::Key_Space, Qt::ControlModifier);
    auto* entry = hands.window.findChild<QLineEdit*>("finderEntry");
    ASSERT_TRUE(entry->isVisible());
    QTest::keyClicks(entry, "release");
    auto* list = hands.window.findChild<QListWidget*>("finderList");
    ASSERT_GT(list->count(), 0);
    EXPECT_TRUE(list->item(0)->text().contains("pick a part first"));
    QTest::keyClick(entry, Qt::Key_Return);
    EXPECT_TRUE(entry->isVisible()) << "what cannot be done is not done";
    entry->clear();
    QTest::keyClicks(entry, "handover");
    QTest::keyClick(entry, Qt::Key_Return);
    hands.settle();
    EXPECT_EQ(hands.session.stage(), Stage::Handover);
}

TEST_F(Station, TheFinderLeadsToTheCardOfWhatIsAskedFor) {
    hands.key(Qt::Key_Space, Qt::ControlModifier);
    auto* entry = hands.window.findChild<QLineEdit*>("finderEntry");
    auto* list = hands.window.findChild<QListWidget*>("finderList");
    QTest::keyClicks(entry, "drum turns");
    ASSERT_GT(list->count(), 0) << "by the words of a field: turns on the drum";
    EXPECT_TRUE(list->item(0)->text().contains("Open run over wheels"))
        << list->item(0)->text().toStdString();
    QTest::keyClick(entry, Qt::Key_Return);
    hands.settle();
    EXPECT_EQ(hands.session.stage(), Stage::Rig);
    EXPECT_NE(hands.find("layRun"), nullptr) << "the card is in sight";
}

/// Parts, sets, clips, findings, fields and buttons, by their own words and by others for the same.
TEST_F(Station, TheFinderFindsWhateverHasAName) {
    hands.session.run({{"op", "set.make"}, {"name", "loud ones"}, {"parts", {"Motor shaft", "Layshaft"}}});
    auto* entry = hands.window.findChild<QLineEdit*>("finderEntry");
    auto* list = hands.window.findChild<QListWidget*>("finderList");
    const auto ask = [&](const QString& words, const QString& line) {
        hands.click("findAction");
        QTest::keyClicks(entry, words);
        int row = -1;
        QStringList all;
        for (int i = 0; i < list->count(); ++i) {
            all << list->item(i)->text();
            if (row < 0 && all.back().contains(line)) row = i;
        }
        EXPECT_GE(row, 0) << words.toStdString() << " -> " << all.join("\n").toStdString();
        for (int i = 0; i < row; ++i) QTest::keyClick(entry, Qt::Key_Down);
        QTest::keyClick(entry, Qt::Key_Return);
        hands.settle();
        EXPECT_FALSE(entry->isVisible());
    };
    ask("planet 2", "Planet 2");
    EXPECT_EQ(hands.session.primary(), hands.named("Planet 2"));
    ask("loud", "set of 2 parts");
    EXPECT_EQ(hands.session.selection().size(), 2u);
    ask("station run", "clip");
    EXPECT_EQ(hands.session.stage(), Stage::Keys);
    ask("its teeth", "field in Rig");
    EXPECT_EQ(hands.session.stage(), Stage::Rig);
    ask("scale figure", "button");
    // "cog" is nowhere in the window, but gears are.
    ask("cog", "Gears");
    EXPECT_EQ(hands.session.stage(), Stage::Rig);
    ask("tyre", "heel");
}

/// The places that the table of needs names are in the window: tabs of stages, and menus.
TEST_F(Station, EveryPlaceInTheTableOfNeedsIsThere) {
    QFile table(QStringLiteral(DEMO_MODELS "/../../docs/needs.md"));
    ASSERT_TRUE(table.open(QIODevice::ReadOnly));
    QSet<QString> places;
    for (const QString& line : QString::fromUtf8(table.readAll()).split(QLatin1Char('\n'))) {
        const QStringList cells = line.split(QLatin1Char('|'));
        if (cells.size() != 7 || cells[1].trimmed().isEmpty() || cells[1].startsWith(QLatin1Char('-')))
            continue;
        for (const QString& place : cells[3].split(QLatin1Char(';'), Qt::SkipEmptyParts))
            if (!place.trimmed().isEmpty()) places << place.trimmed();
    }
    EXPECT_GT(places.size(), 20);
    for (const QString& place : places) {
        if (place == QLatin1String("missing")) continue;
        if (place.startsWith(QLatin1String("menu "))) {
            EXPECT_NE(hands.window.findChild<QMenu*>(QStringLiteral("menu") + place.mid(5)), nullptr)
                << place.toStdString();
            continue;
        }
        const QStringList words = place.split(QStringLiteral(" › "));
        int stage = 0;
        while (stage < stage_count &&
               QString::fromUtf8(stage_name(static_cast<Stage>(stage)).data()) != words.front())
            ++stage;
        ASSERT_LT(stage, stage_count) << place.toStdString();
        hands.session.setStage(static_cast<Stage>(stage));
        hands.settle();
        if (words.size() > 1) {
            EXPECT_NE(hands.find((QStringLiteral("tab") + words[1]).toLatin1()), nullptr)
                << place.toStdString();
        }
    }
}

/// What is said to be in a tab is there.
TEST_F(Station, EveryPlaceThatTheFinderNamesIsATab) {
    for (const Operation& operation : hands.session.registry().all()) {
        const auto where = where_done(operation.name);
        if (!where || !*where->tab) continue;
        hands.session.setStage(where->stage);
        hands.settle();
        EXPECT_NE(hands.find((std::string("tab") + where->tab).c_str()), nullptr) << operation.name;
    }
}

TEST_F(Station, DayAndNight) {
    hands.click("nightTheme");
    EXPECT_TRUE(hands.look.isNight());
    hands.click("nightTheme");
    EXPECT_FALSE(hands.look.isNight());
}

TEST_F(Station, SavingOpeningAndUnsavedWork) {
    TempFolder folder;
    EXPECT_FALSE(hands.session.isModified());
    hands.session.run({{"op", "part.rename"}, {"part", "Hatch"}, {"name", "Door"}});
    EXPECT_TRUE(hands.session.isModified());
    hands.unsaved_answer = Questions::Unsaved::Stay;
    hands.open_answer = finished_station;
    hands.key(Qt::Key_O, Qt::ControlModifier);
    EXPECT_TRUE(find_part(hands.session.document(), "Door").ok()) << "stayed";
    hands.save_answer = QString::fromStdString((folder / "station").string());
    hands.key(Qt::Key_S, Qt::ControlModifier | Qt::ShiftModifier);
    EXPECT_TRUE(std::filesystem::exists(folder / "station.pivrak.glb"))
        << hands.refusals.join("; ").toStdString();
    EXPECT_FALSE(hands.session.isModified());
    const Document saved = hands.session.document();
    hands.session.newProject();
    hands.open_answer = QString::fromStdString((folder / "station.pivrak.glb").string());
    hands.key(Qt::Key_O, Qt::ControlModifier);
    EXPECT_TRUE(hands.session.document() == saved);
}

TEST_F(Station, BadFilesAreRefusedAndTheProjectStays) {
    TempFolder folder;
    const Document before = hands.session.document();
    const std::vector<std::pair<std::string, std::string>> files{
        {"note.glb", "Hello"},
        {"empty.obj", ""},
        {"nan.obj", "v 0 0 nan\nf 1 1 1\n"},
        {"index.obj", "v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 9\n"},
        {"cut.glb", std::string("glTF\2\0\0\0\xff\0\0\0\x10\0\0\0JSON{}", 22)},
        {"broken.pivrak.glb", "glTF"}};
    for (const auto& [name, bytes] : files) {
        SCOPED_TRACE(name);
        folder.write(name, bytes);
        hands.refusals.clear();
        hands.window.openFile(QString::fromStdString((folder / name).string()));
        hands.settle();
        ASSERT_EQ(hands.refusals.size(), 1);
        EXPECT_TRUE(hands.refusals.front().contains(QString::fromStdString(name)))
            << hands.refusals.front().toStdString();
        EXPECT_TRUE(hands.session.document() == before);
        EXPECT_EQ(hands.session.previewed(), nullptr);
    }
}

TEST_F(Station, APreviewIsLeftWithEscAndNothingChanged) {
    const Document before = hands.session.document();
    hands.clickRow(hands.named("Cabinet"));
    hands.key(Qt::Key_3);
    hands.click("pivotBase");
    ASSERT_NE(hands.session.previewed(), nullptr);
    hands.key(Qt::Key_Escape);
    EXPECT_EQ(hands.session.previewed(), nullptr);
    EXPECT_TRUE(hands.session.document() == before);
}

TEST_F(Station, FindingsAreCountedShownAndLeadToTheirPart) {
    EXPECT_TRUE(hands.session.findings().empty());
    hands.session.run({{"op", "part.rename"}, {"part", "Hatch"}, {"name", "Cabinet"}});
    hands.settle();
    ASSERT_EQ(hands.session.findings().size(), 1u);
    hands.key(Qt::Key_4);
    hands.pickNothing();
    hands.click("showFinding");
    EXPECT_EQ(hands.session.document().parts.find(hands.session.primary())->name, "Cabinet");
}

TEST_F(Station, StagesByTheRailAndKeysByTheirShortcuts) {
    auto* rail = hands.find<StageRail>("stageRail");
    QTest::mouseClick(rail, Qt::LeftButton, {}, rail->stopOf(Stage::Keys).toPoint());
    EXPECT_EQ(hands.session.stage(), Stage::Keys);
    hands.clickRow(hands.named("Motor shaft"));
    hands.type("frameEntry", "20");
    hands.key(Qt::Key_K);
    EXPECT_NE(hands.session.clip().track({hands.named("Motor shaft"), ChannelKind::Turn})->key_at(20),
              nullptr);
    hands.key(Qt::Key_BracketRight);
    EXPECT_EQ(hands.session.frame(), 72);
    hands.key(Qt::Key_BracketLeft);
    EXPECT_EQ(hands.session.frame(), 20);
    hands.click("removeKey");
    EXPECT_EQ(hands.session.clip().track({hands.named("Motor shaft"), ChannelKind::Turn})->key_at(20),
              nullptr);
    hands.key(Qt::Key_J);
    EXPECT_TRUE(hands.session.autoKey());
    auto* lanes = hands.find<TimeLanes>("timeLanes");
    QTest::mouseClick(lanes, Qt::LeftButton, {}, QPoint(static_cast<int>(lanes->ruler().x_at(48)), 10));
    EXPECT_EQ(hands.session.frame(), 48);
}

TEST_F(Station, AShortcutCanBeChanged) {
    Actions& actions = hands.window.actions();
    actions.setShortcut("hide", QKeySequence(Qt::Key_X));
    hands.clickRow(hands.named("Cabinet"));
    hands.key(Qt::Key_X);
    EXPECT_FALSE(hands.session.document().parts.find(hands.named("Cabinet"))->shown);
    actions.setShortcut("releaseParts", QKeySequence(Qt::Key_X));
    EXPECT_TRUE(actions.find("hide")->action->shortcut().isEmpty()) << "one shortcut, one action";
    actions.setShortcut("hide", QKeySequence(Qt::Key_H));
    actions.setShortcut("releaseParts", QKeySequence(Qt::SHIFT | Qt::Key_U));
}

TEST_F(Station, EveryButtonAndFieldHasAName) {
    for (int stage = 0; stage < stage_count; ++stage) {
        hands.session.setStage(static_cast<Stage>(stage));
        hands.settle();
        for (const QWidget* widget : hands.window.findChildren<QWidget*>()) {
            const bool used = qobject_cast<const QAbstractButton*>(widget) ||
                              qobject_cast<const QLineEdit*>(widget) ||
                              qobject_cast<const QComboBox*>(widget);
            const bool inner = widget->objectName().startsWith("qt_") ||
                               qobject_cast<const QComboBox*>(widget->parentWidget()) ||
                               qobject_cast<const QLineEdit*>(widget->parentWidget()) ||
                               widget->parentWidget()->inherits("QTableWidget") ||
                               widget->parentWidget()->inherits("QMenuBar");
            if (used && widget->isVisible() && !inner) {
                EXPECT_FALSE(widget->objectName().isEmpty()) << widget->metaObject()->className();
            }
        }
    }
}

}  // namespace
}  // namespace pivrak
