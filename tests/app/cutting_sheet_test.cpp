#include "app/gauges/cutting_sheet.h"

#include <gtest/gtest.h>

namespace pivrak {
namespace {

using Grip = CuttingSheet::Grip;

CuttingSheet sheet_across(int axis) {
    return {plane_across(axis, {0.2, 0.1, 0.3}), {0.2, 0.1, 0.3}, 1.0};
}

Camera camera() {
    Camera camera;
    camera.resize(800, 600);
    camera.azimuth = -0.9;
    camera.elevation = 0.4;
    camera.frame(Bounds{Vec3(-1, -1, -1), Vec3(1, 1, 1)});
    return camera;
}

TEST(ToolPlane, StandsSquareToItsAxisUntilItIsTilted) {
    for (int axis = 0; axis < 3; ++axis) {
        ToolPlane tool = plane_across(axis, {1, 2, 3});
        EXPECT_LT((tool.plane().normal - Vec3::Unit(axis)).norm(), 1e-12);
        EXPECT_NEAR(tool.offset(), axis + 1, 1e-12);
        // A tilt turns right-handed about the next axis of the world, a turn about the one after.
        const Vec3 next = Vec3::Unit((axis + 1) % 3), last = Vec3::Unit((axis + 2) % 3);
        tool.tilt_rad = 0.3;
        EXPECT_LT((tool.plane().normal - Eigen::AngleAxisd(0.3, next) * Vec3::Unit(axis)).norm(), 1e-12);
        tool.turn_rad = 0.7;
        EXPECT_LT((tool.plane().normal -
                   Eigen::AngleAxisd(0.7, last) * (Eigen::AngleAxisd(0.3, next) * Vec3::Unit(axis)))
                      .norm(),
                  1e-12);
        EXPECT_NEAR(tool.side(0).dot(tool.plane().normal), 0, 1e-12);
        EXPECT_NEAR(tool.side(1).dot(tool.plane().normal), 0, 1e-12);
    }
    const Vec3 slant = Vec3(1, 2, -2) / 3;
    EXPECT_LT((plane_along(slant, {0, 0, 0}).plane().normal - slant).norm(), 1e-12);
}

TEST(CuttingSheet, ItsMarksLieOnItsDialsWhereverItIsTilted) {
    for (const double tilt : {-1.0, 0.0, 0.4})
        for (const double turn : {-0.5, 0.0, 2.0}) {
            CuttingSheet sheet = sheet_across(1);
            sheet.tool.tilt_rad = tilt;
            sheet.tool.turn_rad = turn;
            const Protractor tilting = sheet.dial(Grip::Tilt);
            EXPECT_LT((tilting.place(tilt) - (sheet.middle + sheet.tool.side(1))).norm(), 1e-12);
            const Protractor turning = sheet.dial(Grip::Turn);
            EXPECT_LT((turning.place(turn) - (sheet.middle + sheet.tool.side(0))).norm(), 1e-12);
        }
}

TEST(SheetDrag, TheMarkFollowsThePointer) {
    const Camera eye = camera();
    for (const Grip grip : {Grip::Tilt, Grip::Turn}) {
        CuttingSheet sheet = sheet_across(0);
        const Vec2 from = *sheet.place(grip, eye);
        EXPECT_EQ(sheet.grip_at(eye, from + Vec2(3, 3)), grip);
        CuttingSheet wanted = sheet;
        (grip == Grip::Tilt ? wanted.tool.tilt_rad : wanted.tool.turn_rad) = 20 * rad_per_deg;
        SheetDrag drag(sheet, grip, eye, from, {});
        const ToolPlane plain = drag.move(eye, *wanted.place(grip, eye), false, false);
        const double angle = grip == Grip::Tilt ? plain.tilt_rad : plain.turn_rad;
        EXPECT_NEAR(angle * deg_per_rad, 20, 1e-9);
    }
    EXPECT_FALSE(sheet_across(0).grip_at(eye, {-500, -500}).has_value());
}

TEST(SheetDrag, AMoveSnapsStepsOrGoesFinely) {
    const Camera eye = camera();
    const CuttingSheet sheet = sheet_across(0);
    const Vec2 from = *sheet.place(Grip::Move, eye);
    const auto towards = [&](double way) {
        const Vec3 a = eye.project(sheet.tool.point), b = eye.project(sheet.tool.point + Vec3::UnitX());
        return Vec2(from + way * (b - a).head<2>());
    };
    const auto moved = [&](double way, bool coarse, bool fine) {
        SheetDrag drag(sheet, Grip::Move, eye, from, {0.25, -3});
        return drag.move(eye, towards(way), coarse, fine).point.x() - sheet.tool.point.x();
    };
    EXPECT_NEAR(moved(0.256, false, false), 0.25, 1e-12) << "near a corner it jumps there";
    EXPECT_NEAR(moved(0.6, false, false), 0.6, 1e-9) << "far from any it goes freely";
    EXPECT_NEAR(moved(0.2538, true, false), 0.25, 1e-12);
    EXPECT_NEAR(moved(0.2471, false, true), 0.02471, 1e-9);
}

}  // namespace
}  // namespace pivrak
