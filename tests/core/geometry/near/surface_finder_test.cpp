#include "core/geometry/near/surface_finder.h"

#include <gtest/gtest.h>

#include <array>
#include <random>

#include "tests/support/shapes.h"

namespace pivrak {
namespace {

/// Against a search over many points of the triangle, which is another way to the same answer.
TEST(NearestOnTriangle, IsNoFartherThanAnyPointOfIt) {
    std::mt19937 random(7);
    std::uniform_real_distribution<double> from(-1, 1);
    const auto place = [&] { return Vec3(from(random), from(random), from(random)); };
    for (int round = 0; round < 200; ++round) {
        const Vec3 a = place(), b = place(), c = place(), p = 2 * place();
        const Vec3 on = nearest_on_triangle(p, a, b, c);
        double least = 1e9;
        constexpr int steps = 60;
        for (int i = 0; i <= steps; ++i)
            for (int j = 0; i + j <= steps; ++j)
                least = std::min(least, (a + (b - a) * i / steps + (c - a) * j / steps - p).norm());
        EXPECT_LE((on - p).norm(), least + 1e-12);
        EXPECT_GE((on - p).norm(), least - 0.06) << "it lies on the triangle";
    }
}

TEST(NearestOnTriangle, ATriangleWithoutAreaIsItsEdges) {
    const Vec3 a(0, 0, 0), b(1, 0, 0), c(3, 0, 0);
    EXPECT_LT((nearest_on_triangle({2, 1, 0}, a, b, c) - Vec3(2, 0, 0)).norm(), 1e-12);
    EXPECT_LT((nearest_on_triangle({-2, 1, 0}, a, b, c) - a).norm(), 1e-12);
    EXPECT_TRUE(nearest_on_triangle({2, 1, 0}, a, a, a) == a);
}

TEST(SurfaceFinder, FindsTheNearerOfTwoBoxes) {
    const Mesh left = test::box({-3, 0, 0}, {-1, 1, 1}), right = test::box({1, 0, 0}, {3, 1, 1}), none;
    const std::array<const Mesh*, 3> meshes{&left, &none, &right};
    const SurfaceFinder finder(meshes);
    const auto on = finder.nearest({0.2, 0.5, 0.5});
    ASSERT_TRUE(on.has_value());
    EXPECT_EQ(on->mesh, 2u);
    EXPECT_NEAR(on->distance, 0.8, 1e-12);
    EXPECT_LT((on->place - Vec3(1, 0.5, 0.5)).norm(), 1e-12);
    EXPECT_EQ(finder.nearest({0, 0.5, 0.5})->mesh, 0u) << "the first of two equally near";
    EXPECT_FALSE(finder.nearest({0.2, 0.5, 0.5}, 0.7).has_value()) << "out of reach";
    EXPECT_TRUE(finder.nearest({0.2, 0.5, 0.5}, 0.8).has_value()) << "the reach itself counts";
    EXPECT_FALSE(SurfaceFinder({}).nearest({0, 0, 0}).has_value());
}

/// Against every triangle asked in turn.
TEST(SurfaceFinder, AgreesWithAskingEveryTriangle) {
    const Mesh mesh = test::to_mesh(gear({31, 4, 20, 9, 30, 4, 8, 5, 9}));
    const std::array<const Mesh*, 1> meshes{&mesh};
    const SurfaceFinder finder(meshes);
    std::mt19937 random(3);
    std::uniform_real_distribution<double> from(-0.1, 0.1);
    for (int round = 0; round < 100; ++round) {
        const Vec3 p(from(random), from(random), from(random));
        double least = 1e9;
        for (std::size_t t = 0; t < mesh.triangle_count(); ++t)
            least = std::min(
                least,
                (nearest_on_triangle(p, mesh.corner(t, 0), mesh.corner(t, 1), mesh.corner(t, 2)) - p).norm());
        EXPECT_NEAR(finder.nearest(p)->distance, least, 1e-12);
    }
}

}  // namespace
}  // namespace pivrak
