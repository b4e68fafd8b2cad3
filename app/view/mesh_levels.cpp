#include "app/view/mesh_levels.h"

#include <meshoptimizer.h>

#include <algorithm>
#include <span>

#include "core/geometry/near/surface_finder.h"

namespace pivrak {
namespace {

constexpr std::size_t fewest_triangles = 40;
constexpr float most_error = 0.05f, most_error_by_cells = 0.4f;  // of the mesh's extent
constexpr std::size_t most_measured = 1500;                      // indices
constexpr std::size_t share = 4;  // a level aims at a quarter of the one before

using Indices = std::vector<std::uint32_t>;

/// By what quadrics allow: no edge of the outline moves.
Indices by_quadrics(const Mesh& mesh, std::span<const std::uint32_t> from, std::size_t wanted, float& error) {
    Indices fewer(from.size());
    fewer.resize(meshopt_simplify(fewer.data(), from.data(), from.size(), mesh.positions.front().data(),
                                  mesh.positions.size(), sizeof(Vec3f), wanted, most_error,
                                  meshopt_SimplifyLockBorder, &error));
    return fewer;
}

/// Where edges are all there is, as on plates and bolts: corners that lie near each other become one.
Indices by_cells(const Mesh& mesh, std::span<const std::uint32_t> from, std::size_t wanted) {
    Indices fewer(from.size());
    fewer.resize(meshopt_simplifySloppy(fewer.data(), from.data(), from.size(), mesh.positions.front().data(),
                                        mesh.positions.size(), sizeof(Vec3f), wanted, most_error_by_cells,
                                        nullptr));
    return fewer;
}

/// How far the farthest corner is from what is left [m].
double farthest(const Mesh& mesh, std::span<const std::uint32_t> from, const Indices& left) {
    const auto place = [&](std::uint32_t v) { return mesh.positions[v].cast<double>(); };
    double most = 0;
    for (const std::uint32_t v : from) {
        double away = 1e300;
        for (std::size_t t = 0; t + 2 < left.size(); t += 3)
            away = std::min(
                away, (nearest_on_triangle(place(v), place(left[t]), place(left[t + 1]), place(left[t + 2])) -
                       place(v))
                          .norm());
        most = std::max(most, away);
    }
    return most;
}

MeshLevel coarser(const Mesh& mesh, const MeshLevel& than, double scale) {
    MeshLevel level;
    for (const Submesh& run : than.submeshes) {
        const std::span from(than.indices.data() + run.first_index, run.index_count);
        const std::size_t wanted = std::max<std::size_t>(run.index_count / share / 3, 2) * 3;
        float reported = 0;
        Indices fewer = by_quadrics(mesh, from, wanted, reported);
        const bool is_small = from.size() <= most_measured;
        if (2 * fewer.size() > from.size() && is_small) {
            Indices cells = by_cells(mesh, from, wanted);
            if (!cells.empty() && 2 * cells.size() <= from.size()) fewer = std::move(cells);
        }
        if (fewer.empty()) fewer.assign(from.begin(), from.end());
        // Quadrics tell how far planes are missed, which for thin things says little.
        level.error_m = std::max(level.error_m, is_small ? farthest(mesh, from, fewer) : reported * scale);
        // In an order in which who draws finds most corners again.
        meshopt_optimizeVertexCache(fewer.data(), fewer.data(), fewer.size(), mesh.positions.size());
        Submesh kept = run;
        kept.first_index = static_cast<std::uint32_t>(level.indices.size());
        kept.index_count = static_cast<std::uint32_t>(fewer.size());
        level.submeshes.push_back(kept);
        level.indices.insert(level.indices.end(), fewer.begin(), fewer.end());
    }
    level.error_m += than.error_m;
    return level;
}

}  // namespace

std::vector<MeshLevel> mesh_levels(const Mesh& mesh) {
    std::vector<MeshLevel> levels;
    if (mesh.triangle_count() < fewest_triangles) return levels;
    MeshLevel finest{mesh.indices, mesh.submeshes, 0};
    if (finest.submeshes.empty())
        finest.submeshes.push_back({MaterialId{}, 0, static_cast<std::uint32_t>(mesh.indices.size()), {}});
    const double scale =
        meshopt_simplifyScale(mesh.positions.front().data(), mesh.positions.size(), sizeof(Vec3f));
    const MeshLevel* last = &finest;
    while (last->indices.size() / 3 >= fewest_triangles) {
        MeshLevel level = coarser(mesh, *last, scale);
        if (2 * level.indices.size() > last->indices.size()) break;
        levels.push_back(std::move(level));
        last = &levels.back();
    }
    return levels;
}

}  // namespace pivrak
