#include "core/geometry/mesh/cutting.h"

#include <gtest/gtest.h>

#include "core/geometry/mesh/mesh_edit.h"
#include "core/geometry/mesh/mesh_faults.h"
#include "tests/support/shapes.h"

namespace pivrak {
namespace {

Plane tilted_plane() {
    return {Vec3(0.1, 0.05, 0.2), Vec3(0.3, -0.5, 0.8).normalized()};
}

TEST(CutMesh, ABoxInHalves) {
    const CutHalves halves = cut_mesh(test::box({0, 0, 0}, {2, 3, 4}), {Vec3(0, 0, 1), Vec3(0, 0, 1)});
    EXPECT_NEAR(enclosed_volume(halves.below), 2 * 3 * 1, 1e-6);
    EXPECT_NEAR(enclosed_volume(halves.above), 2 * 3 * 3, 1e-6);
    EXPECT_EQ(halves.cap_loops, 1u);
    EXPECT_EQ(halves.open_runs, 0u);
    EXPECT_TRUE(mesh_faults(halves.above).clean());
    EXPECT_TRUE(mesh_faults(halves.below).clean());
}

/// Volume and area are kept, and both halves are closed, whatever shape is cut and however it lies.
TEST(CutMesh, ClosedShapesStayClosedInAnyPose) {
    const std::vector<std::pair<const char*, Mesh>> shapes{
        {"gear with holes", test::to_mesh(gear({31, 4, 20, 9, 30, 4, 8, 5, 9}))},
        {"wheel", test::to_mesh(wheel({300, 200, 180, 30, 24, 15, 5}))},
        {"shaft", test::to_mesh(shaft(40, -120, 130, 3, 32))},
        {"two boxes", test::joined(test::box({0, 0, 0}, {1, 1, 1}), test::box({-2, 0, 0}, {-1, 1, 0.6}))}};
    for (const auto& [name, mesh] : shapes)
        for (const Frame& pose : test::world_poses()) {
            SCOPED_TRACE(name);
            const double size = mesh_bounds(mesh).longest();
            const Vec3 middle = mesh_bounds(mesh).middle();
            const Plane plane{pose.point(middle + 0.07 * size * Vec3(1, 0.5, 0.3)),
                              pose.direction(tilted_plane().normal)};
            const Mesh placed = transformed(mesh, pose);
            const CutHalves halves = cut_mesh(placed, plane, {.on_plane_m = 1e-7});
            const double volume = enclosed_volume(placed), area = surface_area(placed);
            EXPECT_NEAR(enclosed_volume(halves.above) + enclosed_volume(halves.below), volume, 2e-4 * volume);
            EXPECT_EQ(halves.open_runs, 0u);
            EXPECT_GT(halves.cap_loops, 0u);
            EXPECT_EQ(mesh_faults(halves.above).open_edges, 0u);
            EXPECT_EQ(mesh_faults(halves.below).open_edges, 0u);
            const CutHalves open = cut_mesh(placed, plane, {.cap = false, .on_plane_m = 1e-7});
            EXPECT_NEAR(surface_area(open.above) + surface_area(open.below), area, 1e-5 * area);
            for (const Vec3f& p : halves.above.positions) EXPECT_GT(plane.height(p.cast<double>()), -1e-5);
            for (const Vec3f& p : halves.below.positions) EXPECT_LT(plane.height(p.cast<double>()), 1e-5);
        }
}

/// Bodies that cut through each other keep what each of them is; a cavity stays one, and so does a core that
/// stands in a full block.
TEST(CutMesh, BodiesThatReachIntoEachOtherStayClosed) {
    const Mesh block = test::box({0, 0, 0}, {2, 2, 2}), crossing = test::box({1, 1, -1}, {3, 3, 3}),
               core = test::box({0.5, 0.5, -1}, {1.5, 1.5, 3});
    Mesh cavity = test::box({0.5, 0.5, 0.5}, {1.5, 1.5, 1.5});
    for (std::size_t t = 0; t < cavity.triangle_count(); ++t)
        std::swap(cavity.indices[3 * t + 1], cavity.indices[3 * t + 2]);
    struct Case {
        const char* name;
        Mesh mesh;
        double volume;
        std::size_t loops;
    };
    for (const Case& c :
         {Case{"crossing", test::joined(block, crossing), 8 + 16, 2},
          Case{"core", test::joined(block, core), 8 + 4, 2},
          Case{"cavity", test::joined(block, cavity), 8 - 1, 2}, Case{"turned inside out", cavity, -1, 1},
          Case{"doubled", test::joined(block, block), 16, 2}})
        for (const Frame& pose : test::world_poses()) {
            SCOPED_TRACE(c.name);
            const Plane plane{pose.point({1.01, 1.02, 1.03}),
                              pose.direction(Vec3(0.1, -0.05, 1).normalized())};
            const CutHalves halves = cut_mesh(transformed(c.mesh, pose), plane);
            EXPECT_EQ(halves.open_runs, 0u);
            EXPECT_EQ(halves.cap_loops, c.loops);
            EXPECT_NEAR(enclosed_volume(halves.above) + enclosed_volume(halves.below), c.volume, 2e-4);
            if (std::string(c.name) == "doubled") continue;  // every edge has four faces
            EXPECT_EQ(mesh_faults(halves.above).open_edges, 0u);
            EXPECT_EQ(mesh_faults(halves.below).open_edges, 0u);
        }
}

/// A band that crosses itself, so that the border of the cut does: whatever the cap is, it ends, and what
/// stays open is known.
TEST(CutMesh, ASurfaceThatCrossesItselfIsCutAndItsGapsAreKnown) {
    Mesh band;
    for (const double z : {0.0, 1.0})
        for (const Vec2& p : {Vec2(0, 0), Vec2(2, 2), Vec2(2, 0), Vec2(0, 2)})
            band.positions.push_back(Vec3(p.x(), p.y(), z).cast<float>());
    for (std::uint32_t i = 0; i < 4; ++i) {
        const std::uint32_t j = (i + 1) % 4;
        band.indices.insert(band.indices.end(), {i, j, j + 4, i, j + 4, i + 4});
    }
    band.submeshes = {{MaterialId{}, 0, static_cast<std::uint32_t>(band.indices.size()), {}}};
    const CutHalves halves = cut_mesh(band, {Vec3(0, 0, 0.5), Vec3(0, 0, 1)});
    const CutHalves open = cut_mesh(band, {Vec3(0, 0, 0.5), Vec3(0, 0, 1)}, {.cap = false});
    EXPECT_NEAR(surface_area(open.above) + surface_area(open.below), surface_area(band), 1e-5);
    EXPECT_GE(surface_area(halves.above), surface_area(open.above) - 1e-9);
    EXPECT_GT(mesh_faults(halves.above).open_edges, 0u) << "its other end is open at least";
}

TEST(CutMesh, APlaneThatMissesLeavesOneHalfEmpty) {
    const Mesh box = test::box({0, 0, 0}, {1, 1, 1});
    const CutHalves halves = cut_mesh(box, {Vec3(0, 0, 5), Vec3(0, 0, 1)});
    EXPECT_TRUE(halves.above.indices.empty());
    EXPECT_EQ(halves.below.indices.size(), box.indices.size());
    EXPECT_EQ(halves.cap_loops, 0u);
}

/// A plane through a face of the box: the face goes to the box's half, and no second face is put on it.
TEST(CutMesh, AFaceInThePlaneBoundsItsOwnHalf) {
    const CutHalves halves = cut_mesh(test::box({0, 0, 0}, {1, 1, 1}), {Vec3(0, 0, 1), Vec3(0, 0, 1)});
    EXPECT_TRUE(halves.above.indices.empty());
    EXPECT_EQ(halves.below.triangle_count(), 12u);
    EXPECT_TRUE(mesh_faults(halves.below).clean());
}

TEST(CutMesh, VerticesOnThePlaneMakeNoSlivers) {
    // A box of two storeys, cut where they meet.
    Solid s;
    const Loop square = rectangle(2, 2, 0);
    s.cap(square, {}, 0, false);
    s.wall(square, 0, 1, true);
    s.wall(square, 1, 2, true);
    s.cap(square, {}, 2, true);
    const CutHalves halves = cut_mesh(solid_mesh(s, 1), {Vec3(0, 0, 1.0000004), Vec3(0, 0, 1)});
    EXPECT_NEAR(enclosed_volume(halves.below), 4, 1e-5);
    EXPECT_EQ(mesh_faults(halves.below).zero_area_faces, 0u);
    EXPECT_EQ(mesh_faults(halves.above).zero_area_faces, 0u);
}

TEST(CutMesh, TheCapCarriesTheMaterialAskedForOrThatBesideIt) {
    Mesh box = test::box({0, 0, 0}, {1, 1, 1});
    box.submeshes = {{MaterialId{7}, 0, 36, {}}};
    const Plane plane{Vec3(0, 0, 0.5), Vec3(0, 0, 1)};
    EXPECT_EQ(cut_mesh(box, plane, {.cap_material = MaterialId{9}}).above.submeshes.back().material,
              MaterialId{9});
    EXPECT_EQ(cut_mesh(box, plane).above.submeshes.size(), 1u);
    EXPECT_EQ(cut_mesh(box, plane).above.submeshes.back().material, MaterialId{7});
}

TEST(CutMesh, AttributesAreInterpolated) {
    Mesh mesh;
    mesh.positions = {{0, 0, 0}, {1, 0, 0}, {0, 0, 2}};
    mesh.uvs = {{0, 0}, {1, 0}, {0, 2}};
    mesh.colors = {{0, 0, 0, 1}, {1, 0, 0, 1}, {0, 0, 1, 1}};
    mesh.second_uvs = {{0, 0}, {2, 0}, {0, 2}};
    mesh.tangents.assign(3, Vec4f(0, 1, 0, -1));
    mesh.indices = {0, 1, 2};
    mesh.submeshes = {{MaterialId{}, 0, 3, {}}};
    const CutHalves halves = cut_mesh(mesh, {Vec3(0, 0, 1), Vec3(0, 0, 1)});
    ASSERT_EQ(halves.above.triangle_count(), 1u);
    EXPECT_EQ(halves.above.uvs.size(), halves.above.positions.size());
    for (std::size_t v = 0; v < halves.below.positions.size(); ++v) {
        const Vec3f& p = halves.below.positions[v];
        EXPECT_NEAR(halves.below.uvs[v].y(), p.z(), 1e-6) << "v runs with z here";
        EXPECT_NEAR(halves.below.colors[v].x(), p.x(), 1e-6) << "red runs with x here";
        EXPECT_NEAR(halves.below.second_uvs[v].x(), 2 * p.x(), 1e-6);
        EXPECT_EQ(halves.below.tangents[v], Vec4f(0, 1, 0, -1));
    }
    EXPECT_EQ(halves.open_runs, 1u) << "one triangle closes nothing";
}

/// An open box keeps its hole: the border in the plane does not close, and that is told.
TEST(CutMesh, AnOpenSurfaceIsCutAndSaidToBeOpen) {
    Mesh open = test::box({0, 0, 0}, {1, 1, 1});
    open.indices.resize(24);  // two sides are missing
    open.submeshes[0].index_count = 24;
    const CutHalves halves = cut_mesh(open, {Vec3(0, 0, 0.5), Vec3(0, 0, 1)});
    EXPECT_GT(halves.open_runs, 0u);
    EXPECT_EQ(halves.cap_loops, 0u);
    EXPECT_NEAR(surface_area(halves.above) + surface_area(halves.below), surface_area(open), 1e-6);
}

TEST(CutMesh, NothingGivesNothing) {
    const CutHalves halves = cut_mesh(Mesh{}, {});
    EXPECT_TRUE(halves.above.indices.empty());
    EXPECT_TRUE(halves.below.indices.empty());
}

}  // namespace
}  // namespace pivrak
