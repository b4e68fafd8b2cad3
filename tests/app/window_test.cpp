#include <gtest/gtest.h>

#include <QLabel>
#include <QListWidget>
#include <QTableWidget>
#include <QTest>

#include "core/io/atomic_file.h"
#include "core/io/project/project_file.h"
#include "core/operations/job.h"
#include "tests/app/app_test.h"
#include "tests/support/temp_folder.h"
#include "tests/support/window.h"

namespace pivrak {
namespace {

using nlohmann::json;
using test::Hands;
using test::piece_name;
using test::TempFolder;

const QString raw_station = QStringLiteral(DEMO_MODELS "/drive-station.obj");
const QString finished_station = QStringLiteral(DEMO_MODELS "/drive-station.pivrak.glb");

/// The whole way of a new user, by mouse and keys, and the same through a job.
TEST(Window, FromARawModelToADeliveredClip) {
    Hands hands(test::look());
    TempFolder folder;
    const QString delivery = QString::fromStdString((folder / "window.glb").string());
    const std::string motor = piece_name("Motor shaft"), pinion = piece_name("Pinion 17T"),
                      layshaft = piece_name("Layshaft"), wheel = piece_name("Wheel 51T");

    hands.type("importPath", raw_station);
    ASSERT_NE(hands.session.previewed(), nullptr);
    EXPECT_TRUE(hands.text("previewText").contains("millimetres")) << hands.text("previewText").toStdString();
    EXPECT_TRUE(hands.text("modelSize").contains("2.586 m long"));
    EXPECT_TRUE(hands.session.document().parts.empty()) << "a preview changes nothing";
    hands.click("acceptPreview");
    EXPECT_EQ(hands.session.document().parts.size(), 4u);

    hands.key(Qt::Key_2);
    ASSERT_EQ(hands.session.stage(), Stage::Split);
    hands.clickRow(hands.named("steel"));
    hands.clickRow(hands.named("paint"), Qt::ControlModifier);
    hands.clickRow(hands.named("cast"), Qt::ControlModifier);
    hands.click("previewSplit");
    ASSERT_NE(hands.session.previewed(), nullptr);
    EXPECT_EQ(hands.text("splitCount"), "99 pieces");
    EXPECT_EQ(hands.find<QTableWidget>("pieceTable")->rowCount(), 99);
    hands.key(Qt::Key_Return);
    EXPECT_EQ(hands.session.document().parts.size(), 4u + 99u);

    hands.key(Qt::Key_3);
    hands.clickInView(hands.named(pinion));
    EXPECT_EQ(hands.session.selection(), std::vector<PartId>{hands.named(pinion)});
    hands.clickInView(hands.named(wheel), Qt::ShiftModifier);
    hands.clickRow(hands.named(motor), Qt::ControlModifier);
    hands.clickRow(hands.named(layshaft), Qt::ControlModifier);
    EXPECT_EQ(hands.session.selection().size(), 4u);
    hands.click("pivotCylinder");
    ASSERT_NE(hands.session.previewed(), nullptr) << hands.refusals.join("; ").toStdString();
    EXPECT_TRUE(hands.text("previewText").contains("residual"));
    hands.click("acceptPreview");

    hands.key(Qt::Key_4);
    hands.clickRow(hands.named(pinion));
    hands.clickRow(hands.named(motor), Qt::ControlModifier);
    hands.key(Qt::Key_U);
    hands.clickRow(hands.named(wheel));
    hands.clickRow(hands.named(layshaft), Qt::ControlModifier);
    hands.click("putUnder");
    EXPECT_EQ(hands.session.document().parts.find(hands.named(wheel))->parent, hands.named(layshaft));
    hands.clickRow(hands.named(motor));
    hands.clickRow(hands.named(layshaft), Qt::ControlModifier);
    hands.click("tabJoint");
    hands.choose("jointKind", "hinge");
    EXPECT_EQ(hands.session.document().parts.find(hands.named(motor))->joint.kind, JointKind::Hinge);

    hands.key(Qt::Key_5);
    EXPECT_EQ(hands.find<QLineEdit>("driverTeeth")->text(), "17") << "counted on the shape";
    EXPECT_EQ(hands.find<QLineEdit>("drivenTeeth")->text(), "51");
    EXPECT_TRUE(hands.text("gearFacts").contains("272.00 mm = 8.00 mm × 34"))
        << hands.text("gearFacts").toStdString();
    hands.click("coupleGears");
    ASSERT_EQ(hands.session.document().couplings.size(), 1u) << hands.refusals.join("; ").toStdString();

    hands.key(Qt::Key_6);
    hands.clickRow(hands.named(motor));
    hands.type("clipLast", "72");
    hands.choose("keyInterpolation", "linear");
    hands.type("keyValue", "0");
    hands.type("frameEntry", "72");
    hands.type("keyValue", "1080");
    const Track* track = hands.session.clip().track({hands.named(motor), ChannelKind::Turn});
    ASSERT_NE(track, nullptr) << hands.refusals.join("; ").toStdString();
    ASSERT_EQ(track->keys.size(), 2u);
    EXPECT_NEAR(track->keys[1].value, 6 * pi, 1e-12);

    hands.key(Qt::Key_Left, Qt::ControlModifier);
    const double before = hands.session.turnOf(hands.named(layshaft));
    hands.key(Qt::Key_Space);
    EXPECT_TRUE(QTest::qWaitFor([&] { return hands.session.frame() > 5; }, 30000)) << "it plays";
    hands.key(Qt::Key_Space);
    EXPECT_NEAR(hands.session.turnOf(hands.named(layshaft)) - before, -hands.session.frame() / 72 * 2 * pi,
                1e-9)
        << "a third of the motor, the other way";
    const double stopped = hands.session.frame();
    QTest::qWait(120);
    EXPECT_EQ(hands.session.frame(), stopped);

    hands.key(Qt::Key_7);
    hands.type("deliveryPath", delivery, false);
    hands.click("deliver");
    ASSERT_TRUE(hands.session.lastDelivery().has_value()) << hands.refusals.join("; ").toStdString();
    EXPECT_LE(hands.session.lastDelivery()->read_back.at_frames.largest_m, 1e-5);
    EXPECT_LE(hands.session.lastDelivery()->read_back.at_frames.largest_rad, 0.001 * rad_per_deg);
    EXPECT_TRUE(hands.text("deliveryVerdict").contains("✓ read back at 73 frames"));
    EXPECT_TRUE(hands.refusals.isEmpty()) << hands.refusals.join("; ").toStdString();

    // The same through one job: an equal project, and the same bytes delivered.
    const json job{
        {"import", {{"file", raw_station.toStdString()}, {"unit", "auto"}, {"up", "auto"}}},
        {"steps",
         {{{"op", "split.pieces"}, {"parts", {"steel", "paint", "cast"}}, {"weld", "0.01 mm"}},
          {{"op", "pivot.fit_cylinder"}, {"parts", {pinion, wheel, motor, layshaft}}, {"axis", "x"}},
          {{"op", "tree.parent"}, {"parts", {pinion}}, {"under", motor}},
          {{"op", "tree.parent"}, {"parts", {wheel}}, {"under", layshaft}},
          {{"op", "joint.set"}, {"parts", {motor, layshaft}}, {"kind", "hinge"}},
          {{"op", "coupling.gear"},
           {"driver", motor},
           {"driven", layshaft},
           {"driver_teeth", 17},
           {"driven_teeth", 51}},
          {{"op", "clip.set"}, {"last_frame", 72}},
          {{"op", "key.set"},
           {"parts", {motor}},
           {"frame", 0},
           {"value", "0 deg"},
           {"interpolation", "linear"}},
          {{"op", "key.set"},
           {"parts", {motor}},
           {"frame", 72},
           {"value", "1080 deg"},
           {"interpolation", "linear"}}}},
        {"deliver", "job.glb"}};
    const auto done = run_job(make_registry(), job, {folder.path(), {}});
    ASSERT_TRUE(done.ok()) << done.error().message;
    EXPECT_TRUE(done->document == hands.session.document());
    EXPECT_EQ(folder.read("job.glb"), folder.read("window.glb"));

    // Undo back to nothing and redo to the end.
    const Document end = hands.session.document();
    while (hands.session.history().can_undo()) hands.key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_TRUE(hands.session.document() == empty_document());
    while (hands.session.history().can_redo()) hands.key(Qt::Key_Z, Qt::ControlModifier | Qt::ShiftModifier);
    EXPECT_TRUE(hands.session.document() == end);
}

struct Station : testing::Test {
    Hands hands{test::look(), QStringLiteral(DEMO_MODELS)};
    Station() {
        hands.window.openFile(finished_station);
        hands.settle();
    }
};

TEST_F(Station, TheNeedleTurnsAHingeAndWhatItDrives) {
    hands.session.run({{"op", "key.remove"}, {"parts", "Motor shaft"}});
    hands.clickRow(hands.named("Motor shaft"));
    const auto dial = hands.window.view().gauge();
    ASSERT_TRUE(dial.has_value());
    EXPECT_FALSE(dial->driven);
    const Camera& camera = hands.window.view().camera();
    const auto pixel = [&](double angle) {
        const Vec3 seen = camera.project(dial->place(angle));
        return QPoint(static_cast<int>(std::lround(seen.x())), static_cast<int>(std::lround(seen.y())));
    };
    const double layshaft = hands.session.turnOf(hands.named("Layshaft"));
    hands.drag(&hands.window.view(), pixel(0), pixel(0.9));
    const double turned = hands.session.turnOf(hands.named("Motor shaft"));
    EXPECT_NEAR(turned, 0.9, 0.08);
    EXPECT_NEAR(hands.session.turnOf(hands.named("Layshaft")) - layshaft, -turned / 3, 1e-12);
    EXPECT_EQ(hands.session.history().undo_title(), "Turn or shift") << "one edit for the whole drag";
    hands.key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_EQ(hands.session.turnOf(hands.named("Motor shaft")), 0);
}

TEST_F(Station, ATurnCanBeTypedWithUnitsAndIsRefusedInWords) {
    hands.session.run({{"op", "key.remove"}, {"parts", "Motor shaft"}});
    hands.clickRow(hands.named("Motor shaft"));
    hands.type("gaugeEntry", "1/3 turn");
    EXPECT_NEAR(hands.session.turnOf(hands.named("Motor shaft")), 2 * pi / 3, 1e-12);
    const Document before = hands.session.document();
    hands.type("gaugeEntry", "3 mm");
    ASSERT_FALSE(hands.refusals.isEmpty());
    EXPECT_TRUE(hands.refusals.back().contains("cannot be read as an angle"))
        << hands.refusals.back().toStdString();
    EXPECT_TRUE(hands.session.document() == before);
}

TEST_F(Station, OnAKeyedHingeTheGaugeKeysAtTheFrame) {
    hands.clickRow(hands.named("Motor shaft"));
    hands.type("frameEntry", "36");
    hands.type("gaugeEntry", "90");
    const Track* track = hands.session.clip().track({hands.named("Motor shaft"), ChannelKind::Turn});
    ASSERT_NE(track->key_at(36), nullptr) << "nothing turned by hand is lost";
    EXPECT_NEAR(track->key_at(36)->value, pi / 2, 1e-12);
}

TEST_F(Station, TheEntryOfAKnobBesideTheEyeStaysAtTheNearestEdge) {
    // Straight above the eye a place is seen endlessly far up.
    const Camera& camera = hands.window.view().camera();
    const Vec3 place = camera.eye() + camera.up() - 1e-12 * camera.back();
    hands.session.run({{"op", "datum.add"}, {"name", "high"}, {"place", {place.x(), place.y(), place.z()}}});
    hands.session.run({{"op", "joint.set"}, {"parts", {"high"}}, {"kind", "slide"}, {"axis", "z"}});
    hands.clickRow(hands.named("high"));
    const Vec3 seen = hands.window.view().camera().project(place);
    ASSERT_LT(seen.y(), -1e10);
    EXPECT_EQ(hands.find("gaugeEntry")->y(), 4);
}

TEST_F(Station, ADrivenHingeSaysWhoDrivesIt) {
    hands.clickRow(hands.named("Layshaft"));
    const auto dial = hands.window.view().gauge();
    ASSERT_TRUE(dial.has_value());
    EXPECT_TRUE(dial->driven);
    const Document before = hands.session.document();
    const Vec2 knob = dial->knob(hands.window.view().camera());
    hands.drag(&hands.window.view(), QPoint(static_cast<int>(knob.x()), static_cast<int>(knob.y())),
               QPoint(10, 10));
    ASSERT_FALSE(hands.refusals.isEmpty());
    EXPECT_TRUE(hands.refusals.back().contains("driven by 'Motor shaft'"));
    EXPECT_TRUE(hands.session.document() == before);
    EXPECT_TRUE(hands.find<QLineEdit>("gaugeEntry")->isReadOnly());
}

TEST_F(Station, LimitsAreTypedTakenAndHold) {
    hands.session.run({{"op", "key.remove"}, {"parts", "Motor shaft"}});
    hands.clickRow(hands.named("Motor shaft"));
    hands.key(Qt::Key_4);
    hands.click("tabJoint");
    hands.type("limitMin", "-20", true);
    hands.type("limitMax", "1/8 turn", true);
    const auto limits = [&] {
        return hands.session.document().parts.find(hands.named("Motor shaft"))->joint.turn.limits;
    };
    ASSERT_TRUE(limits().has_value());
    EXPECT_NEAR(limits()->max, pi / 4, 1e-12);
    hands.type("gaugeEntry", "80");
    EXPECT_NEAR(hands.session.turnOf(hands.named("Motor shaft")), pi / 4, 1e-12);
    EXPECT_TRUE(hands.told.back().contains("stops at its limit"));
    hands.type("gaugeEntry", "10");
    hands.click("takeMax");
    EXPECT_NEAR(limits()->max, 10 * rad_per_deg, 1e-6);
    hands.click("noLimits");
    EXPECT_FALSE(limits().has_value());
}

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
    ASSERT_EQ(list->count(), 1);
    EXPECT_TRUE(list->item(0)->text().contains("pick a part first"));
    QTest::keyClick(entry, Qt::Key_Return);
    EXPECT_TRUE(entry->isVisible()) << "what cannot be done is not done";
    entry->clear();
    QTest::keyClicks(entry, "handover");
    QTest::keyClick(entry, Qt::Key_Return);
    hands.settle();
    EXPECT_EQ(hands.session.stage(), Stage::Handover);
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
