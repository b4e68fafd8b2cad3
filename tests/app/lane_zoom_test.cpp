// The lanes of the time strip closer and farther, by wheel and drag; keys are where the ruler says.
#include "app/timeline/shown_frames.h"
#include "tests/app/keyed_handle.h"

namespace pivrak {
namespace {

TEST(ShownFrames, ZoomKeepsTheFrameBelowThePointerAndPanStaysWithinReach) {
    ShownFrames shown;
    shown.setRange(0, 100);
    EXPECT_TRUE(shown.isWhole());
    shown.zoom(4, 20);
    EXPECT_NEAR(shown.from(), 15, 1e-12);
    EXPECT_NEAR(shown.to(), 40, 1e-12);
    EXPECT_NEAR((20 - shown.from()) / (shown.to() - shown.from()), 0.2, 1e-12);
    shown.pan(1000);
    EXPECT_NEAR(shown.to(), 200, 1e-12);
    EXPECT_NEAR(shown.to() - shown.from(), 25, 1e-12);
    shown.follow(50);
    EXPECT_LE(shown.from(), 50);
    EXPECT_GE(shown.to(), 50);
    for (int i = 0; i < 60; ++i) shown.zoom(2, 50);
    EXPECT_GE(shown.to() - shown.from(), 2 - 1e-9);
    for (int i = 0; i < 60; ++i) shown.zoom(0.5, 50);
    EXPECT_GE(shown.from(), -100);
    EXPECT_LE(shown.to(), 200);
    shown.showAll();
    EXPECT_TRUE(shown.isWhole());
    shown.setRange(10, 60);
    EXPECT_EQ(shown.from(), 10) << "whole stays whole";
}

struct LaneZoom : Curves {};

TEST_F(LaneZoom, IsByWheelAndDragAndADoubleClickShowsAll) {
    TimeLanes& lanes = *hands.find<TimeLanes>("timeLanes");
    const ChannelRef channel = shift;
    constexpr double key_frame = 40;
    hands.clickRow(handle());
    const double whole = lanes.ruler().pixels_per_frame();
    const auto wheel = [&](const QPointF& at, int notches, Qt::KeyboardModifiers modifiers) {
        QWheelEvent event(at, lanes.mapToGlobal(at), {}, {0, 120 * notches}, Qt::NoButton, modifiers,
                          Qt::NoScrollPhase, false);
        QApplication::sendEvent(&lanes, &event);
        hands.settle();
    };
    const QPointF at = lanes.placeOf(channel, key_frame);
    wheel(at, 6, Qt::ControlModifier);
    EXPECT_GT(lanes.ruler().pixels_per_frame(), 3 * whole);
    EXPECT_NEAR(lanes.placeOf(channel, key_frame).x(), at.x(), 1e-6) << "the key stays below the pointer";
    // It is clicked where it is seen.
    QTest::mouseClick(&lanes, Qt::LeftButton, {}, lanes.placeOf(channel, key_frame).toPoint());
    hands.settle();
    EXPECT_TRUE(hands.session.keyPicks().has(channel, key_frame));
    const double before = lanes.ruler().first_frame;
    hands.drag(&lanes, QPoint(500, 60), QPoint(440, 60), {}, Qt::MiddleButton);
    EXPECT_GT(lanes.ruler().first_frame, before);
    wheel(at, 1, Qt::ShiftModifier);
    // Stepping to where nothing is seen brings that into sight.
    hands.key(Qt::Key_Right, Qt::ControlModifier);
    EXPECT_LE(lanes.ruler().first_frame, hands.session.frame());
    EXPECT_GE(lanes.ruler().last_frame, hands.session.frame());
    QTest::mouseDClick(&lanes, Qt::LeftButton, {}, QPoint(500, 8));
    hands.settle();
    EXPECT_NEAR(lanes.ruler().pixels_per_frame(), whole, 1e-9);
    // Another project begins with all of its clip.
    wheel(QPointF(500, 60), 4, Qt::ControlModifier);
    hands.session.newProject();
    hands.settle();
    EXPECT_EQ(lanes.ruler().first_frame, hands.session.clip().first_frame);
    EXPECT_EQ(lanes.ruler().last_frame, hands.session.clip().last_frame);
}

}  // namespace
}  // namespace pivrak
