#include "core/geometry/near/graded.h"

#include <gtest/gtest.h>

#include "core/geometry/mesh/topology.h"
#include "tests/support/shapes.h"

namespace pivrak {
namespace {

double area_of(const Mesh& mesh) {
    double area = 0;
    for (std::size_t t = 0; t < mesh.triangle_count(); ++t) area += triangle_area(mesh, t);
    return area;
}

/// The way of a piece's place farthest in to that farthest out, both by the larger of |x| and |y|.
TEST(Graded, PiecesReachNoFartherInThanAFourthAndTheSurfaceStays) {
    constexpr double finest = 1e-3;
    for (const Mesh& mesh : {test::box({-0.3, -0.01, 0}, {1, 0.02, 1}), test::box({0, 0, 0}, {1, 1, 0.1}),
                             test::box({0.4, 0.4, 0}, {0.5, 0.5, 0.1}), Mesh{}}) {
        const Mesh graded = graded_about_z(mesh, finest);
        EXPECT_NEAR(area_of(graded), area_of(mesh), 1e-6 * (1 + area_of(mesh)));
        EXPECT_NEAR(mesh_bounds(graded).longest(), mesh_bounds(mesh).longest(), 1e-6);
        for (std::size_t t = 0; t < graded.triangle_count(); ++t) {
            double outer = 0;
            for (int k = 0; k < 3; ++k)
                outer =
                    std::max({outer, std::abs(graded.corner(t, k).x()), std::abs(graded.corner(t, k).y())});
            // Within a square's sides, or wholly beyond one of them.
            double half = finest;
            while (half < outer * (1 - 1e-6)) half *= 4;
            if (half <= finest) continue;
            bool beyond = false;
            for (int axis : {0, 1})
                for (double side : {1.0, -1.0}) {
                    bool all = true;
                    for (int k = 0; k < 3; ++k)
                        all = all && side * graded.corner(t, k)[axis] >= half / 4 - 1e-6;
                    beyond = beyond || all;
                }
            EXPECT_TRUE(beyond) << t;
        }
    }
}

}  // namespace
}  // namespace pivrak
