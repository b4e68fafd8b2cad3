#include "core/geometry/mesh/mesh_faults.h"

#include <gtest/gtest.h>

#include "core/geometry/mesh/mesh_edit.h"
#include "tests/support/shapes.h"

namespace pivrak {
namespace {

Mesh box() {
    return test::box({0, 0, 0}, {1, 2, 3});
}

void turn_face(Mesh& mesh, std::size_t t) {
    std::swap(mesh.indices[3 * t + 1], mesh.indices[3 * t + 2]);
}
void add_face(Mesh& mesh, std::initializer_list<std::uint32_t> corners) {
    mesh.indices.insert(mesh.indices.end(), corners);
    mesh.submeshes[0].index_count += 3;
}

TEST(MeshFaults, AProperBoxHasNone) {
    EXPECT_TRUE(mesh_faults(box()).clean());
    EXPECT_TRUE(mesh_faults(test::unshared(box())).clean()) << "hard edges are no gaps";
    EXPECT_TRUE(mesh_faults(Mesh{}).clean());
}

TEST(MeshFaults, EachFaultIsCounted) {
    Mesh open = box();
    open.indices.resize(33);
    open.submeshes[0].index_count = 33;
    EXPECT_EQ(mesh_faults(open).open_edges, 3u);

    Mesh doubled = box();
    add_face(doubled, {doubled.indices[1], doubled.indices[2], doubled.indices[0]});
    EXPECT_EQ(mesh_faults(doubled).doubled_faces, 1u);
    EXPECT_EQ(mesh_faults(doubled).crowded_edges, 0u) << "a doubled face is told once, as such";

    Mesh flat = box();
    add_face(flat, {0, 0, 1});
    flat.positions.emplace_back(0.5f, 0.f, 0.f);
    add_face(flat, {0, 8, 1});
    EXPECT_EQ(mesh_faults(flat).zero_area_faces, 2u);

    Mesh turned = box();
    turn_face(turned, 3);
    turn_face(turned, 7);
    EXPECT_EQ(mesh_faults(turned).turned_faces, 2u);

    Mesh fin = box();
    fin.positions.emplace_back(0.5f, -1.f, 0.f);
    add_face(fin, {0, 1, 8});
    EXPECT_EQ(mesh_faults(fin).crowded_edges, 1u);

    Mesh inside_out = box();
    for (std::size_t t = 0; t < 12; ++t) turn_face(inside_out, t);
    EXPECT_TRUE(mesh_faults(inside_out).inside_out);
    EXPECT_EQ(mesh_faults(inside_out).turned_faces, 0u);
}

TEST(MeshFaults, AHollowRightlyLooksInwards) {
    Mesh hollow = test::box({0.2, 0.2, 0.2}, {0.8, 0.8, 0.8});
    for (std::size_t t = 0; t < 12; ++t) turn_face(hollow, t);
    EXPECT_FALSE(mesh_faults(test::joined(test::box({0, 0, 0}, {1, 1, 1}), hollow)).inside_out);
}

TEST(Repaired, MendsWhatItCanAndMovesNothing) {
    Mesh bad = test::unshared(box());
    bad.normals.assign(bad.positions.size(), Vec3f(0, 0, 1));
    turn_face(bad, 3);
    turn_face(bad, 8);
    add_face(bad, {0, 1, 2});
    add_face(bad, {4, 4, 4});
    const Mesh good = repaired(bad);
    EXPECT_TRUE(mesh_faults(good).clean());
    EXPECT_EQ(good.triangle_count(), 12u);
    EXPECT_NEAR(enclosed_volume(good), 6, 1e-6);
    EXPECT_EQ(good.normals.size(), good.positions.size());
    EXPECT_LT((mesh_bounds(good).max - Vec3(1, 2, 3)).norm(), 1e-9);

    Mesh inside_out = box();
    for (std::size_t t = 0; t < 12; ++t) turn_face(inside_out, t);
    EXPECT_NEAR(enclosed_volume(repaired(inside_out)), 6, 1e-6);
    EXPECT_TRUE(repaired(Mesh{}).indices.empty());
}

/// A band with half a twist has no outside; it is left as it is.
TEST(Repaired, ASurfaceWithOneSideEnds) {
    Mesh band;
    constexpr std::uint32_t n = 24;
    for (std::uint32_t i = 0; i < n; ++i)
        for (const double w : {-0.2, 0.2}) {
            const double a = 2 * pi * i / n, r = 1 + w * std::cos(a / 2);
            band.positions.emplace_back(Vec3f(static_cast<float>(r * std::cos(a)),
                                              static_cast<float>(r * std::sin(a)),
                                              static_cast<float>(w * std::sin(a / 2))));
        }
    for (std::uint32_t i = 0; i < n; ++i) {
        const std::uint32_t a = 2 * i, b = 2 * i + 1;
        // At the seam the band meets itself upside down.
        const std::uint32_t c = i + 1 < n ? 2 * i + 2 : 1, d = i + 1 < n ? 2 * i + 3 : 0;
        band.indices.insert(band.indices.end(), {a, c, b, b, c, d});
    }
    band.submeshes = {{MaterialId{}, 0, static_cast<std::uint32_t>(band.indices.size()), {}}};
    EXPECT_EQ(mesh_faults(band).turned_faces, 0u);
    EXPECT_EQ(repaired(band).triangle_count(), band.triangle_count());
}

}  // namespace
}  // namespace pivrak
