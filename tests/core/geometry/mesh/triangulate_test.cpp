#include "core/geometry/mesh/triangulate.h"

#include <gtest/gtest.h>

#include <random>
#include <set>

#include "core/geometry/mesh/solid.h"

namespace pivrak {
namespace {

struct Filled {
    double area = 0, smallest = 1e300;
    std::size_t triangles = 0, corners_used = 0;
};

Filled fill(const std::vector<Loop>& loops) {
    std::vector<Vec2> points;
    for (const Loop& loop : loops) points.insert(points.end(), loop.begin(), loop.end());
    Filled out;
    std::set<std::uint32_t> used;
    for (const auto& [a, b, c] : triangulate(loops)) {
        const double area = 0.5 * doubled_area({points[a], points[b], points[c]});
        out.area += area;
        out.smallest = std::min(out.smallest, area);
        ++out.triangles;
        used.insert({a, b, c});
    }
    out.corners_used = used.size();
    return out;
}

TEST(Triangulate, ASquareWithAHole) {
    const Filled f = fill({rectangle(4, 4, 0), circle(1, 12)});
    // A region of n corners and h holes needs n + 2h - 2 triangles (Euler's formula).
    EXPECT_EQ(f.triangles, 4u + 12u + 2u - 2u);
    EXPECT_NEAR(f.area, 16 - 0.5 * doubled_area(circle(1, 12)), 1e-12);
    EXPECT_GT(f.smallest, 0);
}

TEST(Triangulate, LoopsMayRunEitherWay) {
    Loop outline = rectangle(4, 4, 0), hole = circle(1, 12);
    std::reverse(outline.begin(), outline.end());
    EXPECT_NEAR(fill({outline, hole}).area, fill({rectangle(4, 4, 0), circle(1, 12)}).area, 1e-12);
}

TEST(Triangulate, AnIslandInAHoleIsFilledAgain) {
    const Filled f = fill({rectangle(10, 10, 0), rectangle(6, 6, 0), rectangle(2, 2, 0)});
    EXPECT_NEAR(f.area, 100 - 36 + 4, 1e-12);
}

TEST(Triangulate, SeveralOutlinesSideBySide) {
    EXPECT_NEAR(fill({rectangle(2, 2, 0, {-5, 0}), rectangle(3, 1, 0, {5, 1})}).area, 4 + 3, 1e-12);
}

/// A point in the middle of a straight side is used as well: what is joined there shows no gap.
TEST(Triangulate, PointsOnStraightSidesAreUsed) {
    Loop loop{{0, 0}, {1, 0}, {2, 0}, {3, 0}, {3, 1}, {3, 2}, {2, 2}, {1, 2}, {0, 2}, {0, 1}};
    const Filled f = fill({loop});
    EXPECT_EQ(f.triangles, loop.size() - 2);
    EXPECT_EQ(f.corners_used, loop.size());
    EXPECT_NEAR(f.area, 6, 1e-12);
    EXPECT_GT(f.smallest, 0);
}

TEST(Triangulate, RandomStarsWithRandomHolesKeepTheirArea) {
    std::mt19937 random(20);
    std::uniform_real_distribution<double> share(0, 1);
    for (int round = 0; round < 60; ++round) {
        SCOPED_TRACE(round);
        std::vector<Loop> loops(1);
        const int corners = 5 + static_cast<int>(40 * share(random));
        for (int i = 0; i < corners; ++i) {
            const double a = 2 * pi * i / corners, r = 5 + 5 * share(random);
            loops[0].emplace_back(r * std::cos(a), r * std::sin(a));
        }
        double wanted = 0.5 * doubled_area(loops[0]);
        std::size_t points = loops[0].size();
        // Holes in cells of a grid inside the smallest circle never meet.
        for (int x = -2; x <= 1; ++x)
            for (int y = -2; y <= 1; ++y) {
                if (share(random) < 0.3) continue;
                const double start = 6 * share(random);
                Loop hole = circle(0.2 + 0.25 * share(random), 3 + static_cast<int>(9 * share(random)),
                                   {x + 0.5, y + 0.5}, start);
                wanted -= 0.5 * doubled_area(hole);
                points += hole.size();
                loops.push_back(std::move(hole));
            }
        const Filled f = fill(loops);
        EXPECT_NEAR(f.area, wanted, 1e-10);
        EXPECT_EQ(f.triangles, points + 2 * (loops.size() - 1) - 2);
        EXPECT_EQ(f.corners_used, points);
        EXPECT_GT(f.smallest, 0);
    }
}

TEST(Triangulate, DegenerateLoopsEnd) {
    EXPECT_TRUE(triangulate({}).empty());
    EXPECT_TRUE(triangulate({{}, {{0, 0}}, {{0, 0}, {1, 0}}}).empty());
    EXPECT_TRUE(triangulate({{{0, 0}, {1, 0}, {2, 0}, {1, 0}}}).empty());
    // A bow tie crosses itself: something comes, and it ends.
    (void)triangulate({{{0, 0}, {2, 2}, {2, 0}, {0, 2}}});
    (void)triangulate({{{0, 0}, {0, 0}, {0, 0}, {0, 0}}});
}

}  // namespace
}  // namespace pivrak
