#include "core/geometry/mesh/regions.h"

#include <algorithm>
#include <cmath>
#include <set>
#include <unordered_map>

#include "core/geometry/mesh/label_runs.h"
#include "core/geometry/mesh/mesh_edit.h"

namespace pivrak {
namespace {

/// Spreads a mark over sides that may be crossed.
template <class MayCross>
void flood(const MeshTopology& topology, std::vector<std::uint32_t>& pending, FaceMask& reached,
           MayCross may_cross) {
    while (!pending.empty()) {
        const std::uint32_t t = pending.back();
        pending.pop_back();
        for (std::uint32_t side = 3 * t; side < 3 * t + 3; ++side) {
            const std::uint32_t e = topology.edge_of_side[side];
            if (e == MeshTopology::no_edge) continue;
            const MeshTopology::Edge& edge = topology.edges[e];
            for (const std::uint32_t* other = topology.begin(edge); other != topology.end(edge); ++other) {
                const std::uint32_t next = *other / 3;
                if (reached[next] || !may_cross(edge, t, next)) continue;
                reached[next] = true;
                pending.push_back(next);
            }
        }
    }
}

std::vector<std::uint32_t> marked(const FaceMask& mask) {
    std::vector<std::uint32_t> list;
    for (std::uint32_t t = 0; t < mask.size(); ++t)
        if (mask[t]) list.push_back(t);
    return list;
}

/// Only an edge of two faces is smooth; where more meet, surfaces end.
struct SmoothEdges {
    const std::vector<Vec3>& normals;
    double least_cosine;
    bool operator()(const MeshTopology::Edge& edge, std::uint32_t a, std::uint32_t b) const {
        return edge.count == 2 && normals[a].dot(normals[b]) >= least_cosine;
    }
};

/// Faces that touch a point with the mark.
FaceMask touching(const Mesh& mesh, const MeshTopology& topology, const FaceMask& mask) {
    std::vector<bool> points(topology.points.count(), false);
    for (std::uint32_t side = 0; side < mesh.indices.size(); ++side)
        if (mask[side / 3]) points[topology.point(mesh, side)] = true;
    FaceMask out(mask.size(), false);
    for (std::uint32_t side = 0; side < mesh.indices.size(); ++side)
        if (points[topology.point(mesh, side)]) out[side / 3] = true;
    return out;
}

}  // namespace

FaceMask grow_to_pieces(const Mesh& mesh, const FaceMask& picked, const PieceOptions& options) {
    const TriangleLabels labels = label_loose_pieces(mesh, options);
    std::vector<bool> hit(labels.count, false);
    for (std::size_t t = 0; t < picked.size(); ++t)
        if (picked[t]) hit[labels.of_triangle[t]] = true;
    FaceMask out(picked.size());
    for (std::size_t t = 0; t < out.size(); ++t) out[t] = hit[labels.of_triangle[t]];
    return out;
}

FaceMask grow_within_angle(const Mesh& mesh, const MeshTopology& topology, const FaceMask& picked,
                           double angle_rad) {
    const std::vector<Vec3> normals = face_normals(mesh);
    FaceMask out = picked;
    std::vector<std::uint32_t> pending = marked(picked);
    flood(topology, pending, out, SmoothEdges{normals, std::cos(angle_rad) - 1e-12});
    return out;
}

FaceMask grow_to_material(const Mesh& mesh, const FaceMask& picked) {
    const std::vector<MaterialId> materials = triangle_materials(mesh);
    std::set<MaterialId> wanted;
    for (std::size_t t = 0; t < picked.size(); ++t)
        if (picked[t]) wanted.insert(materials[t]);
    FaceMask out(picked.size());
    for (std::size_t t = 0; t < out.size(); ++t) out[t] = wanted.contains(materials[t]);
    return out;
}

FaceMask grow_ring(const Mesh& mesh, const MeshTopology& topology, const FaceMask& picked) {
    return touching(mesh, topology, picked);
}

FaceMask shrink_ring(const Mesh& mesh, const MeshTopology& topology, const FaceMask& picked) {
    FaceMask others = picked;
    others.flip();
    FaceMask out = touching(mesh, topology, others);
    out.flip();
    return out;
}

FaceMask grow_same_size(const Mesh& mesh, const FaceMask& picked) {
    std::vector<double> wanted;
    for (std::size_t t = 0; t < picked.size(); ++t)
        if (picked[t]) wanted.push_back(triangle_area(mesh, t));
    std::sort(wanted.begin(), wanted.end());
    FaceMask out(picked.size());
    for (std::size_t t = 0; t < out.size(); ++t) {
        const double area = triangle_area(mesh, t);
        const auto near = std::lower_bound(wanted.begin(), wanted.end(), 0.99 * area);
        out[t] = near != wanted.end() && *near <= 1.01 * area;
    }
    return out;
}

TriangleLabels label_by_crease(const Mesh& mesh, double angle_rad, double weld_m) {
    const MeshTopology topology = mesh_topology(mesh, weld_m);
    const std::vector<Vec3> normals = face_normals(mesh);
    const SmoothEdges smooth{normals, std::cos(angle_rad) - 1e-12};
    TriangleLabels labels;
    labels.of_triangle.assign(mesh.triangle_count(), 0);
    FaceMask reached(mesh.triangle_count(), false);
    std::vector<std::uint32_t> pending;
    for (std::uint32_t t = 0; t < reached.size(); ++t) {
        if (reached[t]) continue;
        reached[t] = true;
        pending.push_back(t);
        labels.of_triangle[t] = labels.count;
        flood(topology, pending, reached,
              [&](const MeshTopology::Edge& edge, std::uint32_t a, std::uint32_t b) {
                  if (!smooth(edge, a, b)) return false;
                  labels.of_triangle[b] = labels.count;
                  return true;
              });
        ++labels.count;
    }
    return labels;
}

TriangleLabels label_by_group(const Mesh& mesh) {
    TriangleLabels labels = label_runs(mesh, &Submesh::group);
    if (!mesh.indices.empty()) labels.count = std::max<std::uint32_t>(labels.count, 1);
    return labels;
}

TriangleLabels label_by_mask(const FaceMask& picked) {
    TriangleLabels labels;
    const auto count = static_cast<std::size_t>(std::count(picked.begin(), picked.end(), true));
    labels.of_triangle.assign(picked.size(), 0);
    labels.count = picked.empty() ? 0 : 1;
    if (count == 0 || count == picked.size()) return labels;
    for (std::size_t t = 0; t < picked.size(); ++t) labels.of_triangle[t] = picked[t] ? 1 : 0;
    labels.count = 2;
    return labels;
}

}  // namespace pivrak
