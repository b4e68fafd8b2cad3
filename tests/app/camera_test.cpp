#include "app/view/camera.h"

#include <gtest/gtest.h>

namespace pivrak {
namespace {

Camera camera(double azimuth, double elevation, bool perspective) {
    Camera c;
    c.azimuth = azimuth;
    c.elevation = elevation;
    c.perspective = perspective;
    c.resize(700, 420);
    return c;
}

TEST(Camera, TheMatrixAndTheProjectionAgree) {
    for (const bool perspective : {true, false})
        for (const double azimuth : {0.0, 1.1, -2.0})
            for (const double elevation : {0.0, 0.4, -0.3}) {
                const Camera c = camera(azimuth, elevation, perspective);
                for (const Vec3& p : {Vec3(0, 0, 0), Vec3(0.5, -0.7, 1.2), Vec3(-1, 0.3, 0.1)}) {
                    const Eigen::Vector4d clip = c.clip_from_world() * p.homogeneous();
                    const Vec3 seen = c.project(p);
                    EXPECT_NEAR((clip.x() / clip.w() + 1) / 2 * 700, seen.x(), 1e-8);
                    EXPECT_NEAR((1 - clip.y() / clip.w()) / 2 * 420, seen.y(), 1e-8);
                }
            }
}

TEST(Camera, AnswersThePlaceOnTheFloorUnderAPixelAndNoneAboveTheHorizon) {
    for (const bool perspective : {true, false}) {
        const Camera c = camera(0.7, 0.3, perspective);
        for (const Vec3& p : {Vec3(0, 0, 0), Vec3(0.5, -0.7, 0)}) {
            const auto floor = c.floor_at(c.project(p).head<2>());
            ASSERT_TRUE(floor);
            EXPECT_NEAR((*floor - p).norm(), 0, 1e-9);
        }
    }
    EXPECT_FALSE(camera(0.7, 0.05, true).floor_at({350, 2})) << "the sky";
    EXPECT_FALSE(camera(0.7, 0, false).floor_at({350, 100})) << "seen edge-on";
}

TEST(Camera, ARayGoesThroughWhatItsPixelShows) {
    for (const bool perspective : {true, false}) {
        const Camera c = camera(0.7, 0.3, perspective);
        for (const Vec3& p : {Vec3(0, 0, 0), Vec3(0.5, -0.7, 1.2)}) {
            const Ray ray = c.ray(c.project(p).head<2>());
            EXPECT_NEAR((p - ray.origin).cross(ray.direction).norm(), 0, 1e-9);
            EXPECT_GT((p - ray.origin).dot(ray.direction), 0);
        }
    }
}

TEST(Camera, SidesLieWhereIso8855PutsThem) {
    // X forward, Y left, Z up: from the front the model's left side is to the right of the picture.
    const Camera front = camera(0, 0, true);
    EXPECT_GT(front.project(Vec3(0, 1, 0.5)).x(), 350);
    EXPECT_LT(front.project(Vec3(0, 0, 1.5)).y(), 210);
    const Camera right = camera(-pi / 2, 0, true);
    EXPECT_GT(right.project(Vec3(1, 0, 0.5)).x(), 350) << "from the right side the front is to the right";
}

TEST(Camera, ZoomKeepsWhatIsUnderThePointer) {
    for (const bool perspective : {true, false}) {
        Camera c = camera(0.4, 0.5, perspective);
        const Vec2 pixel(520, 130);
        const auto under = [&] {
            const Ray r = c.ray(pixel);
            return Vec3(r.origin + r.direction * ((Vec3(0, 0, 0.5) - r.origin).dot(c.back()) /
                                                  r.direction.dot(c.back())));
        };
        const Vec3 before = under();
        c.zoom(0.5, pixel);
        EXPECT_LT((under() - before).norm(), 1e-9);
    }
}

TEST(Camera, FrameShowsAllCorners) {
    Bounds bounds;
    bounds.add(Vec3(-1, -4, 0));
    bounds.add(Vec3(3, 2, 7));
    for (const bool perspective : {true, false})
        for (const double azimuth : {0.0, 0.8, 3.0}) {
            Camera c = camera(azimuth, 0.4, perspective);
            c.frame(bounds);
            for (int i = 0; i < 8; ++i) {
                const Vec3 seen = c.project(Vec3(i & 1 ? 3 : -1, i & 2 ? 2 : -4, i & 4 ? 7 : 0));
                EXPECT_GT(seen.x(), 0);
                EXPECT_LT(seen.x(), 700);
                EXPECT_GT(seen.y(), 0);
                EXPECT_LT(seen.y(), 420);
            }
        }
    Camera untouched = camera(0, 0, true);
    const double distance = untouched.distance;
    untouched.frame(Bounds{});
    EXPECT_EQ(untouched.distance, distance);
}

TEST(Camera, PanMovesThePictureWithTheHand) {
    Camera c = camera(0.4, 0.5, true);
    const Vec3 p = c.target;
    const Vec3 before = c.project(p);
    c.pan(30, -12);
    const Vec3 after = c.project(p);
    EXPECT_NEAR(after.x() - before.x(), 30, 0.5);
    EXPECT_NEAR(after.y() - before.y(), -12, 0.5);
}

TEST(Camera, OrbitStopsShortOfThePole) {
    Camera c = camera(0, 0, true);
    c.orbit(0, 1e6);
    EXPECT_LT(c.elevation, pi / 2);
    EXPECT_TRUE(c.view_from_world().allFinite());
}

}  // namespace
}  // namespace pivrak
