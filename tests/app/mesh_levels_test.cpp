// Coarser levels of shapes, and when pictures are simpler.
#include <gtest/gtest.h>

#include <QTest>

#include "app/view/mesh_levels.h"
#include "app/view/picture_pace.h"
#include "core/geometry/near/ray_scene.h"
#include "tests/support/shapes.h"

namespace pivrak {
namespace {

/// A round bar of many triangles, its two ends of another material.
Mesh bar(std::uint32_t sides, std::uint32_t rings) {
    Mesh mesh;
    for (std::uint32_t r = 0; r <= rings; ++r)
        for (std::uint32_t s = 0; s < sides; ++s) {
            const double a = 2 * pi * s / sides;
            mesh.positions.push_back({static_cast<float>(std::cos(a)), static_cast<float>(std::sin(a)),
                                      4.0f * static_cast<float>(r) / static_cast<float>(rings)});
        }
    for (std::uint32_t r = 0; r < rings; ++r)
        for (std::uint32_t s = 0; s < sides; ++s) {
            const std::uint32_t a = r * sides + s, b = r * sides + (s + 1) % sides;
            for (const std::uint32_t v : {a, b, a + sides, b, b + sides, a + sides})
                mesh.indices.push_back(v);
        }
    const auto half = static_cast<std::uint32_t>(mesh.indices.size() / 6 / 2 * 6);
    mesh.submeshes = {{MaterialId{1}, 0, half, {}},
                      {MaterialId{2}, half, static_cast<std::uint32_t>(mesh.indices.size()) - half, {}}};
    return mesh;
}

/// Each has fewer triangles, keeps both materials, and is as near as it says: no corner of the mesh is
/// further from it than that.
TEST(MeshLevels, AreCoarserAndAsNearAsTheySay) {
    const Mesh mesh = bar(96, 120);
    const auto levels = mesh_levels(mesh);
    ASSERT_GE(levels.size(), 2u);
    std::size_t before = mesh.indices.size();
    double error = -1;
    for (const MeshLevel& level : levels) {
        EXPECT_LE(2 * level.indices.size(), before);
        EXPECT_GE(level.error_m, error) << "coarser is never nearer";
        ASSERT_EQ(level.submeshes.size(), 2u);
        EXPECT_EQ(level.submeshes[1].first_index, level.submeshes[0].index_count);
        EXPECT_EQ(level.submeshes[1].first_index + level.submeshes[1].index_count, level.indices.size());
        for (const std::uint32_t v : level.indices) ASSERT_LT(v, mesh.positions.size());
        // How far its triangles' middles are from the round bar.
        double most = 0;
        for (std::size_t i = 0; i < level.indices.size(); i += 3) {
            Vec3 middle(0, 0, 0);
            for (std::size_t k = 0; k < 3; ++k)
                middle += mesh.positions[level.indices[i + k]].cast<double>() / 3;
            most = std::max(most, 1 - middle.head<2>().norm());
        }
        EXPECT_LT(most, 4 * level.error_m + 0.01) << level.indices.size() / 3;
        before = level.indices.size();
        error = level.error_m;
    }
    EXPECT_TRUE(mesh_levels(test::box({0, 0, 0}, {1, 1, 1})).empty()) << "a box has nothing to spare";
}

/// Plates with holes are all edges: they are coarser from afar all the same, as near as they say.
TEST(MeshLevels, WhatIsAllEdgesHasLevelsToo) {
    Mesh plates;
    for (int i = 0; i < 12; ++i)
        plates = test::joined(plates, test::box({0.1 * i, 0, 0}, {0.1 * i + 0.05, 0.3, 0.02}));
    const auto levels = mesh_levels(plates);
    ASSERT_FALSE(levels.empty());
    const MeshLevel& level = levels.front();
    EXPECT_LE(2 * level.indices.size(), plates.indices.size());
    EXPECT_LT(level.error_m, 0.5) << "of 1.2 m";
    const auto place = [&](std::uint32_t v) { return plates.positions[v].cast<double>(); };
    for (std::uint32_t v = 0; v < plates.positions.size(); ++v) {
        double away = 1e300;
        for (std::size_t t = 0; t < level.indices.size(); t += 3)
            for (int k = 0; k <= 20; ++k)
                for (int j = 0; j + k <= 20; ++j)
                    away = std::min(
                        away, (place(level.indices[t]) +
                               k / 20.0 * (place(level.indices[t + 1]) - place(level.indices[t])) +
                               j / 20.0 * (place(level.indices[t + 2]) - place(level.indices[t])) - place(v))
                                  .norm());
        ASSERT_LE(away, level.error_m + 0.05) << v;
    }
}

/// One move is drawn in full; those that follow are not where the processor draws slowly; then it rests.
TEST(PicturePace, IsSimplerOnlyWhileSomethingMovesAndOnlyWhereItMustBe) {
    PicturePace pace;
    int rests = 0;
    QObject::connect(&pace, &PicturePace::rested, &pace, [&] { ++rests; });
    pace.tookFull(200);
    pace.moved();
    pace.moved();
    EXPECT_TRUE(pace.isFull()) << "a graphics card always draws the full one";
    pace.setByProcessor(true);
    pace.rest();
    QTest::qWait(700);
    pace.moved();
    EXPECT_TRUE(pace.isFull()) << "one move alone";
    pace.moved();
    EXPECT_FALSE(pace.isFull());
    pace.tookSimple(60);
    EXPECT_FALSE(pace.hasLines()) << "first lines go";
    EXPECT_EQ(pace.pixelShare(), 1);
    for (int i = 0; i < 20; ++i) pace.tookSimple(60);
    EXPECT_EQ(pace.pixelShare(), 0.5) << "then pixels, down to a quarter of them";
    QTest::qWait(400);
    EXPECT_EQ(rests, 1);
    EXPECT_TRUE(pace.isFull());
    pace.tookFull(5);
    pace.moved();
    pace.moved();
    EXPECT_TRUE(pace.isFull()) << "fast enough in full";
}

}  // namespace
}  // namespace pivrak
