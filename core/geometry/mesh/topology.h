#pragma once

#include "core/geometry/mesh/mesh.h"
#include "core/geometry/mesh/weld.h"

namespace pivrak {

/// How the triangles of a mesh hang together once vertices at the same place count as one point. Hard edges
/// and texture seams, which split vertices, are no borders here.
struct MeshTopology {
    /// One triangle's side of an edge. Side `3 t + k` runs from corner k of triangle t to the next one.
    struct Edge {
        std::uint32_t low, high;     ///< points, low < high
        std::uint32_t first, count;  ///< its sides in `sides_by_edge`
    };

    WeldedPoints points;
    std::vector<Edge> edges;
    std::vector<std::uint32_t> sides_by_edge;  ///< side numbers, grouped by edge, rising
    std::vector<std::uint32_t> edge_of_side;   ///< `no_edge` for a side whose ends are one point

    static constexpr std::uint32_t no_edge = ~0u;

    std::uint32_t point(const Mesh& mesh, std::uint32_t side) const {
        return points.of_vertex[mesh.indices[side]];
    }
    /// Sides of an edge.
    const std::uint32_t* begin(const Edge& edge) const { return sides_by_edge.data() + edge.first; }
    const std::uint32_t* end(const Edge& edge) const { return begin(edge) + edge.count; }
};

/// The side after this one in its triangle.
inline std::uint32_t next_side(std::uint32_t side) {
    return side % 3 == 2 ? side - 2 : side + 1;
}

/// Pre: every index is below `positions.size()`. `weld_m` as for unconnected pieces; zero welds equal
/// positions.
MeshTopology mesh_topology(const Mesh& mesh, double weld_m = 0);

/// Unit normal of each triangle by the order of its corners; zero for one without area.
std::vector<Vec3> face_normals(const Mesh& mesh);

/// Area [m²] of one triangle.
double triangle_area(const Mesh& mesh, std::size_t triangle);

}  // namespace pivrak
