#include "core/geometry/mesh/weld.h"

#include <unordered_map>

namespace pivrak {
namespace {
constexpr std::uint32_t no_vertex = std::numeric_limits<std::uint32_t>::max();

struct PositionHash {
    std::size_t operator()(const Vec3f& p) const {
        std::uint64_t h = 1469598103934665603ull;
        // Adding zero makes minus nothing equal to nothing.
        for (int k = 0; k < 3; ++k)
            h = (h ^ std::bit_cast<std::uint32_t>(p[k] + 0.0f)) * 0x9E3779B97F4A7C15ull;
        return static_cast<std::size_t>(h ^ (h >> 31));
    }
};

WeldedPoints weld_equal(const std::vector<Vec3f>& positions) {
    std::unordered_map<Vec3f, std::uint32_t, PositionHash> known;
    known.reserve(positions.size());
    WeldedPoints points;
    points.of_vertex.resize(positions.size());
    for (std::uint32_t v = 0; v < positions.size(); ++v) {
        const auto [found, added] = known.try_emplace(positions[v], points.count());
        if (added) points.first_vertex.push_back(v);
        points.of_vertex[v] = found->second;
    }
    return points;
}

}  // namespace

Welder::Welder(const std::vector<Vec3f>& positions, double tolerance)
    : positions_(positions),
      tolerance_(tolerance),
      per_cell_(tolerance > 0 ? 1.0 / (32.0 * tolerance) : 1e6),
      reach_(tolerance * per_cell_),
      mask_(std::bit_ceil(positions.size() + 1) - 1),
      head_(mask_ + 1, no_vertex),
      next_(positions.size(), no_vertex) {}

/// Cell of a coordinate, and the cells that points within the tolerance may lie in.
Welder::Span Welder::span(double coordinate) const {
    const double scaled = coordinate * per_cell_;
    std::int64_t home = static_cast<std::int64_t>(scaled);
    home -= scaled < static_cast<double>(home);
    const double inside = scaled - static_cast<double>(home);
    return {home, home - (inside <= reach_), home + (inside >= 1.0 - reach_)};
}

std::size_t Welder::bucket(std::int64_t x, std::int64_t y, std::int64_t z) const {
    std::uint64_t h = static_cast<std::uint64_t>(x) * 0x9E3779B97F4A7C15ull;
    h ^= static_cast<std::uint64_t>(y) * 0xC2B2AE3D27D4EB4Full;
    h ^= static_cast<std::uint64_t>(z) * 0x165667B19E3779F9ull;
    return static_cast<std::size_t>(h ^ (h >> 29)) & mask_;
}

/// Joins `v` to every earlier representative near it; it becomes one itself only when there is none at
/// exactly its place, so chains stay short where many vertices share a corner.
void Welder::place(std::uint32_t v, DisjointSets& sets) {
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

bool Welder::join_bucket(std::size_t at, std::uint32_t v, DisjointSets& sets) {
    const Vec3 p = positions_[v].cast<double>();
    bool same_place = false;
    for (std::uint32_t other = head_[at]; other != no_vertex; other = next_[other]) {
        const double squared = (positions_[other].cast<double>() - p).squaredNorm();
        if (squared > tolerance_ * tolerance_) continue;
        sets.unite(other, v);
        same_place |= squared == 0.0;
    }
    return same_place;
}

WeldedPoints weld_points(const std::vector<Vec3f>& positions, double tolerance) {
    if (tolerance <= 0) return weld_equal(positions);
    DisjointSets sets(positions.size());
    Welder welder(positions, tolerance);
    for (std::uint32_t v = 0; v < positions.size(); ++v) welder.place(v, sets);
    const std::vector<std::uint32_t>& roots = sets.flatten();
    WeldedPoints points;
    points.of_vertex.resize(positions.size());
    // A root is the smallest of its set, so it is numbered before the others ask for it.
    for (std::uint32_t v = 0; v < positions.size(); ++v) {
        if (roots[v] == v) {
            points.of_vertex[v] = points.count();
            points.first_vertex.push_back(v);
        } else {
            points.of_vertex[v] = points.of_vertex[roots[v]];
        }
    }
    return points;
}

}  // namespace pivrak
