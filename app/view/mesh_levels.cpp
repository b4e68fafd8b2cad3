#include "app/view/mesh_levels.h"

#include <meshoptimizer.h>

#include <algorithm>

namespace pivrak {
namespace {

constexpr std::size_t fewest_triangles = 64;
constexpr float most_error = 0.05f;  // of the mesh's extent
constexpr std::size_t share = 4;     // a level aims at a quarter of the one before

MeshLevel coarser(const Mesh& mesh, const MeshLevel& than, double scale) {
    MeshLevel level;
    for (const Submesh& run : than.submeshes) {
        const std::uint32_t* from = than.indices.data() + run.first_index;
        std::vector<std::uint32_t> fewer(run.index_count);
        const std::size_t wanted = std::max<std::size_t>(run.index_count / share / 3, 2) * 3;
        float error = 0;
        const std::size_t count = meshopt_simplify(
            fewer.data(), from, run.index_count, mesh.positions.front().data(), mesh.positions.size(),
            sizeof(Vec3f), wanted, most_error, meshopt_SimplifyLockBorder, &error);
        Submesh kept = run;
        kept.first_index = static_cast<std::uint32_t>(level.indices.size());
        kept.index_count = static_cast<std::uint32_t>(count);
        level.submeshes.push_back(kept);
        level.indices.insert(level.indices.end(), fewer.begin(),
                             fewer.begin() + static_cast<std::ptrdiff_t>(count));
        level.error_m = std::max(level.error_m, error * scale);
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
