#pragma once

#include <vector>

#include "core/geometry/mesh/mesh.h"

namespace pivrak {

/// The triangles of a mesh by fewer of them, on the same vertices; submeshes in their order.
struct MeshLevel {
    std::vector<std::uint32_t> indices;
    std::vector<Submesh> submeshes;
    double error_m = 0;  ///< about how far it is from the mesh, in the mesh's frame
};

/// Ever coarser ones, each with at most half of the triangles of the one before; none for a mesh of few
/// triangles. Pieces that do not hang together get coarser each by itself, and are left out where they are no
/// larger than the error. Borders of submeshes stay where they are.
/// Source: quadric error simplification by meshoptimizer, and its clustering where edges leave no other way.
std::vector<MeshLevel> mesh_levels(const Mesh& mesh);

}  // namespace pivrak
