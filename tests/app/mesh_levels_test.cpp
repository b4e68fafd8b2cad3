// Coarser levels of shapes, and when pictures are simpler.
#include <gtest/gtest.h>

#include <QTest>

#include "app/view/mesh_levels.h"
#include "app/view/picture_pace.h"
#include "core/geometry/near/surface_finder.h"
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

/// Many small shapes about a large one, as parts that are fixed to each other come as one mesh: what is large
/// keeps its form where what is small is coarse or gone, and nothing is farther away than the level says.
TEST(MeshLevels, PiecesAreCoarserEachByItself) {
    Mesh mesh = bar(48, 30);
    mesh.submeshes.clear();
    const std::size_t large = mesh.positions.size();
    for (int i = 0; i < 150; ++i) {
        const double x = 1.2 + 0.03 * i, size = 0.004 + 0.0001 * i;
        mesh = test::joined(mesh, test::box({x, 0, 0}, {x + size, 0.3 * size, 5 * size}));
    }
    mesh.submeshes.clear();
    const auto levels = mesh_levels(mesh);
    ASSERT_GE(levels.size(), 2u);
    std::size_t before = mesh.indices.size();
    const auto place = [&](std::uint32_t v) { return mesh.positions[v].cast<double>(); };
    for (const MeshLevel& level : levels) {
        EXPECT_LE(2 * level.indices.size(), before);
        before = level.indices.size();
        ASSERT_GT(before, 0u);
        // The bar's axis is the line x = y = 0: where it is left, it is as round as the level says.
        for (std::size_t t = 0; t < level.indices.size(); t += 3) {
            if (level.indices[t] >= large) continue;
            const Vec3 middle =
                (place(level.indices[t]) + place(level.indices[t + 1]) + place(level.indices[t + 2])) / 3;
            EXPECT_GT(middle.head<2>().norm(), 1 - 4 * level.error_m - 0.01) << level.error_m;
        }
        for (std::uint32_t v = static_cast<std::uint32_t>(large); v < mesh.positions.size(); v += 8) {
            const double length = (place(v + 7) - place(v)).norm();
            const bool is_there = std::ranges::any_of(
                level.indices, [&](std::uint32_t used) { return used >= v && used < v + 8; });
            EXPECT_TRUE(is_there || length <= 1.01 * level.error_m) << length << " of " << level.error_m;
        }
    }
    EXPECT_LT(levels.front().error_m, 0.1) << "half of it is spared before anything large is touched";
}

/// A roof and walls between posts: no face is gone where its corners alone are left, at any level that says
/// it is nearer than that.
TEST(MeshLevels, FacesStayWhereTheyAreSeen) {
    Mesh hall = test::box({0, 0, 3}, {12, 8, 3.1});
    for (const double x : {0.0, 4.0, 8.0, 11.8})
        for (const double y : {0.0, 7.8})
            hall = test::joined(hall, test::box({x, y, 0}, {x + 0.2, y + 0.2, 3}));
    hall = test::joined(hall, test::box({0, 0, 0}, {12, 0.05, 2}));
    hall.submeshes.clear();
    const auto levels = mesh_levels(hall);
    ASSERT_FALSE(levels.empty());
    const auto place = [&](std::uint32_t v) { return hall.positions[v].cast<double>(); };
    for (const MeshLevel& level : levels) {
        Mesh left = hall;
        left.indices = level.indices;
        const Mesh* const meshes[] = {&left};
        const SurfaceFinder finder(meshes);
        for (std::size_t t = 0; t < hall.indices.size(); t += 3) {
            const Vec3 a = place(hall.indices[t]), b = place(hall.indices[t + 1]),
                       c = place(hall.indices[t + 2]);
            for (int i = 0; i <= 8; ++i)
                for (int k = 0; i + k <= 8; ++k) {
                    const Vec3 p = a + i / 8.0 * (b - a) + k / 8.0 * (c - a);
                    ASSERT_LE(finder.nearest(p)->distance, 1.05 * level.error_m + 0.02)
                        << level.indices.size() / 3 << " triangles, of " << hall.triangle_count();
                }
        }
    }
}

/// Where the processor draws, the very first picture is a simpler one: something is seen soon.
TEST(PicturePace, OpensWithASimplerPictureAndThenTheFullOne) {
    PicturePace pace;
    int rests = 0;
    QObject::connect(&pace, &PicturePace::rested, &pace, [&] { ++rests; });
    EXPECT_TRUE(pace.isFull()) << "a graphics card draws the full one";
    pace.setByProcessor(true);
    EXPECT_FALSE(pace.isFull());
    pace.tookSimple(300);
    EXPECT_TRUE(pace.hasLines()) << "how long the first one took tells nothing: all was made for it";
    EXPECT_EQ(rests, 0);
    QTest::qWait(250);
    EXPECT_EQ(rests, 1) << "the full one is asked for";
    EXPECT_TRUE(pace.isFull());
    pace.tookFull(300);
    QTest::qWait(250);
    EXPECT_EQ(rests, 1) << "once";

    PicturePace asked;
    asked.setByProcessor(true);
    asked.rest();
    EXPECT_TRUE(asked.isFull()) << "who asks for the full one gets it";
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
    for (int i = 0; i < 20; ++i) pace.tookSimple(8);
    EXPECT_EQ(pace.pixelShare(), 1) << "and come again where there is time";
    EXPECT_FALSE(pace.hasLines());
    pace.tookSimple(3);
    EXPECT_TRUE(pace.hasLines());
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
