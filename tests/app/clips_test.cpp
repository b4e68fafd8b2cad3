// Clips, lanes and whole moves by mouse and keys.
#include <QComboBox>
#include <QListWidget>
#include <QSpinBox>

#include "app/session/no_keys.h"
#include "app/timeline/time_strip.h"
#include "tests/app/keyed_handle.h"
#include "tests/support/pixels.h"

namespace pivrak {
namespace {

struct Lanes : Curves {
    Lanes() : Curves(3) {}
    TimeLanes& lanes() { return *hands.find<TimeLanes>("timeLanes"); }
    QPoint at(double frame) { return lanes().placeOf(shift, frame).toPoint(); }
    void dragLane(const QPoint& from, const QPoint& to, Qt::KeyboardModifiers keys = {}) {
        hands.drag(&lanes(), from, to, keys);
        hands.settle();
    }
    std::vector<double> frames() {
        std::vector<double> all;
        for (const Key& key : track().keys) all.push_back(key.frame);
        return all;
    }
};

/// A move between two keys is a bar: it is dragged as one, stretched from an end, copied and pasted.
TEST_F(Lanes, MovesAreBarsThatAreDraggedStretchedAndCopied) {
    ASSERT_EQ(frames(), (std::vector<double>{0, 40, 80}));
    dragLane(at(60), at(65));
    EXPECT_EQ(frames(), (std::vector<double>{0, 45, 85})) << "the bar from 40 to 80 went along";
    EXPECT_EQ(hands.session.keyPicks().frames().size(), 1u);
    // Of the picked two the last is taken, and half as long is left.
    dragLane(at(85), at(65), Qt::AltModifier);
    EXPECT_EQ(frames(), (std::vector<double>{0, 45, 65}));
    EXPECT_NEAR(key(65).value, 0.1, 1e-12);
    QTest::mouseClick(&lanes(), Qt::LeftButton, {}, at(45));
    QTest::keyClick(&lanes(), Qt::Key_C, Qt::ControlModifier);
    hands.session.setFrame(90);
    QTest::keyClick(&lanes(), Qt::Key_V, Qt::ControlModifier);
    hands.settle();
    EXPECT_EQ(frames(), (std::vector<double>{0, 45, 65, 90})) << hands.refusals.join(" ").toStdString();
    EXPECT_NEAR(key(90).value, 0.4, 1e-12);
    // A click on a bar goes there, as anywhere else.
    QTest::mouseClick(&lanes(), Qt::LeftButton, {}, at(20));
    hands.settle();
    EXPECT_EQ(hands.session.frame(), 20);
}

/// Rows stand in the tree's order; those of one part fold; more than fit are reached by the wheel.
TEST_F(Lanes, RowsFoldAndScroll) {
    hands.session.run({{"op", "joint.set"}, {"parts", {slat(1)}}, {"kind", "free"}});
    for (const char* channel : {"turn_x", "turn_y", "shift_x", "shift_z"})
        hands.session.run(
            {{"op", "key.set"}, {"parts", {slat(1)}}, {"channel", channel}, {"frame", 10}, {"value", 0.1}});
    for (const int i : {2, 3})
        hands.session.run({{"op", "key.set"}, {"parts", {slat(i)}}, {"frame", 5}, {"value", 0.2}});
    hands.pickNothing();
    hands.settle();
    const PartId first = hands.named(slat(1));
    const ChannelRef last{hands.named(slat(3)), ChannelKind::Turn};
    ASSERT_FALSE(lanes().foldOf(first).isNull()) << hands.refusals.join(" ").toStdString();
    const auto seen = [&](ChannelRef channel) { return !lanes().placeOf(channel, 5).isNull(); };
    ASSERT_FALSE(seen(last)) << "further down";
    const QPointF fold = lanes().foldOf(first);
    QTest::mouseClick(&lanes(), Qt::LeftButton, {}, fold.toPoint());
    hands.settle();
    EXPECT_TRUE(lanes().placeOf({first, ChannelKind::TurnX}, 10).isNull());
    const bool fits = seen(last);
    QTest::mouseClick(&lanes(), Qt::LeftButton, {}, lanes().foldOf(first).toPoint());
    for (int i = 0; i < 8; ++i) {
        QWheelEvent wheel(QPointF(300, 60), lanes().mapToGlobal(QPointF(300, 60)), {}, {0, -120},
                          Qt::NoButton, {}, Qt::NoScrollPhase, false);
        QApplication::sendEvent(&lanes(), &wheel);
    }
    EXPECT_TRUE(seen(last) || fits);
    EXPECT_FALSE(seen(shift)) << "the first one has gone up";
}

TEST_F(Lanes, MarkersAreSetDraggedAndTakenOff) {
    hands.session.setFrame(30);
    hands.type("markerName", "stops here");
    hands.settle();
    ASSERT_EQ(hands.session.clip().markers, (std::vector<Marker>{{30, "stops here"}}));
    const double x = at(30).x(), px = (at(80).x() - at(40).x()) / 40.0;
    dragLane({static_cast<int>(x) + 3, 20}, {static_cast<int>(x + 3 + 12 * px), 20});
    ASSERT_EQ(hands.session.clip().markers.size(), 1u);
    EXPECT_EQ(hands.session.clip().markers.front().frame, 42);
    QTest::mouseClick(&lanes(), Qt::LeftButton, {}, {static_cast<int>(at(42).x()) + 3, 20});
    hands.settle();
    EXPECT_EQ(hands.session.frame(), 42);
    hands.click("dropMarker");
    EXPECT_TRUE(hands.session.clip().markers.empty());
    hands.type("markerName", "again", false);
    hands.click("setMarker");
    EXPECT_EQ(hands.session.clip().markers.size(), 1u);
}

TEST_F(Lanes, TheShownClipStaysShownWhenItGoesDownTheList) {
    hands.type("clipName", "shake", false);
    hands.click("newClip");
    // As it is opened: the first one of the list is shown.
    hands.session.startWith(hands.session.document());
    hands.settle();
    const std::string shown = hands.session.clip().name;
    EXPECT_NE(shown, "shake");
    hands.click("clipDown");
    EXPECT_TRUE(hands.find<QListWidget>("clipList")->item(0)->text().startsWith("shake"))
        << hands.refusals.join(" ").toStdString();
    EXPECT_EQ(hands.session.clip().name, shown);
}

TEST_F(Lanes, ClipsAreOrderedColouredTimedAndAdded) {
    hands.type("clipName", "shake", false);
    hands.click("newClip");
    ASSERT_EQ(hands.session.document().clips.size(), 2u);
    auto* list = hands.find<QListWidget>("clipList");
    ASSERT_EQ(list->count(), 2);
    EXPECT_TRUE(list->item(1)->text().startsWith("shake"));
    hands.click("clipUp");
    EXPECT_TRUE(list->item(0)->text().startsWith("shake"));
    hands.click("clipDown");
    EXPECT_TRUE(list->item(1)->text().startsWith("shake"));
    hands.choose("clipColor", "rust");
    EXPECT_EQ(hands.session.clip().color, ControlColor::Rust);
    hands.click("clipOwnRate");
    hands.click("rateKeepsSeconds");
    hands.type("frameRate", "48");
    hands.settle();
    ASSERT_EQ(hands.session.clip().rate, std::optional(48.0)) << hands.refusals.join(" ").toStdString();
    EXPECT_EQ(hands.session.document().settings.frame_rate, 24);
    EXPECT_EQ(hands.session.clip().last_frame, 240);
    hands.session.run({{"op", "key.set"},
                       {"parts", {"Handle"}},
                       {"channel", "shift"},
                       {"frame", 0},
                       {"value", 0.05},
                       {"clip", "shake"}});
    list->setCurrentRow(0);
    hands.settle();
    ASSERT_NE(hands.session.clip().name, "shake");
    rest_ = world_from_rest(hands.session.document(), handle()).translation.z();
    const double before = raised(40);
    hands.session.setFrame(0);
    hands.type("layerShare", "2", false);
    hands.click("addLayer");
    ASSERT_EQ(hands.session.clip().layers.size(), 1u) << hands.refusals.join(" ").toStdString();
    EXPECT_NEAR(raised(40), before + 0.1, 1e-9);
    // A hand leaves it where it is seen.
    hands.typeAtGauge(shift, "300 mm");
    EXPECT_NEAR(raised(40), 0.3, 1e-9);
    hands.click("dropLayer");
    EXPECT_NEAR(raised(40), 0.2, 1e-9);
}

/// Lanes without keys say why: the clip only plays others, or the picked part is not keyed in it.
TEST_F(Lanes, WithoutKeysTheySayWhy) {
    const std::string first = hands.session.clip().name;
    ASSERT_TRUE(hands.session.run({{"op", "clip.add"}, {"name", "both"}}));
    hands.choose("clipChoice", hands.find<QComboBox>("clipChoice")->itemData(1));
    ASSERT_EQ(hands.session.clip().name, "both");
    EXPECT_EQ(noKeysWords(hands.session), "What is picked has no keys in this clip: press K to set one");
    const QImage picked = lanes().grab().toImage();
    hands.pickNothing();
    EXPECT_EQ(noKeysWords(hands.session), "No keys yet: pose a part and press K");
    EXPECT_NE(lanes().grab().toImage(), picked) << "it is painted";
    ASSERT_TRUE(hands.session.run({{"op", "layer.set"}, {"clip", "both"}, {"add", first}}));
    hands.settle();
    EXPECT_EQ(noKeysWords(hands.session), "No keys of its own: it plays " + QString::fromStdString(first));
    EXPECT_EQ(hands.text("keyEditFacts"), noKeysWords(hands.session) + '.') << "and so does who changes keys";
    hands.clickRow(handle());
    EXPECT_TRUE(noKeysWords(hands.session).startsWith("No keys of its own")) << "whatever is picked";
}

TEST_F(Lanes, MovesGoOneAfterTheOtherAndBecomeKeys) {
    hands.pickRows({hands.named(slat(1)), hands.named(slat(2)), hands.named(slat(3))});
    hands.type("movesTo", "30 deg", false);
    hands.type("movesFrames", "10", false);
    hands.type("movesGap", "2", false);
    hands.type("movesFrame", "0", false);
    hands.settle();
    hands.click("doMoves");
    const auto turned = [&](int i, double frame) {
        hands.session.setFrame(frame);
        hands.settle();
        return hands.session.valueOf({hands.named(slat(i)), ChannelKind::Turn}) * deg_per_rad;
    };
    EXPECT_NEAR(turned(1, 10), 30, 1e-9) << hands.refusals.join(" ").toStdString();
    EXPECT_NEAR(turned(2, 12), 0, 1e-9);
    EXPECT_NEAR(turned(2, 22), 30, 1e-9);
    EXPECT_NEAR(turned(3, 34), 30, 1e-9);
    hands.choose("movesWhat", "sequence.space");
    hands.type("movesGap", "-5", false);
    hands.settle();
    hands.click("doMoves");
    EXPECT_NEAR(turned(2, 15), 30, 1e-9);
    // One follows the handle; its motion becomes keys, and it lets go.
    hands.session.run({{"op", "key.remove"}, {"parts", {slat(1)}}});
    hands.session.run({{"op", "follow.add"}, {"parts", {slat(1)}}, {"driver", "Handle"}, {"gain", 50}});
    const double at_30 = turned(1, 30);
    hands.clickRow(hands.named(slat(1)));
    hands.choose("movesWhat", "motion.keys");
    hands.click("movesFree");
    hands.settle();
    hands.click("doMoves");
    ASSERT_TRUE(hands.session.document().couplings.begin()->is_off())
        << hands.refusals.join(" ").toStdString();
    EXPECT_NEAR(turned(1, 30), at_30, 0.02);
}

/// A slat that answers to the handle by hand-set keys from then on.
TEST_F(Lanes, KeysBecomeAnAnswerToADriver) {
    for (const auto& [frame, deg] : {std::pair("0", "0 deg"), {"40", "50 deg"}}) {
        hands.clickRow(hands.named(slat(2)));
        hands.type("frameEntry", frame);
        hands.settle();
        hands.type("keyValue", deg);
        hands.click("panelSetKey");
    }
    hands.clickRow(hands.named(slat(2)));
    hands.choose("movesWhat", "keys.response");
    hands.clickRow(handle());
    hands.click("movesDriver");
    hands.clickRow(hands.named(slat(2)));
    hands.type("movesUntil", "40", false);
    hands.settle();
    hands.click("doMoves");
    ASSERT_EQ(hands.session.document().couplings.size(), 1u) << hands.refusals.join(" ").toStdString();
    hands.session.setFrame(40);
    EXPECT_NEAR(hands.session.valueOf({hands.named(slat(2)), ChannelKind::Turn}) * deg_per_rad, 50, 0.05);
    // That much further, for two at once.
    hands.pickRows({hands.named(slat(1)), hands.named(slat(3))});
    hands.choose("movesWhat", "sequence.add");
    hands.type("movesTo", "10 deg", false);
    hands.click("movesBy");
    hands.settle();
    hands.click("doMoves");
    EXPECT_NE(hands.session.clip().track({hands.named(slat(3)), ChannelKind::Turn}), nullptr);
}

/// Of a place clicked on the part it is that place's way.
TEST_F(Lanes, TheWayIsThatOfAClickedPlace) {
    hands.clickRow(handle());
    hands.click("seePath");
    for (int i = 0; i < 200 && !hands.session.seeing().course; ++i) QTest::qWait(10);
    ASSERT_TRUE(hands.session.seeing().course);
    const Vec3 pivot = hands.session.seeing().course->places.front();
    hands.click("seeClickPlace");
    Viewport& view = hands.window.view();
    const Part& part = *hands.session.document().parts.find(handle());
    const Mesh& mesh = *hands.session.document().shapes.find(part.shape)->mesh;
    const Frame world = hands.session.worldFromPart(handle()) * part.part_from_shape;
    // The corner that is nearest to the eye.
    Vec3 corner = world.point(mesh.positions.front().cast<double>());
    for (const Vec3f& p : mesh.positions) {
        const Vec3 at = world.point(p.cast<double>());
        if ((at - corner).dot(view.camera().back()) > 0) corner = at;
    }
    const Vec3 seen = view.camera().project(corner);
    QTest::mouseClick(&view, Qt::LeftButton, {}, QPointF(seen.x(), seen.y()).toPoint());
    hands.settle();
    for (int i = 0; i < 200 && hands.session.seeing().place.norm() == 0; ++i) QTest::qWait(10);
    ASSERT_GT(hands.session.seeing().place.norm(), 0);
    const PlaceCourse& way = *hands.session.seeing().course;
    const Vec3 shown = hands.session.worldFromPart(handle()).point(hands.session.seeing().place);
    hands.session.setFrame(way.frames.front());
    EXPECT_LT((hands.session.worldFromPart(handle()).point(hands.session.seeing().place) - way.places.front())
                  .norm(),
              1e-9);
    EXPECT_GT((way.places.front() - pivot).norm(), 1e-3) << "not that of the pivot";
    EXPECT_LT((shown - corner).norm(), 0.2) << "on the part, where it was clicked";
}

/// The way of the handle is seen over the clip; a key on it is dragged, and it goes through there.
TEST_F(Lanes, TheWayOfAPartIsSeenAndItsKeysAreDraggedInTheView) {
    hands.clickRow(handle());
    hands.click("seePath");
    for (int i = 0; i < 200 && !hands.session.seeing().course; ++i) QTest::qWait(10);
    ASSERT_TRUE(hands.session.seeing().course);
    hands.settle();
    const PlaceCourse& way = *hands.session.seeing().course;
    // Up by 400 mm, down by 300 mm, and it stays.
    EXPECT_NEAR(way.way_m(), 0.7, 1e-9);
    EXPECT_TRUE(hands.find<QLabel>("seeFacts")->text().contains("700"))
        << hands.find<QLabel>("seeFacts")->text().toStdString();
    Viewport& view = hands.window.view();
    const QPoint at = view.trail().placeOf(40).toPoint();
    const Vec3 before = way.places[40];
    hands.drag(&view, at, at + QPoint(0, 30));
    hands.settle();
    EXPECT_LT(key(40).value, 0.4 - 0.01) << hands.refusals.join(" ").toStdString();
    hands.session.setFrame(40);
    const Vec3 seen = view.camera().project(hands.session.worldFromPart(handle()).translation);
    EXPECT_NEAR(seen.y(), at.y() + 30, 6) << "where the pointer left it";
    EXPECT_LT(hands.session.worldFromPart(handle()).translation.z(), before.z());
    EXPECT_NEAR(key(0).value, 0, 1e-12);
    // Pale poses are drawn beside it.
    const QImage plain = test::fullPicture(view);
    hands.find<QSpinBox>("paleBefore")->setValue(2);
    hands.find<QSpinBox>("paleAfter")->setValue(2);
    hands.type("paleStep", "8");
    hands.settle();
    EXPECT_NE(test::fullPicture(view), plain);
    // Two parts' least clearance over the clip.
    hands.pickRows({handle(), hands.named(slat(1))});
    hands.click("seeClearance");
    auto* go = hands.find<QPushButton>("toNearest");
    for (int i = 0; i < 300 && !go->isEnabled(); ++i) QTest::qWait(10);
    ASSERT_TRUE(go->isEnabled()) << hands.find<QLabel>("seeGap")->text().toStdString();
    hands.session.setFrame(70);
    hands.click("toNearest");
    EXPECT_EQ(hands.session.frame(), 0) << "the handle is lowest there, beside the lowest slat";
}

/// What is driven says so, and leads to what can be keyed; what was keyed is said.
TEST_F(Lanes, WhatDrivesAChannelIsKeyedInstead) {
    hands.session.run({{"op", "follow.add"}, {"parts", {slat(1)}}, {"driver", "Handle"}, {"gain", 50}});
    hands.clickRow(hands.named(slat(1)));
    EXPECT_FALSE(hands.find("panelSetKey")->isEnabled());
    hands.click("pickDriver");
    hands.settle();
    EXPECT_EQ(hands.session.primary(), handle());
    hands.session.setFrame(13);
    hands.type("keyValue", "123 mm");
    hands.click("panelSetKey");
    EXPECT_TRUE(hands.told.join(" ").contains("keyed at frame 13: 123.0 mm"))
        << hands.told.join(" ").toStdString();
    // Onto whole steps of a value.
    hands.session.keyPicks().set({{shift, {13}}});
    hands.choose("keyEditWhat", "key.snap");
    hands.type("keyEditSteps", "50 mm", false);
    hands.settle();
    hands.click("doKeyEdit");
    EXPECT_NEAR(key(13).value, 0.1, 1e-12);
    // How fast it goes is drawn below its curve.
    const QImage before = sheet().grab().toImage();
    const QPointF at = sheet().placeOf(shift, 40);
    hands.click("curvesSpeeds");
    EXPECT_NE(sheet().grab().toImage(), before);
    EXPECT_LT(sheet().placeOf(shift, 0).y(), at.y() + sheet().height()) << "the curve makes room";
}

TEST_F(Lanes, KeysGoToTheOtherSide) {
    hands.session.run({{"op", "part.rename"}, {"part", slat(1)}, {"name", "Flap left"}});
    hands.session.run({{"op", "part.rename"}, {"part", slat(2)}, {"name", "Flap right"}});
    hands.session.run({{"op", "key.set"}, {"parts", {"Flap left"}}, {"frame", 5}, {"value", "20 deg"}});
    hands.clickRow(hands.named("Flap left"));
    hands.session.setFrame(9);
    hands.choose("keyEditWhat", "key.mirror");
    hands.settle();
    hands.click("doKeyEdit");
    const Track* right = hands.session.clip().track({hands.named("Flap right"), ChannelKind::Turn});
    ASSERT_NE(right, nullptr) << hands.refusals.join(" ").toStdString();
    ASSERT_EQ(right->keys.size(), 1u);
    EXPECT_EQ(right->keys.front().frame, 9);
    // About an axis across the machine both turn alike.
    EXPECT_NEAR(right->keys.front().value * deg_per_rad, 20, 1e-9);
}

/// By hand: keyed, made straight, looped, held in the middle, retimed; each value worked out beforehand.
TEST_F(Lanes, AClipIsMadeFromKeysToRetiming) {
    hands.clickRow(handle());
    hands.session.run({{"op", "key.remove"}, {"parts", {"Handle"}}, {"channel", "shift"}});
    hands.type("clipLast", "365");
    hands.settle();
    for (const auto& [frame, value] : {std::pair("0", "0 mm"), {"165", "330 mm"}, {"345", "0 mm"}}) {
        hands.clickRow(handle());
        hands.type("frameEntry", frame);
        hands.settle();
        hands.type("keyValue", value);
        hands.click("panelSetKey");
    }
    // Level at every key, then straight.
    for (const char* runs : {"runsFlat", "runsLinear"}) {
        for (const double frame : {0.0, 165.0, 345.0})
            QTest::mouseClick(&sheet(), Qt::LeftButton, frame > 0 ? Qt::ShiftModifier : Qt::NoModifier,
                              sheet().placeOf(shift, frame).toPoint());
        hands.settle();
        hands.click(runs);
        hands.settle();
    }
    hands.session.keyPicks().set({});
    // It stands for 20 frames in the middle of the way up: 80 frames from the start, at 160 mm.
    hands.session.setFrame(80);
    hands.choose("keyEditWhat", "key.hold");
    hands.type("keyEditFrames", "20", false);
    hands.click("keyEditSudden");
    hands.click("doKeyEdit");
    rest_ = world_from_rest(hands.session.document(), handle()).translation.z();
    for (const auto& [frame, mm] : {std::pair(0, 0.0),
                                    {40, 80.0},
                                    {80, 160.0},
                                    {90, 160.0},
                                    {100, 160.0},
                                    {185, 330.0},
                                    {275, 165.0},
                                    {365, 0.0}})
        EXPECT_NEAR(raised(frame) * 1000, mm, 1e-6) << frame << hands.refusals.join(" ").toStdString();
    // 365 in 37.
    hands.choose("keyEditWhat", "key.scale");
    hands.type("keyEditInto", "37", false);
    hands.click("doKeyEdit");
    hands.type("clipLast", "37");
    hands.settle();
    const double times = 37.0 / 365;
    for (const auto& [frame, mm] :
         {std::pair(0, 0.0), {40, 80.0}, {80, 160.0}, {90, 160.0}, {185, 330.0}, {275, 165.0}, {365, 0.0}})
        EXPECT_NEAR(raised(frame * times) * 1000, mm, 1e-6) << frame;
    // It closes: no jump is found where it begins again.
    for (const Finding& finding : hands.session.findings()) EXPECT_NE(finding.code, "keys.seam_jump");
}

}  // namespace
}  // namespace pivrak
