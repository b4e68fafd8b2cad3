#include "core/geometry/mesh/pieces.h"

#include <gtest/gtest.h>

#include <algorithm>
#include <random>
#include <set>

#include "tests/support/shapes.h"

namespace pivrak {
namespace {

using test::box;
using test::joined;
using test::unshared;

TEST(LoosePieces, NamedCases) {
    const Mesh near = joined(box({0, 0, 0}, {1, 1, 1}), box({1.00002, 0, 0}, {2, 1, 1}));
    struct Case {
        const char* name;
        Mesh mesh;
        double weld_m;
        std::uint32_t pieces;
    };
    for (const Case& c :
         {Case{"nothing", Mesh{}, 1e-5, 0}, Case{"one box", box({0, 0, 0}, {1, 1, 1}), 0, 1},
          Case{"one box of unshared corners, welded", unshared(box({0, 0, 0}, {1, 1, 1})), 1e-5, 1},
          Case{"equal corners weld at tolerance zero", unshared(box({0, 0, 0}, {1, 1, 1})), 0, 1},
          Case{"two boxes apart", joined(box({0, 0, 0}, {1, 1, 1}), box({2, 0, 0}, {3, 1, 1})), 1e-5, 2},
          Case{"corners 0.02 mm apart, weld 0.01 mm", near, 1e-5, 2},
          Case{"corners 0.02 mm apart, weld 0.03 mm", near, 3e-5, 1}}) {
        SCOPED_TRACE(c.name);
        EXPECT_EQ(label_loose_pieces(c.mesh, {.weld_m = c.weld_m}).count, c.pieces);
    }
}

TEST(LoosePieces, LabelsFollowTheFirstTriangle) {
    const Mesh mesh =
        joined(joined(box({5, 0, 0}, {6, 1, 1}), box({0, 0, 0}, {1, 1, 1})), box({9, 0, 0}, {10, 1, 1}));
    const TriangleLabels labels = label_loose_pieces(mesh);
    EXPECT_EQ(labels.of_triangle.front(), 0u);
    EXPECT_EQ(labels.of_triangle[12], 1u);
    EXPECT_EQ(labels.of_triangle[24], 2u);
}

/// An independent answer: flood fill over a brute-force list of near vertices.
std::size_t flood_count(const Mesh& mesh, double weld) {
    const std::size_t n = mesh.positions.size();
    std::vector<std::vector<std::uint32_t>> next(n);
    for (std::uint32_t a = 0; a < n; ++a)
        for (std::uint32_t b = 0; b < n; ++b)
            if ((mesh.positions[a].cast<double>() - mesh.positions[b].cast<double>()).norm() <= weld)
                next[a].push_back(b);
    for (std::size_t i = 0; i < mesh.indices.size(); i += 3)
        for (std::size_t k = 0; k < 3; ++k) {
            next[mesh.indices[i + k]].push_back(mesh.indices[i + (k + 1) % 3]);
            next[mesh.indices[i + (k + 1) % 3]].push_back(mesh.indices[i + k]);
        }
    std::vector<bool> seen(n, false);
    std::size_t count = 0;
    for (std::uint32_t start = 0; start < n; ++start) {
        if (seen[start]) continue;
        ++count;
        std::vector<std::uint32_t> open{start};
        seen[start] = true;
        while (!open.empty()) {
            const std::uint32_t v = open.back();
            open.pop_back();
            for (const std::uint32_t w : next[v])
                if (!seen[w]) {
                    seen[w] = true;
                    open.push_back(w);
                }
        }
    }
    return count;
}

TEST(LoosePieces, AgreesWithFloodFillOnRandomSoups) {
    std::mt19937 random(5);
    std::uniform_real_distribution<float> place(0, 0.02f);
    for (int round = 0; round < 12; ++round) {
        Mesh mesh;
        for (int t = 0; t < 60; ++t)
            for (int k = 0; k < 3; ++k) {
                mesh.indices.push_back(static_cast<std::uint32_t>(mesh.positions.size()));
                mesh.positions.push_back({place(random), place(random), place(random)});
            }
        const double weld = 0.0004 * (round + 1);
        EXPECT_EQ(label_loose_pieces(mesh, {.weld_m = weld}).count, flood_count(mesh, weld))
            << "weld " << weld;
    }
}

TEST(LoosePieces, PiecesKeepEveryTriangleAndItsPlace) {
    const Mesh mesh = joined(unshared(box({0, 0, 0}, {1, 1, 1})), box({2, 0, 0}, {3, 1, 4}));
    const TriangleLabels labels = label_loose_pieces(mesh);
    const std::vector<Mesh> pieces = extract_labelled(mesh, labels.of_triangle, labels.count);
    std::multiset<std::array<float, 9>> before, after;
    const auto collect = [](const Mesh& m, std::multiset<std::array<float, 9>>& into) {
        for (std::size_t t = 0; t < m.triangle_count(); ++t) {
            std::array<float, 9> corners{};
            for (int k = 0; k < 9; ++k)
                corners[static_cast<std::size_t>(k)] = static_cast<float>(m.corner(t, k / 3)[k % 3]);
            into.insert(corners);
        }
    };
    collect(mesh, before);
    for (const Mesh& piece : pieces) {
        collect(piece, after);
        for (const std::uint32_t i : piece.indices) ASSERT_LT(i, piece.positions.size());
    }
    EXPECT_EQ(before, after);
    EXPECT_EQ(pieces[1].positions.size(), 8u) << "no vertex of another piece comes along";
}

TEST(LabelByMaterial, OneLabelForEachMaterialThatIsUsed) {
    Mesh mesh = box({0, 0, 0}, {1, 1, 1});
    mesh.submeshes = {
        {MaterialId{4}, 0, 12}, {MaterialId{9}, 12, 0}, {MaterialId{7}, 12, 12}, {MaterialId{4}, 24, 12}};
    const TriangleLabels labels = label_by_material(mesh);
    EXPECT_EQ(labels.count, 2u);
    EXPECT_EQ(labels.of_triangle, (std::vector<std::uint32_t>{0, 0, 0, 0, 1, 1, 1, 1, 0, 0, 0, 0}));
}

TEST(ExtractLabelled, KeepsMaterialsNormalsAndTextureCoordinates) {
    Mesh mesh = unshared(box({0, 0, 0}, {1, 1, 1}));
    mesh.submeshes = {{MaterialId{4}, 0, 18}, {MaterialId{7}, 18, 18}};
    for (std::size_t v = 0; v < mesh.positions.size(); ++v) {
        mesh.normals.emplace_back(0.f, 0.f, static_cast<float>(v));
        mesh.uvs.emplace_back(static_cast<float>(v), 0.f);
    }
    std::vector<std::uint32_t> labels(12, 0);
    for (std::size_t t = 4; t < 8; ++t) labels[t] = 1;
    const std::vector<Mesh> pieces = extract_labelled(mesh, labels, 3);
    ASSERT_EQ(pieces.size(), 3u);
    EXPECT_EQ(pieces[1].submeshes, (std::vector<Submesh>{{MaterialId{4}, 0, 6}, {MaterialId{7}, 6, 6}}));
    EXPECT_EQ(pieces[1].uvs.front().x(), 12.f);
    EXPECT_EQ(pieces[1].normals.back().z(), 23.f);
    EXPECT_TRUE(pieces[2].positions.empty());
}

TEST(ConnectedVertices, JoinsOnlyWhatTrianglesJoin) {
    const std::vector<std::uint32_t> roots =
        connected_vertices(joined(box({0, 0, 0}, {1, 1, 1}), box({0, 0, 0}, {1, 1, 1})));
    EXPECT_EQ(std::set<std::uint32_t>(roots.begin(), roots.end()).size(), 2u);
}

}  // namespace
}  // namespace pivrak
