#pragma once

#include <bit>
#include <cmath>
#include <cstdint>
#include <limits>
#include <vector>

#include "core/geometry/types.h"

namespace pivrak {

/// Disjoint sets over numbers from 0. The smaller root always wins, so results do not depend on chance.
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

/// Joins points that lie within a tolerance of each other.
///
/// Points fall into cells much larger than the tolerance, so nearly always one cell is looked at; only
/// points within the tolerance of a cell's wall look across it too. Cells hash to chained buckets; the
/// distance test alone decides, so two cells in one bucket do no harm.
class Welder {
public:
    /// The positions are kept by reference. A tolerance of zero joins equal positions only.
    Welder(const std::vector<Vec3f>& positions, double tolerance_m);

    /// Joins a point to every earlier one near it that was placed.
    void place(std::uint32_t v, DisjointSets& sets);

private:
    struct Span {
        std::int64_t home, low, high;
    };
    Span span(double coordinate) const;
    std::size_t bucket(std::int64_t x, std::int64_t y, std::int64_t z) const;
    bool join_bucket(std::size_t at, std::uint32_t v, DisjointSets& sets);

    const std::vector<Vec3f>& positions_;
    double tolerance_, per_cell_, reach_;  // reach: the tolerance in cells
    std::size_t mask_;
    std::vector<std::uint32_t> head_, next_;
};

/// Points after welding: which one each vertex is, numbered from 0 in the order of their first vertex.
struct WeldedPoints {
    std::vector<std::uint32_t> of_vertex;
    std::vector<std::uint32_t> first_vertex;  ///< of each point
    std::uint32_t count() const { return static_cast<std::uint32_t>(first_vertex.size()); }
};
WeldedPoints weld_points(const std::vector<Vec3f>& positions, double tolerance_m = 0);

}  // namespace pivrak
