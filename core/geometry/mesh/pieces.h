#pragma once

#include <cstdint>
#include <vector>

#include "core/geometry/mesh/mesh.h"

namespace pivrak {

/// Which label each triangle carries. Labels are numbered from 0 in the order of their first triangle.
struct TriangleLabels {
    std::vector<std::uint32_t> of_triangle;
    std::uint32_t count = 0;
};

struct PieceOptions {
    /// Vertices at most this far apart count as one point [m]. Zero welds only equal positions.
    double weld_m = 1e-5;
};

/// Unconnected pieces: runs of triangles connected through shared or welded vertices.
/// Pre: every index is below `positions.size()`. An empty mesh has no piece.
TriangleLabels label_loose_pieces(const Mesh& mesh, const PieceOptions& options = {});

/// One label for each material that has a triangle, in the order of the submeshes.
TriangleLabels label_by_material(const Mesh& mesh);

/// Union-find over the vertices of the triangles alone, with no welding: the root of every vertex.
/// The plain pass that `label_loose_pieces` is measured against.
std::vector<std::uint32_t> connected_vertices(const Mesh& mesh);

}  // namespace pivrak
