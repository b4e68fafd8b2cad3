#include "core/geometry/ground/ground_map.h"

#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>
#include <random>

#include "tests/support/shapes.h"

namespace pivrak {
namespace {

/// A square sheet whose height is a function of the place.
template <class Height>
Mesh sheet(double half, int cells, Height height) {
    Mesh mesh;
    for (int i = 0; i <= cells; ++i)
        for (int j = 0; j <= cells; ++j) {
            const double x = half * (2.0 * i / cells - 1), y = half * (2.0 * j / cells - 1);
            mesh.positions.push_back(Vec3(x, y, height(x, y)).cast<float>());
        }
    const auto row = static_cast<std::uint32_t>(cells + 1);
    for (std::uint32_t i = 0; i + 1 < row; ++i)
        for (std::uint32_t j = 0; j + 1 < row; ++j) {
            const std::uint32_t a = i * row + j, b = a + row;
            mesh.indices.insert(mesh.indices.end(), {a, b, b + 1, a, b + 1, a + 1});
        }
    return mesh;
}

TEST(GroundMap, HeightsAreThoseOfTheTriangles) {
    const GroundMap ground(sheet(4, 7, [](double x, double y) { return 0.3 * x - 0.2 * y + 1; }), Frame{});
    std::mt19937 random(1);
    std::uniform_real_distribution<double> place(-4, 4);
    for (int i = 0; i < 200; ++i) {
        const double x = place(random), y = place(random);
        ASSERT_TRUE(ground.height(x, y).has_value()) << x << " " << y;
        EXPECT_NEAR(*ground.height(x, y), 0.3 * x - 0.2 * y + 1, 1e-6);
    }
    EXPECT_FALSE(ground.height(4.1, 0).has_value());
    EXPECT_FALSE(ground.height(-1e12, 3e300).has_value());
}

// A wheel on a plane that rises by `a` ahead stands so that its middle is r / cos(a) above the plane.
TEST(GroundMap, AWheelOnASlopeStandsAsInClosedForm) {
    for (const double slope : {0.0, 0.2, -0.5}) {
        const GroundMap ground(sheet(5, 9, [&](double x, double) { return slope * x; }), Frame{});
        const GroundWheel wheel{{0.37, 0.2, 3}, {0, 1, 0}, 0.4, 0.13};
        const auto stand = ground.stand(wheel, {0, 0, 1});
        ASSERT_TRUE(stand.has_value());
        EXPECT_NEAR(3 + stand->lift_m, slope * 0.37 + 0.4 * std::sqrt(1 + slope * slope), 1e-6) << slope;
        EXPECT_NEAR(stand->normal.x(), -slope / std::sqrt(1 + slope * slope), 1e-6);
        EXPECT_NEAR(stand->place.z(),
                    slope * 0.37 + 0.4 * std::sqrt(1 + slope * slope) - 0.4 / std::sqrt(1 + slope * slope),
                    1e-6);
    }
}

TEST(GroundMap, AStepIsMetByTheRoundBeforeTheMiddleReachesIt) {
    // A kerb 0.1 high that begins 0.2 ahead of the hub: touched at (0.2, 0.1), by Pythagoras.
    const GroundMap kerb(test::box({0.2, -1, -1}, {2, 1, 0.1}), Frame{});
    const auto stand = kerb.stand({{0, 0, 0.4}, {0, 1, 0}, 0.4, 0.1}, {0, 0, 1});
    ASSERT_TRUE(stand.has_value());
    EXPECT_NEAR(0.4 + stand->lift_m, 0.1 + std::sqrt(0.4 * 0.4 - 0.2 * 0.2), 1e-6);
}

TEST(GroundMap, TheWidthOfTheTreadCounts) {
    // A post beside the middle of the tread lifts a wide wheel, and not a narrow one.
    const GroundMap post(
        test::joined(test::box({-3, -3, -1}, {3, 3, 0}), test::box({-0.01, 0.1, 0}, {0.01, 0.12, 0.2})),
        Frame{});
    const auto lift = [&](double half_width) {
        return post.stand({{0, 0, 0.4}, {0, 1, 0}, 0.4, half_width}, {0, 0, 1})->lift_m;
    };
    EXPECT_NEAR(lift(0.09), 0, 1e-6);
    EXPECT_NEAR(lift(0.11), 0.2, 2e-4);
}

// Against brute force: the round of the wheel asked at many points above a bumpy sheet.
TEST(GroundMap, StandsAsCloseAsManyRaysSay) {
    const Mesh mesh = sheet(
        3, 40, [](double x, double y) { return 0.15 * std::sin(3 * x) * std::cos(2.3 * y) + 0.05 * x; });
    const GroundMap ground(mesh, Frame{});
    std::mt19937 random(7);
    std::uniform_real_distribution<double> place(-1.5, 1.5), angle(0, 2 * pi);
    for (int i = 0; i < 40; ++i) {
        const double heading = angle(random);
        const Vec3 axle(-std::sin(heading), std::cos(heading), 0),
            forward(std::cos(heading), std::sin(heading), 0);
        const GroundWheel wheel{{place(random), place(random), 1}, axle, 0.45, 0.15};
        const auto stand = ground.stand(wheel, {0, 0, 1});
        ASSERT_TRUE(stand.has_value());
        double rays = -1e300;
        for (int u = -60; u <= 60; ++u)
            for (int v = -20; v <= 20; ++v) {
                const double across = 0.15 * v / 20, along = 0.45 * u / 60;
                const Vec3 at = wheel.hub + along * forward + across * axle;
                rays = std::max(rays, *ground.height(at.x(), at.y()) +
                                          std::sqrt(0.45 * 0.45 - along * along) - wheel.hub.z());
            }
        EXPECT_GE(stand->lift_m, rays - 1e-6);
        EXPECT_LE(stand->lift_m, rays + 2e-3);
    }
}

// Two ways to the same place: circles seen across the axle, and the closed forms of a wheel that may lean.
TEST(GroundMap, AnUprightWheelStandsAsOneThatMayLean) {
    Mesh mesh = sheet(3, 17, [](double x, double y) { return 0.2 * std::sin(3.1 * x) * std::cos(2.3 * y); });
    for (const double at : {-1.0, 0.3, 1.1})
        mesh = test::joined(mesh, test::box({at, -at, -1}, {at + 0.2, 0.35 - at, 0.15 + 0.1 * at}));
    const GroundMap ground(mesh, Frame{});
    std::mt19937 random(11);
    std::uniform_real_distribution<double> place(-2, 2), angle(0, 2 * pi), size(0.1, 0.6);
    for (int i = 0; i < 400; ++i) {
        const double heading = angle(random);
        const GroundWheel wheel{{place(random), place(random), 1},
                                Vec3(-std::sin(heading), std::cos(heading), 0),
                                size(random),
                                i % 5 == 0 ? 0 : 0.5 * size(random)};
        const auto upright = ground.stand(wheel, {0, 0, 1}), leaning = ground.stand_leaning(wheel);
        ASSERT_TRUE(upright && leaning);
        EXPECT_NEAR(upright->lift_m, leaning->lift_m, 1e-9) << i;
        const Vec3 out = upright->place - wheel.hub - upright->lift_m * Vec3::UnitZ();
        EXPECT_NEAR((out - out.dot(wheel.axle) * wheel.axle).norm(), wheel.radius_m, 1e-9) << i;
        EXPECT_LE(std::abs(out.dot(wheel.axle)), wheel.half_width_m + 1e-9) << i;
    }
}

TEST(GroundMap, AMovedGroundAndALeaningBodyAgree) {
    const Mesh flat = test::box({-5, -5, -1}, {5, 5, 0});
    const GroundWheel wheel{{0.3, -0.1, 1.0}, {0, 1, 0}, 0.4, 0.1};
    const GroundContact floor = stand_on_floor(wheel, {0, 0, 1}, 0);
    EXPECT_NEAR(GroundMap(flat, Frame{}).stand(wheel, {0, 0, 1})->lift_m, floor.lift_m, 1e-9);
    // Leaning, the lower edge of the tread touches.
    const double lean = 0.2;
    const Vec3 axle(0, std::cos(lean), std::sin(lean)), up(0, -std::sin(lean), std::cos(lean));
    const GroundWheel leaning{{0, 0, 1}, axle, 0.4, 0.1};
    const GroundContact on_floor = stand_on_floor(leaning, up, 0);
    EXPECT_NEAR(GroundMap(flat, Frame{}).stand(leaning, up)->lift_m, on_floor.lift_m, 1e-9);
    const double lowest = 1 - 0.4 * std::cos(lean) - 0.1 * std::sin(lean);
    EXPECT_NEAR(on_floor.lift_m, -lowest / std::cos(lean), 1e-12);
}

TEST(GroundMap, NoGroundBelowIsNoContact) {
    const GroundMap ground(test::box({0, 0, 0}, {1, 1, 1}), Frame{});
    EXPECT_FALSE(ground.stand({{5, 5, 2}, {0, 1, 0}, 0.4, 0.1}, {0, 0, 1}).has_value());
    EXPECT_FALSE(GroundMap(Mesh{}, Frame{}).stand({}, {0, 0, 1}).has_value());
}

/// Bumps with a kerb, a plate that hangs over and a hole beside them.
Mesh rough_ground(double cell, std::mt19937& random) {
    Mesh mesh;
    const int cells = static_cast<int>(8 / cell);
    std::uniform_real_distribution<double> bump(-0.03, 0.03);
    for (int i = 0; i <= cells; ++i)
        for (int j = 0; j <= cells; ++j) {
            const double x = -4 + cell * i, y = -4 + cell * j;
            mesh.positions.push_back(
                Vec3(x, y, 0.2 * std::sin(1.3 * x) * std::cos(0.9 * y) + bump(random)).cast<float>());
        }
    const auto row = static_cast<std::uint32_t>(cells + 1);
    for (std::uint32_t i = 0; i + 1 < row; ++i)
        for (std::uint32_t j = 0; j + 1 < row; ++j) {
            const std::uint32_t a = i * row + j, b = a + row;
            if (i % 7 == 3 && j % 5 == 2) continue;
            mesh.indices.insert(mesh.indices.end(), {a, b, b + 1, a, b + 1, a + 1});
        }
    mesh = test::joined(mesh, test::box({-1, -2, -1}, {-0.5, 2, 0.25}));
    return test::joined(mesh, test::box({1, -0.5, 0.9}, {1.6, 0.5, 1}));
}

// A level tread touches many triangles alike: which comes first must not matter.
TEST(GroundMap, TheOrderOfTheTrianglesDoesNotMatter) {
    std::mt19937 random(9);
    Mesh mesh = rough_ground(0.25, random);
    for (Vec3f& p : mesh.positions) p.z() = std::round(8 * p.z()) / 8;
    Mesh shuffled = mesh;
    std::vector<std::uint32_t> order(mesh.triangle_count());
    for (std::uint32_t i = 0; i < order.size(); ++i) order[i] = i;
    std::shuffle(order.begin(), order.end(), random);
    for (std::size_t i = 0; i < order.size(); ++i)
        for (std::size_t k = 0; k < 3; ++k) shuffled.indices[3 * i + k] = mesh.indices[3 * order[i] + k];
    const GroundMap one(mesh, Frame{}), other(shuffled, Frame{});
    std::uniform_real_distribution<double> place(-3, 3);
    for (int i = 0; i < 2000; ++i) {
        const GroundWheel wheel{{place(random), place(random), 1}, {0, 1, 0}, 0.35, 0.1};
        const auto a = one.stand(wheel, {0, 0, 1}), b = other.stand(wheel, {0, 0, 1});
        ASSERT_EQ(a.has_value(), b.has_value()) << i;
        if (!a) continue;
        EXPECT_EQ(a->lift_m, b->lift_m) << i;
        EXPECT_EQ(a->place, b->place) << i;
        EXPECT_EQ(a->normal, b->normal) << i;
    }
}

}  // namespace
}  // namespace pivrak
