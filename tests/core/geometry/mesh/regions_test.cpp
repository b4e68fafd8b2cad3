#include "core/geometry/mesh/regions.h"

#include <gtest/gtest.h>

#include <algorithm>
#include <map>
#include <random>
#include <set>

#include "tests/support/shapes.h"

namespace pivrak {
namespace {

FaceMask mask_of(const Mesh& mesh, std::initializer_list<std::size_t> triangles) {
    FaceMask mask(mesh.triangle_count(), false);
    for (const std::size_t t : triangles) mask[t] = true;
    return mask;
}
std::size_t count(const FaceMask& mask) {
    return static_cast<std::size_t>(std::count(mask.begin(), mask.end(), true));
}

TEST(Topology, ABoxHasEighteenEdgesWhoeverSharesItsVertices) {
    for (const Mesh& mesh :
         {test::box({0, 0, 0}, {1, 2, 3}), test::unshared(test::box({0, 0, 0}, {1, 2, 3}))}) {
        const MeshTopology t = mesh_topology(mesh);
        EXPECT_EQ(t.points.count(), 8u);
        // Euler: 8 - 18 + 12 = 2.
        EXPECT_EQ(t.edges.size(), 18u);
        for (const MeshTopology::Edge& edge : t.edges) EXPECT_EQ(edge.count, 2u);
    }
}

TEST(Topology, NearVerticesAreOnePointWithinTheTolerance) {
    Mesh mesh = test::unshared(test::box({0, 0, 0}, {1, 1, 1}));
    for (std::size_t v = 0; v < mesh.positions.size(); ++v) mesh.positions[v].x() += v % 2 ? 4e-6f : 0.f;
    EXPECT_GT(mesh_topology(mesh).points.count(), 8u);
    EXPECT_EQ(mesh_topology(mesh, 1e-5).points.count(), 8u);
}

TEST(Regions, GrowingFromOneFace) {
    const Mesh box = test::unshared(test::box({0, 0, 0}, {1, 1, 1}));
    const Mesh two = test::joined(box, test::box({5, 0, 0}, {6, 1, 1}));
    const MeshTopology topology = mesh_topology(two);
    EXPECT_EQ(count(grow_to_pieces(two, mask_of(two, {0}))), 12u);
    EXPECT_EQ(count(grow_within_angle(two, topology, mask_of(two, {0}), 1 * rad_per_deg)), 2u)
        << "one flat side";
    EXPECT_EQ(count(grow_within_angle(two, topology, mask_of(two, {0}), 91 * rad_per_deg)), 12u);
    EXPECT_EQ(count(grow_ring(two, topology, grow_ring(two, topology, mask_of(two, {0})))), 12u);
    const FaceMask ring = grow_ring(two, topology, mask_of(two, {0}));
    EXPECT_GT(count(ring), 2u);
    EXPECT_LT(count(shrink_ring(two, topology, ring)), count(ring));
    EXPECT_EQ(count(shrink_ring(two, topology, FaceMask(24, true))), 24u)
        << "all picked: nothing borders on others";
}

TEST(Regions, SmoothSurfacesGrowRoundACylinderButNotOverItsEdge) {
    const Mesh mesh = test::to_mesh(extrude(circle(50, 36), {}, 0, 100));
    const MeshTopology topology = mesh_topology(mesh);
    std::size_t side = 0;
    const auto normals = face_normals(mesh);
    while (std::abs(normals[side].z()) > 0.5) ++side;
    // 36 facets of two triangles meet at ten degrees.
    EXPECT_EQ(count(grow_within_angle(mesh, topology, mask_of(mesh, {side}), 11 * rad_per_deg)), 72u);
    EXPECT_EQ(count(grow_within_angle(mesh, topology, mask_of(mesh, {side}), 9 * rad_per_deg)), 2u);
}

/// By another route: every pair of faces is asked for a common side, and labels run through until none
/// changes.
std::vector<std::size_t> smooth_neighbours_by_all_pairs(const Mesh& mesh, double angle) {
    const auto normals = face_normals(mesh);
    const auto meet = [&](std::size_t a, std::size_t b) {
        int shared = 0;
        for (int i = 0; i < 3; ++i)
            for (int j = 0; j < 3; ++j)
                shared += mesh.positions[mesh.indices[3 * a + i]] == mesh.positions[mesh.indices[3 * b + j]];
        return shared == 2 && std::acos(std::clamp(normals[a].dot(normals[b]), -1.0, 1.0)) <= angle;
    };
    std::vector<std::size_t> label(mesh.triangle_count());
    for (std::size_t t = 0; t < label.size(); ++t) label[t] = t;
    for (bool changed = true; changed;) {
        changed = false;
        for (std::size_t a = 0; a < label.size(); ++a)
            for (std::size_t b = 0; b < a; ++b)
                if (label[a] != label[b] && meet(a, b)) {
                    label[a] = label[b] = std::min(label[a], label[b]);
                    changed = true;
                }
    }
    return label;
}

TEST(Regions, OnARoughSurfaceAreThoseOfAllPairs) {
    Mesh mesh = test::to_mesh(revolve({{0, -30}, {25, -30}, {32, -10}, {30, 12}, {18, 20}, {0, 24}}, 14));
    std::mt19937 random(5);
    std::uniform_real_distribution<float> rough(-2e-3f, 2e-3f);
    std::map<std::array<float, 3>, Vec3f> moved;
    for (Vec3f& p : mesh.positions) {
        const auto [known, added] = moved.try_emplace({p.x(), p.y(), p.z()}, p);
        for (int k = 0; added && k < 3; ++k) known->second[k] += rough(random);
        p = known->second;
    }
    const MeshTopology topology = mesh_topology(mesh);
    for (const double degrees : {8.0, 15.0, 22.0, 35.0, 60.0}) {
        SCOPED_TRACE(degrees);
        const auto wanted = smooth_neighbours_by_all_pairs(mesh, degrees * rad_per_deg);
        const TriangleLabels labels = label_by_crease(mesh, degrees * rad_per_deg);
        EXPECT_EQ(labels.count, std::set<std::size_t>(wanted.begin(), wanted.end()).size());
        for (std::size_t seed = 0; seed < wanted.size(); seed += 7) {
            const FaceMask grown =
                grow_within_angle(mesh, topology, mask_of(mesh, {seed}), degrees * rad_per_deg);
            for (std::size_t t = 0; t < wanted.size(); ++t) {
                EXPECT_EQ(grown[t], wanted[t] == wanted[seed]) << seed << " and " << t;
                EXPECT_EQ(labels.of_triangle[t] == labels.of_triangle[seed], wanted[t] == wanted[seed]);
            }
        }
    }
}

TEST(Regions, MaterialAndSize) {
    Mesh mesh = test::joined(test::box({0, 0, 0}, {1, 1, 1}), test::box({5, 0, 0}, {7, 2, 2}));
    mesh.submeshes = {{MaterialId{1}, 0, 18, {}}, {MaterialId{2}, 18, 54, {}}};
    EXPECT_EQ(count(grow_to_material(mesh, mask_of(mesh, {0}))), 6u);
    EXPECT_EQ(count(grow_to_material(mesh, mask_of(mesh, {0, 7}))), 24u);
    EXPECT_EQ(count(grow_same_size(mesh, mask_of(mesh, {0}))), 12u) << "faces of the small box";
}

TEST(Labels, CreasesGroupsAndPickedFaces) {
    Mesh mesh = test::to_mesh(extrude(circle(50, 36), {}, 0, 100));
    EXPECT_EQ(label_by_crease(mesh, 30 * rad_per_deg).count, 3u) << "a side and two ends";
    EXPECT_EQ(label_by_crease(mesh, 5 * rad_per_deg).count, 38u) << "every facet";
    EXPECT_EQ(label_by_crease(mesh, 120 * rad_per_deg).count, 1u);
    EXPECT_EQ(label_by_group(mesh).count, 1u);
    mesh.submeshes = {{MaterialId{}, 0, 30, "lid"},
                      {MaterialId{}, 30, 30, "body"},
                      {MaterialId{}, 60, static_cast<std::uint32_t>(mesh.indices.size()) - 60, "lid"}};
    const TriangleLabels groups = label_by_group(mesh);
    EXPECT_EQ(groups.count, 2u);
    EXPECT_EQ(groups.of_triangle[9], 0u);
    EXPECT_EQ(groups.of_triangle[10], 1u);
    EXPECT_EQ(groups.of_triangle[20], 0u);
    EXPECT_EQ(label_by_mask(FaceMask(5, true)).count, 1u);
    EXPECT_EQ(label_by_mask({false, true, false}).count, 2u);
    EXPECT_EQ(label_by_mask({}).count, 0u);
}

}  // namespace
}  // namespace pivrak
