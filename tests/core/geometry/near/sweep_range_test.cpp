#include "core/geometry/near/sweep_range.h"

#include <gtest/gtest.h>

#include <random>

#include "core/geometry/frame.h"

namespace pivrak {
namespace {

Vec3 random_point(std::mt19937& random, double size) {
    std::uniform_real_distribution<double> share(-size, size);
    return {share(random), share(random), share(random)};
}

Triangle random_triangle(std::mt19937& random) {
    const Vec3 middle = random_point(random, 1);
    const double size = std::uniform_real_distribution<double>(0.01, 1)(random);
    return {middle + random_point(random, size), middle + random_point(random, size),
            middle + random_point(random, size)};
}

Vec3 random_inside(std::mt19937& random, const Triangle& t) {
    std::uniform_real_distribution<double> share(0, 1);
    double u = share(random), v = share(random);
    if (u + v > 1) u = 1 - u, v = 1 - v;
    return t[0] + u * (t[1] - t[0]) + v * (t[2] - t[0]);
}

bool holds(const SweepRange& r, const Vec3& p) {
    const double radius = p.head<2>().norm(), on = std::atan2(p.y(), p.x()) - r.angle;
    const double counted = on - 2 * pi * std::floor(on / (2 * pi));
    return radius >= r.r_min - 1e-12 && radius <= r.r_max + 1e-12 && p.z() >= r.z_min && p.z() <= r.z_max &&
           (counted <= r.arc + 1e-9 || counted >= 2 * pi - 1e-9);
}

TEST(SweepRange, HoldsEveryPointOfATriangleAndOfTwo) {
    std::mt19937 random(5);
    for (int i = 0; i < 400; ++i) {
        const Triangle a = random_triangle(random), b = random_triangle(random);
        const SweepRange ra = SweepRange::of(a), rb = SweepRange::of(b), both = ra.with(rb);
        EXPECT_LE(both.arc, 2 * pi);
        for (int k = 0; k < 30; ++k) {
            const Vec3 p = random_inside(random, a), q = random_inside(random, b);
            ASSERT_TRUE(holds(ra, p)) << i;
            ASSERT_TRUE(holds(both, p) && holds(both, q)) << i;
        }
    }
}

TEST(SweepRange, NothingMeetsBeforeItsFreeTurnIsOver) {
    std::mt19937 random(6);
    int free_ones = 0;
    for (int i = 0; i < 300; ++i) {
        const Triangle a = random_triangle(random), b = random_triangle(random);
        const SweepRange ra = SweepRange::of(a), rb = SweepRange::of(b);
        const double turn = std::uniform_real_distribution<double>(-7, 7)(random);
        for (const double way : {1.0, -1.0}) {
            const double free = ra.is_always_clear_of(rb) ? 2 * pi : ra.free_turn(rb, turn, way);
            free_ones += free > 0.1;
            for (double on = 0; on < free * 0.999; on += 0.05) {
                const Quat turned = turn_about_axis(2, turn + way * on);
                ASSERT_GT(triangle_gap({turned * a[0], turned * a[1], turned * a[2]}, b).distance, 0)
                    << i << " after " << on << " of " << free;
            }
        }
    }
    EXPECT_GT(free_ones, 100) << "and much is free";
}

TEST(SweepRange, APinInItsSleeveIsAlwaysClear) {
    const Triangle pin{Vec3(8, 0, 0), Vec3(7.9, 1, 0), Vec3(8, 0, 10)},
        bore{Vec3(8.5, 0, 0), Vec3(8.4, 1, 0), Vec3(8.5, 0, 10)};
    EXPECT_TRUE(SweepRange::of(pin).is_always_clear_of(SweepRange::of(bore)));
    EXPECT_FALSE(SweepRange::of(pin).is_always_clear_of(SweepRange::of(pin)));
}

}  // namespace
}  // namespace pivrak
