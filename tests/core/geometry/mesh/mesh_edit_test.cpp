#include "core/geometry/mesh/mesh_edit.h"

#include <gtest/gtest.h>

#include "core/geometry/mesh/mesh_faults.h"
#include "core/geometry/near/clearance.h"
#include "tests/support/shapes.h"

namespace pivrak {
namespace {

Mesh small_box() {
    return test::box({0, 0, 0}, {1, 2, 3});
}

TEST(MeshEdit, VolumeAndAreaAreThoseOfTheClosedForms) {
    EXPECT_NEAR(enclosed_volume(small_box()), 6, 1e-9);
    EXPECT_NEAR(surface_area(small_box()), 2 * (2 + 3 + 6), 1e-9);
    // A prism over a regular polygon of n corners: area n r² sin(2 pi / n) / 2.
    const Mesh prism = test::to_mesh(extrude(circle(50, 36), {}, 0, 200));
    EXPECT_NEAR(enclosed_volume(prism), 36 * 0.05 * 0.05 * std::sin(2 * pi / 36) / 2 * 0.2, 1e-9);
    EXPECT_EQ(enclosed_volume(Mesh{}), 0);
}

TEST(MeshEdit, ScalingGoesByPowers) {
    EXPECT_NEAR(enclosed_volume(scaled(small_box(), 2)), 8 * 6, 1e-6);
    EXPECT_NEAR(surface_area(scaled(small_box(), 0.5)), 22 / 4.0, 1e-6);
}

TEST(MeshEdit, AMirrorKeepsOutsideOutside) {
    for (const Vec3& normal :
         {Vec3(1, 0, 0), Vec3(0, 1, 0), Vec3(0.6, 0, 0.8), Vec3(1, 2, 3).normalized().eval()}) {
        const Mesh image = mirrored(with_normals(small_box()), normal);
        EXPECT_NEAR(enclosed_volume(image), 6, 1e-5);
        // Normals still look away from the middle.
        const Vec3 middle = mesh_bounds(image).middle();
        for (std::size_t v = 0; v < image.positions.size(); ++v)
            EXPECT_GT(image.normals[v].cast<double>().dot(image.positions[v].cast<double>() - middle), 0);
        const Mesh back = mirrored(image, normal);
        for (std::size_t v = 0; v < back.positions.size(); ++v)
            EXPECT_LT((back.positions[v] - with_normals(small_box()).positions[v]).norm(), 1e-6);
    }
}

TEST(MeshEdit, AppendingFillsWhatOneLacks) {
    Mesh plain = small_box(), rich = with_normals(test::box({5, 0, 0}, {6, 1, 1}));
    rich.uvs.assign(rich.positions.size(), Vec2f(0.5f, 0.25f));
    rich.colors.assign(rich.positions.size(), Vec4f(1, 0, 0, 1));
    rich.submeshes[0].material = MaterialId{4};
    const std::size_t before = plain.positions.size();
    append_mesh(plain, rich, Frame{turn_about_axis(2, pi / 2), Vec3(0, 0, 10)});
    EXPECT_EQ(plain.triangle_count(), 24u);
    for (const std::size_t size : {plain.normals.size(), plain.uvs.size(), plain.colors.size()})
        EXPECT_EQ(size, plain.positions.size());
    EXPECT_EQ(plain.colors[0], Vec4f(1, 1, 1, 1));
    EXPECT_EQ(plain.colors[before], Vec4f(1, 0, 0, 1));
    ASSERT_EQ(plain.submeshes.size(), 2u);
    EXPECT_EQ(plain.submeshes[1].material, MaterialId{4});
    EXPECT_EQ(plain.submeshes[1].first_index, 36u);
    // Moved by the frame: x became y, and all of it ten up.
    EXPECT_NEAR(mesh_bounds(plain).max.y(), 6, 1e-6);
    EXPECT_NEAR(mesh_bounds(plain).max.z(), 11, 1e-6);
    EXPECT_NEAR(enclosed_volume(plain), 6 + 1, 1e-5);
}

/// A box whose pictures lie across it: u along an edge of each face, v beside it.
Mesh pictured_box(float side) {
    Mesh mesh = with_normals(small_box());
    for (const Vec3f& n : mesh.normals) {
        const Vec3f along = std::abs(n.x()) > 0.5f ? Vec3f(0, 1, 0) : Vec3f(1, 0, 0);
        mesh.tangents.emplace_back(along.x(), along.y(), along.z(), side);
        mesh.uvs.emplace_back(0.f, 0.f);
        mesh.second_uvs.emplace_back(n.x(), 0.5f);
    }
    return mesh;
}

/// Where v of a picture points, as glTF has it: n × u times the side.
Vec3 down_the_picture(const Mesh& mesh, std::size_t v) {
    const Vec4f& t = mesh.tangents[v];
    return (t.w() * mesh.normals[v].cross(Vec3f(t.head<3>()))).cast<double>();
}

TEST(MeshEdit, PicturesKeepTheirSidesWhenTheirMeshIsMovedMirroredOrTurnedInsideOut) {
    const Mesh box = pictured_box(-1);
    const Frame move{turn_about_axis(2, 0.4) * turn_about_axis(0, 1.1), Vec3(1, 2, 3)};
    const Vec3 normal = Vec3(1, 2, 3).normalized();
    const Mesh moved = transformed(box, move), image = mirrored(box, normal);
    Mesh joined;
    append_mesh(joined, box, move);
    for (std::size_t v = 0; v < box.positions.size(); ++v) {
        const Vec3 down = down_the_picture(box, v);
        EXPECT_LT((down_the_picture(moved, v) - move.direction(down)).norm(), 1e-6);
        EXPECT_LT((down_the_picture(joined, v) - move.direction(down)).norm(), 1e-6);
        EXPECT_LT((down_the_picture(image, v) - (down - 2 * down.dot(normal) * normal)).norm(), 1e-6);
    }
    Mesh inside_out = box;
    for (std::size_t i = 0; i < box.indices.size(); i += 3)
        std::swap(inside_out.indices[i + 1], inside_out.indices[i + 2]);
    for (Vec3f& n : inside_out.normals) n = -n;
    for (Vec4f& t : inside_out.tangents) t.w() *= -1;
    const Mesh mended = repaired(inside_out);
    ASSERT_TRUE(has_whole_attributes(mended));
    for (std::size_t v = 0; v < mended.positions.size(); ++v)
        EXPECT_EQ(mended.tangents[v].w(), -1) << "as the box had it";
}

TEST(MeshEdit, TangentsGoWhereANeighbourWithPicturesHasNone) {
    Mesh bare = pictured_box(1), plain = small_box();
    bare.tangents.clear();
    Mesh with_bare = pictured_box(1), with_plain = pictured_box(1);
    append_mesh(with_bare, bare);
    append_mesh(with_plain, plain);
    EXPECT_TRUE(with_bare.tangents.empty());
    EXPECT_EQ(with_plain.tangents.size(), with_plain.positions.size());
    EXPECT_EQ(with_plain.second_uvs.size(), with_plain.positions.size());
    EXPECT_TRUE(has_whole_attributes(with_bare) && has_whole_attributes(with_plain));
    const Mesh anew = with_normals(pictured_box(1));
    EXPECT_TRUE(anew.tangents.empty());
    EXPECT_EQ(anew.second_uvs.size(), anew.positions.size());
    for (const Mesh& half : extract_labelled(pictured_box(1), {0, 1, 0, 1, 0, 1, 0, 1, 0, 1, 0, 1}, 2))
        EXPECT_TRUE(has_whole_attributes(half) && half.tangents.size() == half.positions.size());
}

TEST(MeshEdit, NeighbouringRunsOfOneMaterialAndGroupBecomeOne) {
    Mesh a = small_box();
    append_mesh(a, small_box());
    EXPECT_EQ(a.submeshes.size(), 1u);
    Mesh named = small_box();
    named.submeshes[0].group = "lid";
    append_mesh(a, named);
    EXPECT_EQ(a.submeshes.size(), 2u);
    Mesh empty;
    append_mesh(empty, named);
    EXPECT_EQ(empty.submeshes.front().group, "lid");
}

TEST(MeshEdit, KeptTrianglesBringOnlyTheirVertices) {
    std::vector<bool> keep(12, false);
    keep[3] = true;
    const Mesh one = kept_triangles(small_box(), keep);
    EXPECT_EQ(one.triangle_count(), 1u);
    EXPECT_EQ(one.positions.size(), 3u);
    EXPECT_TRUE(kept_triangles(small_box(), std::vector<bool>(12, false)).indices.empty());
}

TEST(MeshEdit, MaterialsOfTriangles) {
    Mesh mesh = small_box();
    mesh.submeshes = {{MaterialId{1}, 0, 9, {}}, {MaterialId{2}, 9, 27, {}}};
    const auto materials = triangle_materials(mesh);
    EXPECT_EQ(materials[2], MaterialId{1});
    EXPECT_EQ(materials[3], MaterialId{2});
}

// ---- clearance, against closed forms

TEST(Clearance, BoxesApartAlongAnAxisAndAcrossACorner) {
    const ClearanceBody a(small_box()), b(test::box({0, 0, 0}, {1, 1, 1}));
    for (const Frame& pose : test::world_poses()) {
        const auto at = [&](const Vec3& shift) {
            return a.distance(pose, b, pose * Frame{Quat(1, 0, 0, 0), shift});
        };
        EXPECT_NEAR(at({1.5, 0, 0}), 0.5, 1e-9);
        EXPECT_NEAR(at({0, 2.25, 0}), 0.25, 1e-9);
        EXPECT_NEAR(at({1.3, 2.4, 0}), 0.5, 1e-9) << "3, 4, 5 across an edge";
        EXPECT_NEAR(at({1.1, 2.2, 3.2}), 0.3, 1e-9) << "1, 2, 2, 3 across a corner";
        EXPECT_EQ(at({0.5, 0.5, 0.5}), 0) << "cutting into each other";
    }
}

TEST(Clearance, ParallelCylindersAndNothing) {
    const Mesh cylinder = test::to_mesh(extrude(circle(50, 360), {}, 0, 400));
    const ClearanceBody a(cylinder), b(cylinder);
    // Facets lie inside the circle by r (1 - cos(pi / n)).
    EXPECT_NEAR(a.distance({}, b, {Quat(1, 0, 0, 0), Vec3(0.13, 0, 0.1)}), 0.03,
                0.05 * (1 - std::cos(pi / 360)) * 2 + 1e-9);
    EXPECT_TRUE(std::isinf(a.distance({}, ClearanceBody(Mesh{}), {})));
}

}  // namespace
}  // namespace pivrak
