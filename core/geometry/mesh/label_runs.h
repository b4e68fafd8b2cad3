#pragma once

#include <unordered_map>

#include "core/geometry/mesh/pieces.h"

namespace pivrak {

/// A label for each different key of a mesh's runs of triangles, in the order in which they come.
template <class Key>
TriangleLabels label_runs(const Mesh& mesh, Key Submesh::*key) {
    TriangleLabels labels;
    labels.of_triangle.assign(mesh.triangle_count(), 0);
    std::unordered_map<Key, std::uint32_t> label_of;
    for (const Submesh& run : mesh.submeshes) {
        if (run.index_count == 0) continue;
        const auto label =
            label_of.try_emplace(run.*key, static_cast<std::uint32_t>(label_of.size())).first->second;
        for (std::uint32_t t = run.first_index / 3; t < (run.first_index + run.index_count) / 3; ++t)
            labels.of_triangle[t] = label;
    }
    labels.count = static_cast<std::uint32_t>(label_of.size());
    return labels;
}

}  // namespace pivrak
