#include "core/geometry/mesh/pieces.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <numeric>
#include <unordered_map>

#include "core/geometry/mesh/label_runs.h"
#include "core/geometry/mesh/weld.h"

namespace pivrak {
namespace {

constexpr std::uint32_t no_piece = std::numeric_limits<std::uint32_t>::max();

void unite_triangles(const Mesh& mesh, DisjointSets& sets) {
    for (std::size_t i = 0; i + 2 < mesh.indices.size(); i += 3) {
        sets.unite(mesh.indices[i], mesh.indices[i + 1]);
        sets.unite(mesh.indices[i], mesh.indices[i + 2]);
    }
}

struct FloatBox {
    Vec3f low = Vec3f::Constant(std::numeric_limits<float>::max());
    Vec3f high = Vec3f::Constant(std::numeric_limits<float>::lowest());
};

/// What hangs together by indices alone, numbered from 0.
struct Components {
    std::vector<std::uint32_t> of_vertex;
    std::vector<std::uint32_t> first_vertex;  ///< of each component
    std::vector<FloatBox> boxes;
    std::uint32_t count() const { return static_cast<std::uint32_t>(first_vertex.size()); }
};

Components number_components(const Mesh& mesh, const std::vector<std::uint32_t>& roots) {
    Components c;
    c.of_vertex.resize(roots.size());
    // A root is the smallest vertex of its set, so it is numbered before the others ask for it.
    for (std::uint32_t v = 0; v < roots.size(); ++v) {
        const bool is_first = roots[v] == v;
        const std::uint32_t component = is_first ? c.count() : c.of_vertex[roots[v]];
        c.of_vertex[v] = component;
        if (is_first) {
            c.first_vertex.push_back(v);
            c.boxes.emplace_back();
        }
        FloatBox& box = c.boxes[component];
        box.low = box.low.cwiseMin(mesh.positions[v]);
        box.high = box.high.cwiseMax(mesh.positions[v]);
    }
    return c;
}

/// Components whose boxes, grown by the tolerance, touch another's: only there can vertices weld. Boxes are
/// swept along x; when nearly everything overlaps, the sweep gives up and marks the rest.
std::vector<bool> near_another(const Components& components, double tolerance) {
    const std::vector<FloatBox>& boxes = components.boxes;
    std::vector<std::uint32_t> order(components.count());
    std::iota(order.begin(), order.end(), 0);
    std::sort(order.begin(), order.end(),
              [&](std::uint32_t a, std::uint32_t b) { return boxes[a].low.x() < boxes[b].low.x(); });
    // Rounding of a sum in single precision is covered by a little more than the tolerance.
    const Vec3f grow = Vec3f::Constant(static_cast<float>(tolerance * 1.001));
    std::vector<bool> near(components.count(), false);
    std::size_t budget = 64 * std::size_t{components.count()} + 1024;
    for (std::size_t i = 0; i < order.size(); ++i) {
        const FloatBox& a = boxes[order[i]];
        const Vec3f high = a.high + grow + a.high.cwiseAbs() * 1e-6f;
        for (std::size_t j = i + 1; j < order.size() && boxes[order[j]].low.x() <= high.x(); ++j) {
            if (near[order[i]] && near[order[j]]) continue;
            if (budget-- == 0) return std::vector<bool>(components.count(), true);
            const FloatBox& b = boxes[order[j]];
            const bool touch = (b.low.array() <= high.array()).all() &&
                               (a.low.array() <= (b.high + grow + b.high.cwiseAbs() * 1e-6f).array()).all();
            if (touch) near[order[i]] = near[order[j]] = true;
        }
    }
    return near;
}

/// Where pieces end, after welding: the set of each component.
void weld_components(const Mesh& mesh, const Components& components, double tolerance, DisjointSets& sets) {
    if (components.count() < 2) return;
    // Very many small components are a mesh without shared corners: their boxes would tell nothing.
    const bool many = components.count() > mesh.positions.size() / 16;
    const std::vector<bool> marked =
        many ? std::vector<bool>(components.count(), true) : near_another(components, tolerance);
    if (std::find(marked.begin(), marked.end(), true) == marked.end()) return;
    Welder welder(mesh.positions, tolerance);
    for (std::uint32_t v = 0; v < mesh.positions.size(); ++v)
        if (marked[components.of_vertex[v]]) welder.place(v, sets);
}

TriangleLabels number_by_first_triangle(const Mesh& mesh, const Components& components, DisjointSets& sets) {
    // Welding joins sets, so a component is looked up once, through its first vertex.
    std::vector<std::uint32_t> label_of_component(components.count(), no_piece);
    TriangleLabels labels;
    labels.of_triangle.resize(mesh.triangle_count());
    std::unordered_map<std::uint32_t, std::uint32_t> label_of_set;
    for (std::size_t t = 0; t < labels.of_triangle.size(); ++t) {
        const std::uint32_t component = components.of_vertex[mesh.indices[3 * t]];
        std::uint32_t& label = label_of_component[component];
        if (label == no_piece)
            label = label_of_set
                        .try_emplace(sets.find(components.first_vertex[component]),
                                     static_cast<std::uint32_t>(label_of_set.size()))
                        .first->second;
        labels.of_triangle[t] = label;
    }
    labels.count = static_cast<std::uint32_t>(label_of_set.size());
    return labels;
}

}  // namespace

std::vector<std::uint32_t> connected_vertices(const Mesh& mesh) {
    DisjointSets sets(mesh.positions.size());
    unite_triangles(mesh, sets);
    return sets.flatten();
}

TriangleLabels label_loose_pieces(const Mesh& mesh, const PieceOptions& options) {
    DisjointSets sets(mesh.positions.size());
    unite_triangles(mesh, sets);
    const Components components = number_components(mesh, sets.flatten());
    weld_components(mesh, components, options.weld_m, sets);
    return number_by_first_triangle(mesh, components, sets);
}

TriangleLabels label_by_material(const Mesh& mesh) {
    return label_runs(mesh, &Submesh::material);
}

}  // namespace pivrak
