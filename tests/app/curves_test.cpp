// Curves by mouse and keys: picked, dragged, bent, typed; many keys changed at once; clips.
#include <QComboBox>

#include "app/timeline/time_strip.h"
#include "tests/app/keyed_handle.h"

namespace pivrak {
namespace {

TEST_F(Curves, KeysArePickedDraggedAndTakenOut) {
    rest_ = world_from_rest(hands.session.document(), handle()).translation.z();
    ASSERT_EQ(track().keys.size(), 3u) << hands.refusals.join(" ").toStdString();
    ASSERT_EQ(sheet().channels(), std::vector{shift});
    pick(40);
    EXPECT_EQ(hands.find<QLineEdit>("curveFrame")->text(), "40");
    const QPointF at = sheet().placeOf(shift, 40);
    const double frame_px = (sheet().placeOf(shift, 80).x() - at.x()) / 40;
    drag(at, {10 * frame_px, 0}, Qt::ShiftModifier);
    EXPECT_NEAR(key(50).value, 0.4, 1e-12) << "time alone, whole frames";
    drag(sheet().placeOf(shift, 50), {0, 20});
    EXPECT_LT(key(50).value, 0.39);
    EXPECT_NEAR(raised(50), key(50).value, 1e-9) << "the part stands where its key says";
    typeField("curveValue", "350 mm");
    EXPECT_NEAR(key(50).value, 0.35, 1e-12);
    typeField("curveFrame", "44");
    EXPECT_NEAR(key(44).value, 0.35, 1e-12);
    EXPECT_TRUE(hands.session.keyPicks().frames().at(shift).contains(44)) << "it stays picked";
    QTest::keyClick(&sheet(), Qt::Key_Delete);
    hands.settle();
    EXPECT_EQ(track().keys.size(), 2u);
    EXPECT_TRUE(hands.session.document().parts.contains(shift.part())) << "the key went, no part";
    hands.key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_EQ(track().keys.size(), 3u);
}

TEST_F(Curves, TangentsAreChosenAndDragged) {
    rest_ = world_from_rest(hands.session.document(), handle()).translation.z();
    pick(40);
    for (const auto& [button, kind] : {std::pair("runsLinear", Interpolation::Linear),
                                       {"runsStepped", Interpolation::Stepped},
                                       {"runsFlat", Interpolation::Flat},
                                       {"runsSmooth", Interpolation::Smooth},
                                       {"runsOwn", Interpolation::Own}}) {
        hands.click(button);
        EXPECT_EQ(key(40).interpolation, kind) << button << hands.refusals.join(" ").toStdString();
    }
    const QPointF end = sheet().handleOf(shift, 40, true);
    ASSERT_FALSE(end.isNull());
    drag(end, {20, -30});
    EXPECT_GT(key(40).out->slope, 0.001) << "it leaves upwards";
    EXPECT_FALSE(key(40).in && std::abs(key(40).in->slope - key(40).out->slope) > 1e-9) << "joined";
    EXPECT_GT(raised(44), 0.4) << "the part overshoots as it is told";
    typeField("curveSlope", "0 mm");
    EXPECT_NEAR(key(40).out->slope, 0, 1e-12);
    typeField("curveWeight", "0.8");
    EXPECT_NEAR(key(40).out->weight, 0.8, 1e-12);
    EXPECT_LT((raised(40.001) - raised(40)) / 0.001, 1e-3);
}

TEST_F(Curves, ADoubleClickPutsAKeyInAndABoxPicksMany) {
    const QPointF from = sheet().placeOf(shift, 0), to = sheet().placeOf(shift, 40);
    // The smooth run goes through its middle.
    QTest::mouseDClick(&sheet(), Qt::LeftButton, {}, (0.5 * (from + to)).toPoint());
    hands.settle();
    ASSERT_EQ(track().keys.size(), 4u);
    EXPECT_NEAR(key(20).value, 0.2, 1e-9);
    const QRectF all = QRectF(sheet().rect()).adjusted(70, 10, -20, -30);
    drag(all.topLeft() + QPointF(1, 1), all.bottomRight() - all.topLeft());
    EXPECT_GE(hands.session.keyPicks().frames().at(shift).size(), 2u);
    hands.click("curvesOneScale");
    QWheelEvent wheel(QPointF(300, 60), sheet().mapToGlobal(QPointF(300, 60)), {}, {0, 360}, Qt::NoButton, {},
                      Qt::NoScrollPhase, false);
    const double wide = sheet().placeOf(shift, 40).x() - sheet().placeOf(shift, 20).x();
    QApplication::sendEvent(&sheet(), &wheel);
    EXPECT_GT(sheet().placeOf(shift, 40).x() - sheet().placeOf(shift, 20).x(), 1.2 * wide);
    hands.click("fitCurves");
    EXPECT_NEAR(sheet().placeOf(shift, 40).x() - sheet().placeOf(shift, 20).x(), wide, 1e-9);
    // The foot is scrubbed.
    QTest::mouseClick(&sheet(), Qt::LeftButton, {},
                      QPoint(static_cast<int>(sheet().placeOf(shift, 40).x()), sheet().height() - 8));
    EXPECT_NEAR(hands.session.frame(), 40, 1);
}

/// A line drawn round keys picks them; what is dragged catches on values and frames of other keys.
TEST_F(Curves, ALassoPicksWhatItGoesRoundAndKeysCatchOnOthers) {
    const QPointF mid = sheet().placeOf(shift, 40).toPoint();
    QTest::mousePress(&sheet(), Qt::LeftButton, Qt::AltModifier, (mid + QPointF(-30, 0)).toPoint());
    for (const QPointF by : {QPointF(0, -7), QPointF(30, 0), QPointF(0, 30), QPointF(-30, 2)}) {
        QMouseEvent move(QEvent::MouseMove, mid + by, sheet().mapToGlobal(mid + by), Qt::NoButton,
                         Qt::LeftButton, Qt::AltModifier);
        QApplication::sendEvent(&sheet(), &move);
    }
    QTest::mouseRelease(&sheet(), Qt::LeftButton, Qt::AltModifier, (mid + QPointF(-30, 1)).toPoint());
    hands.settle();
    EXPECT_EQ(hands.session.keyPicks().frames(), (KeyPicks::Frames{{shift, {40.0}}}));
    // Down to nearly nothing: it catches on the first key's value.
    const QPointF nearly(0, sheet().placeOf(shift, 0).y() - mid.y() - 4);
    drag(mid, nearly, Qt::ControlModifier);
    EXPECT_GT(key(40).value, 1e-3) << "free with Ctrl";
    hands.key(Qt::Key_Z, Qt::ControlModifier);
    drag(sheet().placeOf(shift, 40), nearly);
    EXPECT_EQ(key(40).value, 0);
    hands.key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_NEAR(key(40).value, 0.4, 1e-12);
    // Another part has a key between two frames: that is caught as well.
    for (const json& step :
         {json{{"op", "stand_in.add"}, {"kind", "box"}, {"name", "Lamp"}},
          json{{"op", "joint.set"}, {"parts", {"Lamp"}}, {"kind", "slide"}, {"axis", "z"}},
          json{
              {"op", "key.set"}, {"parts", {"Lamp"}}, {"channel", "shift"}, {"frame", 60.5}, {"value", 0.1}}})
        ASSERT_TRUE(hands.session.run(step)) << hands.refusals.join(" ").toStdString();
    hands.session.select({});
    hands.settle();
    ASSERT_EQ(sheet().channels().size(), 2u);
    const QPointF at = sheet().placeOf(shift, 40);
    const double frame_px = (sheet().placeOf(shift, 80).x() - at.x()) / 40;
    drag(at, {20.2 * frame_px, 0}, Qt::ShiftModifier);
    EXPECT_NEAR(key(60.5).value, 0.4, 1e-12);
}

/// Flattened, looped, held 20 frames in the middle, and a year of it in 37 frames: against values worked out
/// by hand.
TEST_F(Curves, ManyKeysAreChangedAtOnce) {
    rest_ = world_from_rest(hands.session.document(), handle()).translation.z();
    hands.clickRow(handle());
    hands.type("frameEntry", "40");
    QTest::keyClick(hands.find("frameEntry"), Qt::Key_Return);
    hands.choose("keyEditWhat", "key.hold");
    hands.type("keyEditFrames", "20");
    hands.click("keyEditSudden");
    hands.settle();
    hands.click("doKeyEdit");
    ASSERT_EQ(track().keys.size(), 4u) << hands.refusals.join(" ").toStdString();
    for (const double frame : {40.0, 47.5, 60.0}) EXPECT_NEAR(raised(frame), 0.4, 1e-9) << frame;
    EXPECT_NEAR(raised(100), 0.1, 1e-9);
    hands.choose("keyEditWhat", "cycle.close");
    hands.click("keyEditEven");
    hands.click("doKeyEdit");
    // Straight: 0 to 400 in 40 frames, held 20, back to 0 in 40; again and again.
    const auto by_hand = [](double frame) {
        const double in = std::fmod(frame, 100);
        return in < 40 ? 0.01 * in : in < 60 ? 0.4 : 0.4 - 0.01 * (in - 60);
    };
    for (const double frame : {0.0, 10.0, 39.0, 50.0, 75.0, 100.0, 110.0, 155.0})
        EXPECT_NEAR(raised(frame), by_hand(frame), 1e-9) << frame;
    hands.choose("keyEditWhat", "key.scale");
    hands.type("keyEditInto", "37");
    hands.click("doKeyEdit");
    for (const double frame : {0.0, 5.0, 14.8, 18.5, 30.0, 37.0, 50.0})
        EXPECT_NEAR(raised(frame), by_hand(frame * 100 / 37), 1e-9) << frame;
    hands.choose("keyEditWhat", "key.beyond");
    hands.choose("keyEditBefore", "hold");
    hands.choose("keyEditAfter", "swing");
    hands.click("doKeyEdit");
    EXPECT_EQ(track().after, Beyond::Swing);
    hands.choose("keyEditWhat", "key.copy");
    hands.type("frameEntry", "74");
    QTest::keyClick(hands.find("frameEntry"), Qt::Key_Return);
    hands.type("keyEditCount", "2");
    hands.click("keyEditAddUp");
    hands.click("doKeyEdit");
    EXPECT_NEAR(track().keys.back().frame, 74 + 2 * 37, 1e-9);
    hands.choose("keyEditWhat", "key.scale");
    QTest::keyClick(hands.find("keyEditInto"), Qt::Key_A, Qt::ControlModifier);
    QTest::keyClick(hands.find("keyEditInto"), Qt::Key_Delete);
    hands.type("keyEditTimes", "2");
    hands.click("keyEditWhole");
    hands.click("doKeyEdit");
    for (const Key& one : track().keys) EXPECT_EQ(one.frame, std::round(one.frame));
    const Track before = track();
    hands.choose("keyEditWhat", "key.reverse");
    hands.click("doKeyEdit");
    EXPECT_NEAR(track().keys.back().value, before.keys.front().value, 1e-9);
}

/// The same keys on the time strip: picked, dragged, with what follows, boxed and taken out.
TEST_F(Curves, LanesAreEditedOnTheTimeStrip) {
    auto& lanes = *hands.find<TimeLanes>("timeLanes");
    const auto drag_lane = [&](const QPointF& from, const QPointF& to, Qt::KeyboardModifiers keys = {}) {
        QTest::mousePress(&lanes, Qt::LeftButton, keys, from.toPoint());
        for (const double share : {0.5, 1.0}) {
            const QPointF at = from + share * (to - from);
            QMouseEvent move(QEvent::MouseMove, at, lanes.mapToGlobal(at), Qt::NoButton, Qt::LeftButton,
                             keys);
            QApplication::sendEvent(&lanes, &move);
        }
        QTest::mouseRelease(&lanes, Qt::LeftButton, keys, to.toPoint());
        hands.settle();
    };
    QTest::mouseClick(&lanes, Qt::LeftButton, {}, lanes.placeOf(shift, 40).toPoint());
    hands.settle();
    EXPECT_EQ(hands.session.frame(), 40) << "a click goes there";
    EXPECT_TRUE(hands.session.keyPicks().has(shift, 40));
    EXPECT_EQ(hands.find<QLineEdit>("curveFrame")->text(), "40") << "picked in the curves too";
    const double frame_px = lanes.ruler().pixels_per_frame();
    drag_lane(lanes.placeOf(shift, 40), lanes.placeOf(shift, 40) + QPointF(6 * frame_px, 0));
    EXPECT_NEAR(key(46).value, 0.4, 1e-12);
    EXPECT_NEAR(track().keys.back().frame, 80, 1e-12);
    drag_lane(lanes.placeOf(shift, 46), lanes.placeOf(shift, 46) + QPointF(10 * frame_px, 0),
              Qt::ControlModifier);
    EXPECT_NEAR(track().keys.back().frame, 90, 1e-12) << "what follows comes along";
    // Elsewhere the mouse scrubs, and lets go of what was picked.
    QTest::mouseClick(&lanes, Qt::LeftButton, {}, lanes.placeOf(shift, 20).toPoint());
    EXPECT_EQ(hands.session.frame(), 20);
    EXPECT_TRUE(hands.session.keyPicks().empty());
    drag_lane(lanes.placeOf(shift, 50) - QPointF(0, 9), lanes.placeOf(shift, 95) + QPointF(0, 9),
              Qt::ShiftModifier);
    EXPECT_EQ(hands.session.keyPicks().frames().at(shift).size(), 2u);
    hands.choose("keyEditWhat", "key.scale");
    hands.type("keyEditTimes", "0.5");
    hands.click("doKeyEdit");
    EXPECT_NEAR(track().keys.back().frame, 73, 1e-12) << "of the picked ones alone: 56 and 90 about 56";
    QTest::mouseClick(&lanes, Qt::LeftButton, {}, lanes.placeOf(shift, 73).toPoint());
    QTest::keyClick(&lanes, Qt::Key_Delete);
    hands.settle();
    EXPECT_EQ(track().keys.size(), 2u);
    EXPECT_EQ(hands.session.document().parts.size(), 2u) << "a key went, no part";
}

/// What follows is drawn with who drives it; its run cannot be taken hold of.
/// What is kept of it from frame to frame is what would be painted anew, but for the line of the frame.
TEST_F(Curves, FramesMoveTheLineAloneAndEditsAreSeen) {
    CurveSheet& its = sheet();
    hands.session.setFrame(10);
    const QImage at_10 = its.grab().toImage();
    hands.session.setFrame(60);
    const QImage at_60 = its.grab().toImage();
    int first = at_10.width(), last = 0;
    for (int x = 0; x < at_10.width(); ++x)
        for (int y = 0; y < at_10.height(); ++y)
            if (at_10.pixel(x, y) != at_60.pixel(x, y)) first = std::min(first, x), last = std::max(last, x);
    EXPECT_LT(first, last);
    hands.session.setFrame(10);
    EXPECT_EQ(its.grab().toImage(), at_10);
    const auto edited = [&](const json& step) {
        const QImage before = its.grab().toImage();
        EXPECT_TRUE(hands.session.run(step));
        EXPECT_NE(its.grab().toImage(), before) << step.dump();
    };
    const ChannelRef shown = its.channels().front();
    edited({{"op", "key.set"},
            {"parts", {shown.owner.value}},
            {"channel", "shift"},
            {"frame", 33},
            {"value", 0.777}});
    edited({{"op", "clip.set"}, {"last_frame", 200}});
}

TEST_F(Curves, DrivenChannelsAreShownBesideTheirDriver) {
    hands.session.run({{"op", "follow.add"}, {"parts", {slat(1)}}, {"driver", "Handle"}, {"gain", 50}});
    hands.pickRows({hands.named(slat(1)), handle()});
    hands.settle();
    EXPECT_EQ(sheet().channels(), std::vector{shift});
    ASSERT_EQ(sheet().driven().size(), 1u);
    EXPECT_EQ(sheet().driven().front().by, "Handle");
    for (const auto& [frame, value] : sheet().driven().front().samples)
        if (frame == 40 || frame == 80) EXPECT_NEAR(value * deg_per_rad, frame == 40 ? 20 : 5, 1e-9);
    hands.clickRow(hands.named(slat(1)));
    EXPECT_TRUE(sheet().channels().empty());
    EXPECT_EQ(sheet().driven().size(), 1u) << "alone too";
}

/// Backwards, and every frame one after the other however slow the picture is.
TEST_F(Curves, PlaysBackwardsAndEveryFrame) {
    std::vector<double> shown;
    hands.session.setFrame(60);
    hands.settle();
    const double length = hands.session.clip().last_frame - hands.session.clip().first_frame;
    QObject::connect(&hands.session, &Session::poseChanged, &hands.window, [&] {
        if (shown.empty() || shown.back() != hands.session.frame()) shown.push_back(hands.session.frame());
    });
    const auto play = [&] {
        shown.clear();
        hands.click("play");
        for (int i = 0; i < 400 && shown.size() < 5; ++i) QTest::qWait(20);
        hands.click("play");
        ASSERT_GE(shown.size(), 5u);
    };
    auto* pace = hands.find<QComboBox>("playPace");
    pace->setCurrentIndex(3);
    play();
    for (std::size_t i = 1; i < shown.size(); ++i)
        EXPECT_LT(std::fmod(shown[i - 1] - shown[i] + length, length), length / 2)
            << shown[i - 1] << " then " << shown[i];
    hands.session.setFrame(0);
    pace->setCurrentIndex(4);
    play();
    for (std::size_t i = 1; i < shown.size(); ++i)
        EXPECT_EQ(shown[i], std::fmod(shown[i - 1] + 1, length)) << "none is left out";
    pace->setCurrentIndex(0);
}

TEST_F(Curves, ClipsAreMadeCopiedAndRemovedByHand) {
    hands.type("clipName", "pass", false);
    hands.click("copyClip");
    ASSERT_EQ(hands.session.document().clips.size(), 2u) << hands.refusals.join(" ").toStdString();
    EXPECT_EQ(hands.session.clip().name, "pass");
    EXPECT_EQ(hands.session.clip().tracks.size(), 1u);
    hands.type("clipName", "empty", false);
    hands.click("newClip");
    EXPECT_TRUE(hands.session.clip().tracks.empty());
    hands.click("removeClip");
    EXPECT_EQ(hands.session.document().clips.size(), 2u);
    EXPECT_FALSE(hands.session.clip().tracks.empty());
}

}  // namespace
}  // namespace pivrak
