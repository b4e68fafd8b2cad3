#include "core/geometry/pieces.h"

#include <algorithm>
#include <bit>
#include <cmath>
#include <limits>
#include <numeric>
#include <unordered_map>

namespace pivrak {
namespace {

constexpr std::uint32_t none = std::numeric_limits<std::uint32_t>::max();

/// Disjoint sets over vertex numbers. The smaller root always wins, so results do not depend on chance.
class DisjointSets {
public:
    explicit DisjointSets(std::size_t count) : parent_(count) {
        for (std::uint32_t i = 0; i < count; ++i) parent_[i] = i;
    }
    std::uint32_t find(std::uint32_t v) {
        while (parent_[v] != v) {
            parent_[v] = parent_[parent_[v]];
            v = parent_[v];
        }
        return v;
    }
    void unite(std::uint32_t a, std::uint32_t b) {
        a = find(a);
        b = find(b);
        if (a < b)
            parent_[b] = a;
        else
            parent_[a] = b;
    }
    /// Lets every element point straight to its root, and shows these.
    const std::vector<std::uint32_t>& flatten() {
        for (std::uint32_t v = 0; v < parent_.size(); ++v)
            parent_[v] = parent_[parent_[v]] == parent_[v] ? parent_[v] : find(v);
        return parent_;
    }

private:
    std::vector<std::uint32_t> parent_;
};

void unite_triangles(const Mesh& mesh, DisjointSets& sets) {
    for (std::size_t i = 0; i + 2 < mesh.indices.size(); i += 3) {
        sets.unite(mesh.indices[i], mesh.indices[i + 1]);
        sets.unite(mesh.indices[i], mesh.indices[i + 2]);
    }
}

/// Joins vertices that lie within a tolerance of each other.
///
/// Points fall into cells much larger than the tolerance, so nearly always one cell is looked at; only
/// points within the tolerance of a cell's wall look across it too. Cells hash to chained buckets; the
/// distance test alone decides, so two cells in one bucket do no harm.
class Welder {
public:
    Welder(const std::vector<Vec3f>& positions, double tolerance)
        : positions_(positions),
          tolerance_(tolerance),
          per_cell_(tolerance > 0 ? 1.0 / (32.0 * tolerance) : 1e6),
          reach_(tolerance * per_cell_),
          mask_(std::bit_ceil(positions.size() + 1) - 1),
          head_(mask_ + 1, none),
          next_(positions.size(), none) {}

    /// Joins the vertices of the components that are marked; `component` gives each vertex's.
    void run(DisjointSets& sets, const std::vector<std::uint32_t>& component,
             const std::vector<bool>& marked) {
        for (std::uint32_t v = 0; v < positions_.size(); ++v)
            if (marked[component[v]]) place(v, sets);
    }

private:
    struct Span {
        std::int64_t home, low, high;
    };

    /// Cell of a coordinate, and the cells that points within the tolerance may lie in.
    Span span(double coordinate) const {
        const double scaled = coordinate * per_cell_;
        std::int64_t home = static_cast<std::int64_t>(scaled);
        home -= scaled < static_cast<double>(home);
        const double inside = scaled - static_cast<double>(home);
        return {home, home - (inside <= reach_), home + (inside >= 1.0 - reach_)};
    }

    std::size_t bucket(std::int64_t x, std::int64_t y, std::int64_t z) const {
        std::uint64_t h = static_cast<std::uint64_t>(x) * 0x9E3779B97F4A7C15ull;
        h ^= static_cast<std::uint64_t>(y) * 0xC2B2AE3D27D4EB4Full;
        h ^= static_cast<std::uint64_t>(z) * 0x165667B19E3779F9ull;
        return static_cast<std::size_t>(h ^ (h >> 29)) & mask_;
    }

    /// Joins `v` to every earlier representative near it; it becomes one itself only when there is none at
    /// exactly its place, so chains stay short where many vertices share a corner.
    void place(std::uint32_t v, DisjointSets& sets) {
        const Vec3f& p = positions_[v];
        const Span x = span(p.x()), y = span(p.y()), z = span(p.z());
        bool known = false;
        for (std::int64_t i = x.low; i <= x.high; ++i)
            for (std::int64_t j = y.low; j <= y.high; ++j)
                for (std::int64_t k = z.low; k <= z.high; ++k) known |= join_bucket(bucket(i, j, k), v, sets);
        if (known) return;
        const std::size_t home = bucket(x.home, y.home, z.home);
        next_[v] = head_[home];
        head_[home] = v;
    }

    bool join_bucket(std::size_t at, std::uint32_t v, DisjointSets& sets) {
        const Vec3 p = positions_[v].cast<double>();
        bool same_place = false;
        for (std::uint32_t other = head_[at]; other != none; other = next_[other]) {
            const double squared = (positions_[other].cast<double>() - p).squaredNorm();
            if (squared > tolerance_ * tolerance_) continue;
            sets.unite(other, v);
            same_place |= squared == 0.0;
        }
        return same_place;
    }

    const std::vector<Vec3f>& positions_;
    double tolerance_, per_cell_, reach_;  // reach: the tolerance in cells
    std::size_t mask_;
    std::vector<std::uint32_t> head_, next_;
};

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
    Welder(mesh.positions, tolerance).run(sets, components.of_vertex, marked);
}

TriangleLabels number_by_first_triangle(const Mesh& mesh, const Components& components, DisjointSets& sets) {
    // Welding joins sets, so a component is looked up once, through its first vertex.
    std::vector<std::uint32_t> label_of_component(components.count(), none);
    TriangleLabels labels;
    labels.of_triangle.resize(mesh.triangle_count());
    std::unordered_map<std::uint32_t, std::uint32_t> label_of_set;
    for (std::size_t t = 0; t < labels.of_triangle.size(); ++t) {
        const std::uint32_t component = components.of_vertex[mesh.indices[3 * t]];
        std::uint32_t& label = label_of_component[component];
        if (label == none)
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
    TriangleLabels labels;
    labels.of_triangle.assign(mesh.triangle_count(), 0);
    std::unordered_map<MaterialId, std::uint32_t> label_of;
    for (const Submesh& sub : mesh.submeshes) {
        if (sub.index_count == 0) continue;
        const auto label =
            label_of.try_emplace(sub.material, static_cast<std::uint32_t>(label_of.size())).first->second;
        for (std::uint32_t t = sub.first_index / 3; t < (sub.first_index + sub.index_count) / 3; ++t)
            labels.of_triangle[t] = label;
    }
    labels.count = static_cast<std::uint32_t>(label_of.size());
    return labels;
}

}  // namespace pivrak
