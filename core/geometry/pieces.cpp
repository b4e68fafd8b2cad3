#include "core/geometry/pieces.h"

#include <bit>
#include <cmath>
#include <limits>
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
    std::vector<std::uint32_t> roots() && {
        for (std::uint32_t v = 0; v < parent_.size(); ++v) parent_[v] = find(v);
        return std::move(parent_);
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
          cell_(tolerance > 0 ? 32.0 * tolerance : 1e-6),
          mask_(std::bit_ceil(positions.size() + 1) - 1),
          head_(mask_ + 1, none),
          next_(positions.size(), none) {}

    void run(DisjointSets& sets) {
        for (std::uint32_t v = 0; v < positions_.size(); ++v) place(v, sets);
    }

private:
    struct Span {
        std::int64_t home, low, high;
    };

    Span span(double coordinate) const {
        const double scaled = coordinate / cell_;
        return {static_cast<std::int64_t>(std::floor(scaled)),
                static_cast<std::int64_t>(std::floor((coordinate - tolerance_) / cell_)),
                static_cast<std::int64_t>(std::floor((coordinate + tolerance_) / cell_))};
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
    double tolerance_, cell_;
    std::size_t mask_;
    std::vector<std::uint32_t> head_, next_;
};

TriangleLabels number_by_first_triangle(const Mesh& mesh, const std::vector<std::uint32_t>& root_of_vertex) {
    TriangleLabels labels;
    labels.of_triangle.resize(mesh.triangle_count());
    std::vector<std::uint32_t> label_of_root(mesh.positions.size(), none);
    for (std::size_t t = 0; t < labels.of_triangle.size(); ++t) {
        std::uint32_t& label = label_of_root[root_of_vertex[mesh.indices[3 * t]]];
        if (label == none) label = labels.count++;
        labels.of_triangle[t] = label;
    }
    return labels;
}

}  // namespace

std::vector<std::uint32_t> connected_vertices(const Mesh& mesh) {
    DisjointSets sets(mesh.positions.size());
    unite_triangles(mesh, sets);
    return std::move(sets).roots();
}

TriangleLabels label_loose_pieces(const Mesh& mesh, const PieceOptions& options) {
    DisjointSets sets(mesh.positions.size());
    unite_triangles(mesh, sets);
    Welder(mesh.positions, options.weld_m).run(sets);
    return number_by_first_triangle(mesh, std::move(sets).roots());
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
