#include "core/geometry/near/surface_side.h"

#include <gtest/gtest.h>

#include "core/geometry/near/surface_finder.h"
#include "tests/support/encloses.h"
#include "tests/support/shapes.h"

namespace pivrak {
namespace {

/// Another route: the solid angle of the whole surface. Places all about, near edges and corners too.
TEST(SurfaceSide, IsThatOfTheSolidAngle) {
    std::mt19937 random(4);
    std::uniform_real_distribution<double> share(-0.1, 1.1);
    for (const Mesh& mesh :
         {test::to_mesh(gear({14, 4, 20, 8})), test::box({0, 0, 0}, {1, 0.7, 0.4}),
          test::unshared(test::to_mesh(extrude(rectangle(80, 60, 5), {circle(20, 9)}, 0, 30)))}) {
        const Mesh* one = &mesh;
        const SurfaceFinder finder(std::span(&one, 1));
        const SurfaceSide side(mesh);
        const Bounds bounds = mesh_bounds(mesh);
        int inside = 0;
        for (int i = 0; i < 1500; ++i) {
            Vec3 place;
            for (int k = 0; k < 3; ++k) place[k] = bounds.min[k] + share(random) * bounds.size()[k];
            const auto nearest = finder.nearest(place);
            ASSERT_TRUE(nearest.has_value());
            if (nearest->distance < 1e-6 * bounds.longest()) continue;
            const bool expected = encloses(mesh, place);
            inside += expected;
            EXPECT_EQ(side.is_inside(place, nearest->triangle, nearest->place), expected)
                << place.transpose();
        }
        EXPECT_GT(inside, 200);
    }
}

}  // namespace
}  // namespace pivrak
