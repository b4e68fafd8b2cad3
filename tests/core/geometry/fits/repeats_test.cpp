#include "core/geometry/fits/repeats.h"

#include <gtest/gtest.h>

#include <algorithm>
#include <random>

#include "core/geometry/fits/series.h"
#include "core/geometry/mesh/mesh_edit.h"
#include "tests/support/shapes.h"

namespace pivrak {
namespace {

/// A shape without any symmetry.
Mesh bracket() {
    Mesh m = test::box({0, 0, 0}, {0.3, 0.1, 0.05});
    m = test::joined(m, test::box({0.2, 0.02, 0.05}, {0.29, 0.05, 0.2}));
    m.submeshes = {{MaterialId{1}, 0, 36, {}}, {MaterialId{2}, 36, 36, {}}};
    return m;
}

/// The same surface with vertices and triangles in another order.
Mesh shuffled(const Mesh& mesh, unsigned seed) {
    std::mt19937 random(seed);
    std::vector<std::uint32_t> order(mesh.positions.size());
    for (std::uint32_t i = 0; i < order.size(); ++i) order[i] = i;
    std::shuffle(order.begin(), order.end(), random);
    Mesh out;
    out.positions.resize(order.size());
    for (std::size_t i = 0; i < order.size(); ++i) out.positions[order[i]] = mesh.positions[i];
    for (const Submesh& run : mesh.submeshes) {
        std::vector<std::array<std::uint32_t, 3>> faces;
        for (std::uint32_t i = run.first_index; i < run.first_index + run.index_count; i += 3)
            faces.push_back({order[mesh.indices[i + 1]], order[mesh.indices[i + 2]], order[mesh.indices[i]]});
        std::shuffle(faces.begin(), faces.end(), random);
        for (const auto& f : faces) out.indices.insert(out.indices.end(), f.begin(), f.end());
    }
    out.submeshes = mesh.submeshes;
    return out;
}

double largest_gap(const Mesh& moved, const Mesh& target) {
    double worst = 0;
    for (const Vec3f& p : moved.positions) {
        double nearest = 1e300;
        for (const Vec3f& q : target.positions) nearest = std::min(nearest, double((p - q).norm()));
        worst = std::max(worst, nearest);
    }
    return worst;
}

TEST(AlignMeshes, FindsTheMotionInAnyPoseAndOrder) {
    for (const Frame& pose : test::world_poses())
        for (const Mesh& source : {bracket(), test::to_mesh(bolt(16)), test::to_mesh(gear({23, 3, 10, 6}))}) {
            const Mesh target = transformed(shuffled(source, 4), pose);
            const auto found = align_meshes(source, target);
            ASSERT_TRUE(found.has_value());
            EXPECT_FALSE(found->mirrored);
            EXPECT_LT(found->deviation_m, 1e-5);
            EXPECT_LT(largest_gap(transformed(source, found->target_from_source), target), 1e-5);
        }
}

TEST(AlignMeshes, KnowsAMirrorFromAMotion) {
    const Mesh source = bracket(), image = mirrored(source, Vec3(0.6, 0.8, 0).normalized());
    const Mesh target = transformed(shuffled(image, 9), test::world_poses()[1]);
    const auto found = align_meshes(source, target);
    ASSERT_TRUE(found.has_value());
    EXPECT_TRUE(found->mirrored);
    const Mesh placed = transformed(mirrored(source, Vec3::UnitX()), found->target_from_source);
    EXPECT_LT(largest_gap(placed, target), 1e-5);
    const auto symmetric = align_meshes(test::box({0, 0, 0}, {1, 2, 3}),
                                        mirrored(test::box({0, 0, 0}, {1, 2, 3}), Vec3::UnitX()));
    // The diagonals of a mirrored box's faces run the other way: only as a mirror image is it the same mesh.
    ASSERT_TRUE(symmetric.has_value());
}

TEST(AlignMeshes, IsExactToItsTolerance) {
    const Mesh source = bracket();
    Mesh near = source, far = source;
    near.positions[3].x() += 4e-5f;
    far.positions[3].x() += 4e-4f;
    EXPECT_TRUE(align_meshes(source, near, {.tolerance_m = 1e-4}).has_value());
    EXPECT_FALSE(align_meshes(source, far, {.tolerance_m = 1e-4}).has_value());
    EXPECT_TRUE(align_meshes(source, far, {.tolerance_m = 1e-3}).has_value());
}

TEST(AlignMeshes, MaterialsTrianglesAndTextureCoordinatesCount) {
    const Mesh source = bracket();
    Mesh other = source;
    std::swap(other.submeshes[0].material, other.submeshes[1].material);
    EXPECT_FALSE(align_meshes(source, other).has_value());

    Mesh folded = source;  // the other diagonal of one side
    folded.indices[0] = 0, folded.indices[1] = 2, folded.indices[2] = 1;
    folded.indices[3] = 1, folded.indices[4] = 2, folded.indices[5] = 3;
    EXPECT_FALSE(align_meshes(source, folded).has_value());

    Mesh painted = source, repainted = source;
    painted.uvs.assign(source.positions.size(), Vec2f(0.1f, 0.2f));
    repainted.uvs.assign(source.positions.size(), Vec2f(0.6f, 0.2f));
    EXPECT_FALSE(align_meshes(painted, repainted).has_value());
    EXPECT_TRUE(align_meshes(painted, repainted, {.compare_uvs = false}).has_value());
}

TEST(AlignMeshes, DegenerateMeshesHaveNoMotion) {
    EXPECT_FALSE(align_meshes(Mesh{}, Mesh{}).has_value());
    Mesh line;
    line.positions = {{0, 0, 0}, {1, 0, 0}, {2, 0, 0}};
    line.indices = {0, 1, 2};
    EXPECT_FALSE(align_meshes(line, line).has_value());
}

TEST(FindRepeats, SortsIntoGroups) {
    const Mesh a = bracket(), b = test::to_mesh(bolt(16)), c = test::to_mesh(bolt(20));
    std::vector<Mesh> meshes;
    for (const Frame& pose : test::world_poses()) {
        meshes.push_back(transformed(a, pose));
        meshes.push_back(transformed(b, pose));
    }
    meshes.push_back(c);
    meshes.push_back(mirrored(a, Vec3::UnitY()));
    std::vector<const Mesh*> list;
    for (const Mesh& m : meshes) list.push_back(&m);
    list.push_back(&meshes[0]);
    const auto groups = find_repeats(list);
    ASSERT_EQ(groups.size(), 3u);
    EXPECT_EQ(groups[0].members.size(), 6u) << "four, a mirrored one, and the first once more";
    EXPECT_TRUE(groups[0].members[4].mirrored);
    EXPECT_EQ(groups[1].members.size(), 4u);
    EXPECT_EQ(groups[2].members.size(), 1u) << "a larger bolt is another bolt";
}

TEST(OrderSeries, AlongALineRoundAnAxisAndLoose) {
    std::vector<Vec3> line{{3, 1, 0}, {1, 1, 0}, {2, 1, 0}};
    Series s = order_series(line);
    EXPECT_EQ(s.kind, Series::Kind::Line);
    EXPECT_EQ(s.order, (std::vector<std::size_t>{1, 2, 0}));
    EXPECT_NEAR(s.step, 1, 1e-12);

    std::vector<Vec3> round;
    const std::vector<int> places{4, 0, 2, 5, 1, 3};
    for (const int k : places)
        round.emplace_back(5 + 2 * std::cos(k * pi / 3 + 0.1), 0.4, 1 + 2 * std::sin(k * pi / 3 + 0.1));
    s = order_series(round);
    EXPECT_EQ(s.kind, Series::Kind::Round);
    EXPECT_NEAR(std::abs(s.direction.y()), 1, 1e-9);
    EXPECT_LT((s.centre - Vec3(5, 0.4, 1)).norm(), 1e-9);
    EXPECT_NEAR(s.step, pi / 3, 1e-9);
    // About the axis to the left, up turns to the front and down: from forward the next is below.
    EXPECT_EQ(places[s.order[0]], 5);
    EXPECT_EQ(places[s.order[1]], 4);

    s = order_series({{0, 0, 0}, {4, 1, 2}, {1, 3, 1}, {-2, 0, 5}, {2, 2, 2}});
    EXPECT_EQ(s.kind, Series::Kind::Loose);
    EXPECT_EQ(s.order.front(), 1u) << "from front to rear";
    EXPECT_TRUE(order_series({}).order.empty());
    EXPECT_EQ(order_series({{1, 1, 1}, {1, 1, 1}}).order.size(), 2u);
}

}  // namespace
}  // namespace pivrak
