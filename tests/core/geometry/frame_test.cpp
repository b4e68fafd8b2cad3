#include "core/geometry/frame.h"

#include <gtest/gtest.h>

#include "tests/support/shapes.h"

namespace pivrak {
namespace {

TEST(Frame, ComposesLikeMatrices) {
    for (const Frame& a : test::world_poses())
        for (const Frame& b : test::world_poses())
            EXPECT_TRUE((a * b).matrix().isApprox(a.matrix() * b.matrix(), 1e-13));
}

TEST(Frame, InverseUndoes) {
    for (const Frame& a : test::world_poses()) {
        const Vec3 p(0.3, -7, 2);
        EXPECT_LT((a.inverse().point(a.point(p)) - p).norm(), 1e-13);
        EXPECT_TRUE((a * a.inverse()).matrix().isIdentity(1e-13));
    }
}

TEST(Frame, AngleBetweenIsExactForSmallAndLargeTurns) {
    for (const double angle : {0.0, 1e-9, 1e-5, 0.3, 3.0, pi}) {
        SCOPED_TRACE(angle);
        const Quat turned = Quat(Eigen::AngleAxisd(angle, Vec3(1, -2, 0.5).normalized()));
        EXPECT_NEAR(angle_between(Quat(1, 0, 0, 0), turned), angle, 1e-14);
    }
}

TEST(Frame, AngleBetweenDoesNotMindTheSignOfAQuaternion) {
    const Quat a = Quat(Eigen::AngleAxisd(0.4, Vec3::UnitX()));
    const Quat b(-a.w(), -a.x(), -a.y(), -a.z());
    EXPECT_NEAR(angle_between(a, b), 0, 1e-15);
}

TEST(Frame, TurnAboutAxisTurnsTheNextAxisToTheOneAfter) {
    for (int axis = 0; axis < 3; ++axis) {
        const Vec3 next = turn_about_axis(axis, pi / 2) * Vec3::Unit((axis + 1) % 3);
        EXPECT_LT((next - Vec3::Unit((axis + 2) % 3)).norm(), 1e-15);
    }
}

TEST(Frame, AimedFrameAimsAndTurnsNoMoreThanItMust) {
    for (const Frame& start : test::world_poses())
        for (int axis = 0; axis < 3; ++axis) {
            const Vec3 direction = Vec3(0.2, -0.5, 0.9).normalized();
            const Frame aimed = aimed_frame(start, axis, direction, Vec3(1, 2, 3));
            EXPECT_LT((aimed.axis(axis) - direction).norm(), 1e-12);
            EXPECT_EQ(aimed.translation, Vec3(1, 2, 3));
            // The smallest turn between two directions is the angle between them.
            EXPECT_NEAR(angle_between(start.rotation, aimed.rotation),
                        std::acos(start.axis(axis).dot(direction)), 1e-12);
        }
}

TEST(Frame, AimedFrameDecidesTheExactlyOppositeDirection) {
    for (int axis = 0; axis < 3; ++axis) {
        const Frame aimed = aimed_frame(Frame{}, axis, -Vec3::Unit(axis), Vec3::Zero());
        EXPECT_LT((aimed.axis(axis) + Vec3::Unit(axis)).norm(), 1e-12);
        EXPECT_LT((aimed.axis((axis + 1) % 3) - Vec3::Unit((axis + 1) % 3)).norm(), 1e-12);
    }
}

TEST(Frame, AnyPerpendicularIsAUnitVectorAtARightAngle) {
    for (const Vec3& v : {Vec3(1, 0, 0), Vec3(0, 1, 0), Vec3(0, 0, 1), Vec3(1, 1, 1), Vec3(-3, 0.1, 2)}) {
        const Vec3 p = any_perpendicular(v.normalized());
        EXPECT_NEAR(p.norm(), 1, 1e-14);
        EXPECT_NEAR(p.dot(v), 0, 1e-14);
    }
}

}  // namespace
}  // namespace pivrak
