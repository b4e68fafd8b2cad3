#include "app/gauges/protractor.h"

#include <gtest/gtest.h>

#include "app/timeline/player.h"
#include "app/timeline/ruler.h"
#include "tests/support/camera.h"

namespace pivrak {
namespace {

using test::view;

Protractor dial(const Vec3& axis, const Vec3& zero) {
    Protractor d;
    d.centre = Vec3(0.1, 0.2, 0.5);
    d.axis = axis;
    d.zero = zero;
    d.radius_m = 0.4;
    return d;
}

TEST(Protractor, ReadsTheAngleOfAPlaceOnItFromAnySide) {
    for (const double azimuth : {0.3, 2.0, -1.2})
        for (const double elevation : {0.2, 0.9, -0.4}) {
            const Protractor d = dial(Vec3(0, 0.6, 0.8), Vec3(1, 0, 0));
            const Camera c = view(azimuth, elevation);
            for (double angle = -3; angle < 3; angle += 0.37)
                EXPECT_NEAR(d.angle_at(c, c.project(d.place(angle)).head<2>()), angle, 1e-9);
        }
}

TEST(Protractor, SeenEdgeOnItStillReads) {
    // Looked at along its plane the dial is a rule: half a turn to each side of its middle, along its width.
    Protractor d = dial(Vec3::UnitZ(), Vec3::UnitX());
    Camera c = view(0, 0);
    c.perspective = false;
    ASSERT_TRUE(d.is_edge_on(c));
    const Vec2 middle = c.project(d.centre).head<2>(), end = c.project(d.centre + Vec3(0, 0.4, 0)).head<2>();
    for (const double angle : {-3.0, -1.2, -0.4, 0.0, 0.6, 1.3, 3.0}) {
        d.turn_rad = angle;
        EXPECT_LT((d.knob(c) - (middle + angle / pi * (end - middle))).norm(), 1e-9);
        EXPECT_NEAR(d.angle_at(c, d.knob(c)), angle, 1e-9);
    }
    d.turn_rad = 2 * pi + 0.3;
    EXPECT_NEAR(d.angle_at(c, d.knob(c)), 0.3, 1e-9) << "further turns begin again";
}

TEST(Protractor, TheKnobIsWhereTheNeedlePoints) {
    Protractor d = dial(Vec3::UnitZ(), Vec3::UnitX());
    d.turn_rad = 0.8;
    const Camera c = view(0.5, 0.8);
    EXPECT_TRUE(d.is_on_knob(c, c.project(d.place(0.8)).head<2>()));
    EXPECT_FALSE(d.is_on_knob(c, c.project(d.place(2.0)).head<2>()));
}

TEST(TurnDrag, CountsFullTurnsWhereTheDialCloses) {
    TurnDrag drag(0, 0);
    double turn = 0;
    for (double angle = 0; angle < 6 * pi; angle += 0.2)
        turn = drag.move(std::remainder(angle, 2 * pi), false, false, {});
    EXPECT_NEAR(turn, 6 * pi, 0.21);
}

TEST(TurnDrag, CoarseStepsFineAndLimits) {
    TurnDrag drag(0, 0);
    EXPECT_NEAR(drag.move(0.5, true, false, {}), 30 * rad_per_deg, 1e-12) << "28.6 degrees, in steps of 5";
    TurnDrag fine(0, 0);
    EXPECT_NEAR(fine.move(0.5, false, true, {}), 0.05, 1e-12);
    TurnDrag limited(0, 0);
    EXPECT_EQ(limited.move(2.0, false, false, Limits{-1, 0.7}), 0.7);
    EXPECT_NEAR(limited.move(0.5, false, false, Limits{-1, 0.7}), 0.5, 1e-12)
        << "and comes off the limit with the hand";
}

TEST(Ruler, FramesToPixelsAndBack) {
    const Ruler r{0, 120, 190, 1250};
    EXPECT_DOUBLE_EQ(r.x_at(0), 190);
    EXPECT_DOUBLE_EQ(r.x_at(120), 1250);
    for (double f = -10; f < 200; f += 7) EXPECT_NEAR(r.frame_at(r.x_at(f)), f, 1e-10);
}

TEST(Ruler, LabelsNeverCrowd) {
    for (const double frames : {3.0, 24.0, 120.0, 1000.0, 1e6}) {
        const Ruler r{0, frames, 0, 1000};
        const double step = r.label_step(46);
        EXPECT_GE(step * r.pixels_per_frame(), 46);
        EXPECT_GE(step, 1);
    }
}

TEST(Player, FramesFollowTheClockNotThePicture) {
    Clip clip;
    clip.first_frame = 1;
    clip.last_frame = 13;
    EXPECT_EQ(Player::frameAfter(clip, 1, 0, 24), 1);
    EXPECT_EQ(Player::frameAfter(clip, 1, 0.25, 24), 7);
    EXPECT_EQ(Player::frameAfter(clip, 1, 0.5, 24), 1) << "the last frame is the first again";
    EXPECT_EQ(Player::frameAfter(clip, 5, 0.25, 24), 11);
    EXPECT_EQ(Player::frameAfter(clip, 1, 10.0, 25), 1 + 250 % 12);
    EXPECT_EQ(Player::frameAfter(clip, 3, -0.125, 24), 12) << "backwards over the seam";
    clip.loop = false;
    EXPECT_EQ(Player::frameAfter(clip, 1, 10, 24), 13);
    EXPECT_EQ(Player::frameAfter(clip, 5, -10, 24), 1);
}

}  // namespace
}  // namespace pivrak
