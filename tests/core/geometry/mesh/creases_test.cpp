#include "core/geometry/mesh/creases.h"

#include <gtest/gtest.h>

#include "core/geometry/near/ray_scene.h"
#include "tests/support/shapes.h"

namespace pivrak {
namespace {

TEST(CreaseEdges, ABoxHasTwelveWhetherCornersAreSharedOrNot) {
    const Mesh box = test::box({0, 0, 0}, {1, 2, 3});
    EXPECT_EQ(crease_edges(box).size() / 2, 12u);
    EXPECT_EQ(crease_edges(test::unshared(box)).size() / 2, 12u);
}

TEST(CreaseEdges, ACylinderShowsItsRimsOnly) {
    const Mesh cylinder = test::to_mesh(extrude(circle(10, 48), {}, 0, 20));
    EXPECT_EQ(crease_edges(cylinder, 30 * rad_per_deg).size() / 2, 96u);
    EXPECT_EQ(crease_edges(cylinder, 5 * rad_per_deg).size() / 2, 96u + 48u) << "7.5 degrees between facets";
}

TEST(CreaseEdges, OpenBordersAndFlatSheets) {
    Mesh sheet;
    sheet.positions = {{0, 0, 0}, {1, 0, 0}, {1, 1, 0}, {0, 1, 0}};
    sheet.indices = {0, 1, 2, 0, 2, 3};
    EXPECT_EQ(crease_edges(sheet).size() / 2, 4u) << "the diagonal is smooth";
    EXPECT_TRUE(crease_edges(Mesh{}).empty());
}

TEST(WithNormals, FlatFacesGetTheirOwnAndRoundOnesAreSmoothed) {
    const Mesh box = with_normals(test::box({0, 0, 0}, {1, 1, 1}));
    EXPECT_EQ(box.positions.size(), 24u);
    for (std::size_t t = 0; t < box.triangle_count(); ++t) {
        const Vec3 face =
            (box.corner(t, 1) - box.corner(t, 0)).cross(box.corner(t, 2) - box.corner(t, 0)).normalized();
        for (std::size_t k = 0; k < 3; ++k)
            EXPECT_LT((box.normals[box.indices[3 * t + k]].cast<double>() - face).norm(), 1e-6);
    }
    const Mesh cylinder = test::to_mesh(extrude(circle(10, 48), {}, 0, 20));
    for (std::size_t v = 0; v < cylinder.positions.size(); ++v) {
        if (std::abs(cylinder.normals[v].z()) > 0.5f) continue;
        const Vec3f radial = Vec3f(cylinder.positions[v].x(), cylinder.positions[v].y(), 0).normalized();
        EXPECT_LT((cylinder.normals[v] - radial).norm(), 1e-3f)
            << "a smoothed side points away from the axis";
    }
}

TEST(RayScene, HitsTheNearestInstanceWhereItStands) {
    const auto mesh = std::make_shared<const Mesh>(test::box({-1, -1, -1}, {1, 1, 1}));
    RayScene scene;
    EXPECT_FALSE(scene.nearest({Vec3(0, 0, 10), Vec3(0, 0, -1)}).has_value());
    const std::vector<RayScene::Instance> instances{{mesh, Frame{Quat(1, 0, 0, 0), Vec3(0, 0, -5)}},
                                                    {mesh, Frame{Quat(1, 0, 0, 0), Vec3(0, 0, 3)}}};
    scene.set_instances(instances);
    const auto hit = scene.nearest({Vec3(0.2, 0.3, 10), Vec3(0, 0, -1)});
    ASSERT_TRUE(hit.has_value());
    EXPECT_EQ(hit->instance, 1u);
    EXPECT_NEAR(hit->distance, 6, 1e-5);
    EXPECT_FALSE(scene.nearest({Vec3(5, 0, 10), Vec3(0, 0, -1)}).has_value());
}

TEST(RayScene, EmptyMeshesAreSkippedAndInstancesMove) {
    const auto mesh = std::make_shared<const Mesh>(test::box({-1, -1, -1}, {1, 1, 1}));
    RayScene scene;
    scene.set_instances(
        std::vector<RayScene::Instance>{{std::make_shared<const Mesh>(), Frame{}}, {mesh, Frame{}}});
    EXPECT_EQ(scene.nearest({Vec3(0, 0, 10), Vec3(0, 0, -1)})->instance, 1u);
    scene.set_instances(std::vector<RayScene::Instance>{{mesh, Frame{Quat(1, 0, 0, 0), Vec3(100, 0, 0)}}});
    EXPECT_FALSE(scene.nearest({Vec3(0, 0, 10), Vec3(0, 0, -1)}).has_value());
    EXPECT_TRUE(scene.nearest({Vec3(100, 0, 10), Vec3(0, 0, -1)}).has_value());
}

}  // namespace
}  // namespace pivrak
