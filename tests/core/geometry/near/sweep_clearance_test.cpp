#include "core/geometry/near/sweep_clearance.h"

#include <gtest/gtest.h>

#include <algorithm>
#include <random>
#include <thread>

#include "core/geometry/near/clearance.h"
#include "core/geometry/near/triangle_distance.h"
#include "tests/support/shapes.h"

namespace pivrak {
namespace {

/// Against a grid of points over both triangles, which is another way to nearly the same answer.
TEST(TriangleGap, IsNoMoreThanBetweenAnyTwoPoints) {
    std::mt19937 random(23);
    std::uniform_real_distribution<double> from(-1, 1);
    const auto place = [&] { return Vec3(from(random), from(random), from(random)); };
    for (int round = 0; round < 60; ++round) {
        const Triangle a{place(), place(), place()},
            b{place() + Vec3(1, 0, 0), place() + Vec3(1, 0, 0), place() + Vec3(1, 0, 0)};
        const TriangleGap gap = triangle_gap(a, b);
        double least = 1e9;
        constexpr int n = 16;
        const auto on = [&](const Triangle& t, int i, int j) {
            return Vec3(t[0] + (t[1] - t[0]) * i / n + (t[2] - t[0]) * j / n);
        };
        for (int i = 0; i <= n; ++i)
            for (int j = 0; i + j <= n; ++j)
                for (int k = 0; k <= n; ++k)
                    for (int l = 0; k + l <= n; ++l)
                        least = std::min(least, (on(a, i, j) - on(b, k, l)).norm());
        EXPECT_LE(gap.distance, least + 1e-12);
        // No point lies further from the grid than its cell's longest side from a corner, on both triangles.
        const auto longest = [](const Triangle& t) {
            return std::max({(t[1] - t[0]).norm(), (t[2] - t[1]).norm(), (t[0] - t[2]).norm()});
        };
        EXPECT_GE(gap.distance, least - 0.6 * (longest(a) + longest(b)) / n);
        EXPECT_NEAR((gap.on_first - gap.on_second).norm(), gap.distance, 1e-12);
    }
}

TEST(TriangleGap, NamedCases) {
    const Triangle flat{Vec3(0, 0, 0), Vec3(2, 0, 0), Vec3(0, 2, 0)};
    struct Case {
        const char* name;
        Triangle other;
        double distance;
    };
    for (const Case& c :
         {Case{"above", {Vec3(0.2, 0.2, 0.5), Vec3(3, 0, 2), Vec3(0, 3, 2)}, 0.5},
          Case{"through", {Vec3(0.3, 0.3, -1), Vec3(0.3, 0.3, 1), Vec3(0.4, 0.3, 1)}, 0},
          Case{"edges", {Vec3(1, -0.3, -1), Vec3(1, -0.3, 1), Vec3(1, -2, 0)}, 0.3},
          Case{"same plane", {Vec3(3, 0, 0), Vec3(4, 0, 0), Vec3(3, 1, 0)}, 1},
          Case{"a point", {Vec3(0.5, 0.5, 0.7), Vec3(0.5, 0.5, 0.7), Vec3(0.5, 0.5, 0.7)}, 0.7},
          Case{"corner on face", {Vec3(0.5, 0.5, 0), Vec3(0, 0, 1), Vec3(1, 1, 1)}, 0}}) {
        SCOPED_TRACE(c.name);
        EXPECT_NEAR(triangle_gap(flat, c.other).distance, c.distance, 1e-12);
        EXPECT_NEAR(triangle_gap(c.other, flat).distance, c.distance, 1e-12);
    }
}

/// Source: FCL on the same meshes, asked anew at each value, in an order that helps nothing.
TEST(SweepClearance, GivesWhatASearchFromScratchGives) {
    const auto wheel_mesh = std::make_shared<const Mesh>(test::to_mesh(gear({31, 4, 20, 9, 30, 4, 8, 5, 9})));
    Mesh far = test::to_mesh(wheel({300, 200, 180, 30, 24, 15, 5}));
    const auto other = std::make_shared<const Mesh>(far);
    const Frame place{turn_about_axis(1, 0.3), Vec3(0.38, 0.02, 0.01)},
        arm{turn_about_axis(0, 0.2), Vec3(0.1, 0, 0.02)};
    const ClearanceBody a(*wheel_mesh), b(*other);
    for (const SweepKind kind : {SweepKind::Turn, SweepKind::Shift}) {
        SweepClearance pair(std::make_shared<SweepTree>(SweepBody{{{wheel_mesh, arm}}}, kind),
                            std::make_shared<SweepTree>(SweepBody{{{other, place}}}, kind));
        std::mt19937 random(2);
        std::uniform_real_distribution<double> any(kind == SweepKind::Turn ? -pi : -0.3,
                                                   kind == SweepKind::Turn ? pi : 0.3);
        for (int i = 0; i < 40; ++i) {
            const double value = any(random);
            const Frame motion = kind == SweepKind::Turn ? Frame{turn_about_axis(2, value), Vec3(0, 0, 0)}
                                                         : Frame{Quat(1, 0, 0, 0), Vec3(0, 0, value)};
            EXPECT_NEAR(pair.at(value).distance_m, a.distance(motion * arm, b, place), 1e-6) << value;
        }
    }
}

TEST(SweepClearance, WithoutTrianglesThereIsNoContact) {
    const auto none = std::make_shared<const Mesh>();
    const auto box = std::make_shared<const Mesh>(test::box({0, 0, 0}, {1, 1, 1}));
    SweepClearance pair(std::make_shared<SweepTree>(SweepBody{{{none, {}}}}, SweepKind::Turn),
                        std::make_shared<SweepTree>(SweepBody{{{box, {}}}}, SweepKind::Turn));
    EXPECT_TRUE(std::isinf(pair.at(0.3).distance_m));
    EXPECT_FALSE(pair.first_contact(0, 1, 1e-4).has_value());
}

TEST(SweepClearance, ThreadsThatShareTreesGetTheAnswersOfOneAlone) {
    Solid gear = pivrak::shaft(300, -100, 100, 5, 160), drum = pivrak::shaft(400, -300, 300, 20, 200);
    const SweepBody moving{{{std::make_shared<const Mesh>(test::to_mesh(gear)),
                             Frame{turn_about_axis(0, 0.4), Vec3(0.6, 0, 0)}}}},
        standing{{{std::make_shared<const Mesh>(test::to_mesh(drum)),
                   Frame{turn_about_axis(1, 0.2), Vec3(1.6, 0.3, 0.1)}}}};
    const auto moving_tree = std::make_shared<SweepTree>(moving, SweepKind::Turn),
               standing_tree = std::make_shared<SweepTree>(standing, SweepKind::Turn);
    constexpr int values = 200;
    std::vector<double> found(values);
    std::vector<std::thread> threads;
    for (int t = 0; t < 4; ++t)
        threads.emplace_back([&, t] {
            SweepClearance pair(moving_tree, standing_tree);
            for (int i = t; i < values; i += 4)
                found[static_cast<std::size_t>(i)] = pair.at(2 * pi * i / values).distance_m;
        });
    for (std::thread& thread : threads) thread.join();
    SweepClearance alone(std::make_shared<SweepTree>(moving, SweepKind::Turn),
                         std::make_shared<SweepTree>(standing, SweepKind::Turn));
    for (int i = 0; i < values; ++i)
        EXPECT_NEAR(found[static_cast<std::size_t>(i)], alone.at(2 * pi * i / values).distance_m, 1e-12) << i;
}

}  // namespace
}  // namespace pivrak
