#include "core/geometry/mesh/triangulate.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <numeric>

namespace pivrak {

double doubled_area(const Loop& loop) {
    double sum = 0;
    for (std::size_t i = 0; i < loop.size(); ++i) {
        const Vec2 &p = loop[i], &q = loop[(i + 1) % loop.size()];
        sum += p.x() * q.y() - p.y() * q.x();
    }
    return sum;
}

namespace {

using Corners = std::array<std::uint32_t, 3>;

double cross(const Vec2& a, const Vec2& b, const Vec2& c) {
    return (b.x() - a.x()) * (c.y() - a.y()) - (b.y() - a.y()) * (c.x() - a.x());
}

/// Even-odd test against one loop.
bool inside(const Vec2& p, const Loop& loop) {
    bool in = false;
    for (std::size_t i = 0, j = loop.size() - 1; i < loop.size(); j = i++) {
        const Vec2 &a = loop[i], &b = loop[j];
        if ((a.y() > p.y()) != (b.y() > p.y()) &&
            p.x() < (b.x() - a.x()) * (p.y() - a.y()) / (b.y() - a.y()) + a.x())
            in = !in;
    }
    return in;
}

/// A ring of points from which ears are cut.
class EarCutter {
public:
    EarCutter(const std::vector<Vec2>& points, std::vector<Corners>& out) : points_(points), out_(out) {}

    /// `ring`: numbers of points, counter-clockwise, bridges gone both ways.
    void cut(const std::vector<std::uint32_t>& ring) {
        const auto n = static_cast<std::uint32_t>(ring.size());
        ring_ = ring;
        next_.resize(n);
        previous_.resize(n);
        for (std::uint32_t i = 0; i < n; ++i) {
            next_[i] = (i + 1) % n;
            previous_[i] = (i + n - 1) % n;
        }
        // Well-formed ears first: points in the middle of a straight side would else make slivers.
        constexpr std::array<double, 4> least_sines{0.05, 1e-3, 1e-6, 0};
        std::size_t level = 0;
        std::uint32_t left = n, at = 0, failed = 0;
        while (left > 3) {
            if (level < least_sines.size() ? is_ear(at, least_sines[level]) : at == flattest(at)) {
                emit(at);
                at = next_[next_[at]];
                --left;
                failed = 0;
                level = 0;
                continue;
            }
            at = level < least_sines.size() ? next_[at] : flattest(at);
            if (++failed < left) continue;
            failed = 0;
            ++level;
        }
        if (left == 3) emit(at);
    }

private:
    const Vec2& p(std::uint32_t i) const { return points_[ring_[i]]; }

    /// Whether a point at the place of corner `b` sends one of its sides into the wedge of the ear there.
    bool enters(std::uint32_t other, const Vec2& a, const Vec2& b, const Vec2& c) const {
        for (const Vec2& q : {p(next_[other]), p(previous_[other])})
            if (cross(a, b, q) > 0 && cross(b, c, q) > 0 && cross(c, a, q) > 0) return true;
        return false;
    }

    /// `least_sine`: of the corner, and of the angle at which any other point may be seen from the new side.
    bool is_ear(std::uint32_t i, double least_sine) const {
        const std::uint32_t before = previous_[i], after = next_[i];
        const Vec2 &a = p(before), &b = p(i), &c = p(after);
        const double bend = cross(a, b, c);
        if (bend <= 0 || bend < least_sine * (b - a).norm() * (c - b).norm()) return false;
        const double margin = 0.1 * least_sine * (a - c).norm();
        const double slack = margin * (a - c).norm();
        const Vec2 low = a.cwiseMin(b).cwiseMin(c), high = a.cwiseMax(b).cwiseMax(c);
        for (std::uint32_t k = next_[after]; k != before; k = next_[k]) {
            const Vec2& q = p(k);
            if (q.x() < low.x() - margin || q.x() > high.x() + margin || q.y() < low.y() - margin ||
                q.y() > high.y() + margin)
                continue;
            if (q == a || q == b || q == c) {
                if (enters(k, a, b, c) || (q != b && crosses_at_end(k, q == a ? before : after, i)))
                    return false;
                continue;
            }
            if (cross(a, b, q) >= 0 && cross(b, c, q) >= 0 && cross(c, a, q) >= -slack) return false;
        }
        return true;
    }

    /// A double of an end of the new side must not lie beyond it: the side would cut through its wedge.
    bool crosses_at_end(std::uint32_t other, std::uint32_t end, std::uint32_t ear) const {
        const std::uint32_t far = end == previous_[ear] ? next_[ear] : previous_[ear];
        const Vec2 &e = p(end), &f = p(far), &before = p(previous_[other]), &after = p(next_[other]);
        const bool convex = cross(before, e, after) >= 0;
        const bool left_of_in = cross(before, e, f) > 0, left_of_out = cross(e, after, f) > 0;
        const bool in_wedge = convex ? left_of_in && left_of_out : left_of_in || left_of_out;
        // The wedge of the double is part of the region; its own copy must be the one that is joined.
        const Vec2 &own_before = p(previous_[end]), &own_after = p(next_[end]);
        const bool own_convex = cross(own_before, e, own_after) >= 0;
        const bool own_in = cross(own_before, e, f) >= 0, own_out = cross(e, own_after, f) >= 0;
        const bool in_own = own_convex ? own_in && own_out : own_in || own_out;
        return in_wedge && !in_own;
    }

    /// Where nothing is an ear, the region is degenerate: the flattest corner goes.
    std::uint32_t flattest(std::uint32_t start) const {
        std::uint32_t best = start;
        double least = std::numeric_limits<double>::infinity();
        std::uint32_t i = start;
        do {
            const double bend = cross(p(previous_[i]), p(i), p(next_[i]));
            if (std::abs(bend) < least) {
                least = std::abs(bend);
                best = i;
            }
            i = next_[i];
        } while (i != start);
        return best;
    }

    void emit(std::uint32_t i) {
        const Corners t{ring_[previous_[i]], ring_[i], ring_[next_[i]]};
        if (cross(points_[t[0]], points_[t[1]], points_[t[2]]) > 0) out_.push_back(t);
        next_[previous_[i]] = next_[i];
        previous_[next_[i]] = previous_[i];
    }

    const std::vector<Vec2>& points_;
    std::vector<Corners>& out_;
    std::vector<std::uint32_t> ring_, next_, previous_;
};

/// One outline with the holes directly inside it.
struct Region {
    std::size_t outline;
    std::vector<std::size_t> holes;
};

/// Sorts loops by how many others they lie in: even ones are outlines, odd ones holes of the smallest around.
std::vector<Region> regions_of(const std::vector<Loop>& loops) {
    const std::size_t n = loops.size();
    std::vector<std::size_t> depth(n, 0);
    std::vector<std::vector<std::size_t>> around(n);
    for (std::size_t i = 0; i < n; ++i)
        for (std::size_t j = 0; j < n; ++j)
            if (i != j && !loops[i].empty() && loops[j].size() > 2 && inside(loops[i].front(), loops[j])) {
                ++depth[i];
                around[i].push_back(j);
            }
    std::vector<Region> regions;
    std::vector<std::size_t> region_of(n, n);
    for (std::size_t i = 0; i < n; ++i)
        if (depth[i] % 2 == 0 && loops[i].size() > 2) {
            region_of[i] = regions.size();
            regions.push_back({i, {}});
        }
    for (std::size_t i = 0; i < n; ++i) {
        if (depth[i] % 2 == 0 || loops[i].size() < 3) continue;
        for (const std::size_t j : around[i])
            if (depth[j] + 1 == depth[i] && region_of[j] < regions.size())
                regions[region_of[j]].holes.push_back(i);
    }
    return regions;
}

/// The ring of an outline into which holes are spliced by bridges.
class Bridger {
public:
    explicit Bridger(const std::vector<Vec2>& points) : points_(points) {}

    std::vector<std::uint32_t> join(std::vector<std::uint32_t> ring,
                                    std::vector<std::vector<std::uint32_t>> holes) {
        // From the right: each hole then sees the ring or a hole that is already part of it.
        const auto rightmost = [&](const std::vector<std::uint32_t>& hole) {
            return *std::max_element(hole.begin(), hole.end(), [&](std::uint32_t a, std::uint32_t b) {
                return points_[a].x() != points_[b].x() ? points_[a].x() < points_[b].x()
                                                        : points_[a].y() > points_[b].y();
            });
        };
        std::sort(holes.begin(), holes.end(), [&](const auto& a, const auto& b) {
            const std::uint32_t p = rightmost(a), q = rightmost(b);
            return points_[p].x() != points_[q].x() ? points_[p].x() > points_[q].x() : p < q;
        });
        for (const auto& hole : holes) {
            const std::uint32_t start = rightmost(hole);
            const std::size_t at = bridge_end(ring, points_[start]);
            const auto first =
                static_cast<std::size_t>(std::find(hole.begin(), hole.end(), start) - hole.begin());
            std::vector<std::uint32_t> spliced(ring.begin(),
                                               ring.begin() + static_cast<std::ptrdiff_t>(at) + 1);
            for (std::size_t k = 0; k <= hole.size(); ++k) spliced.push_back(hole[(first + k) % hole.size()]);
            spliced.insert(spliced.end(), ring.begin() + static_cast<std::ptrdiff_t>(at), ring.end());
            ring = std::move(spliced);
        }
        return ring;
    }

private:
    /// Place in the ring of a corner that can be seen from `from`, looking to the right.
    std::size_t bridge_end(const std::vector<std::uint32_t>& ring, const Vec2& from) const {
        const std::size_t n = ring.size();
        double nearest = std::numeric_limits<double>::infinity();
        std::size_t best = 0;
        Vec2 hit = from;
        for (std::size_t i = 0; i < n; ++i) {
            const Vec2 &a = points_[ring[i]], &b = points_[ring[(i + 1) % n]];
            // Only sides that run upwards have the region to their left, where the hole is.
            if (!(a.y() <= from.y() && from.y() <= b.y()) || a.y() == b.y()) continue;
            const double x = a.x() + (from.y() - a.y()) / (b.y() - a.y()) * (b.x() - a.x());
            if (x < from.x() || x >= nearest) continue;
            nearest = x;
            hit = Vec2(x, from.y());
            best = a.x() > b.x() ? i : (i + 1) % n;
            if (from.y() == a.y()) best = i;
            if (from.y() == b.y()) best = (i + 1) % n;
        }
        if (points_[ring[best]] == hit) return widest_copy(ring, best, from);
        // Corners inside the triangle between the eye, the hit and the chosen end hide it: the one seen under
        // the smallest angle stands free.
        const Vec2 end = points_[ring[best]];
        std::size_t seen = best;
        double smallest = std::numeric_limits<double>::infinity(), closest = smallest;
        for (std::size_t i = 0; i < n; ++i) {
            const Vec2& q = points_[ring[i]];
            if (q.x() < from.x() || (q == end && i != best)) continue;
            const bool above = end.y() > from.y();
            const Vec2 &t1 = above ? hit : end, &t2 = above ? end : hit;
            if (q != end && (cross(from, t1, q) < 0 || cross(t1, t2, q) < 0 || cross(t2, from, q) < 0))
                continue;
            if (q != end && !is_reflex(ring, i)) continue;
            const double slope = std::abs(q.y() - from.y()) / std::max(q.x() - from.x(), 1e-300);
            const double distance = (q - from).squaredNorm();
            if (slope < smallest || (slope == smallest && distance < closest)) {
                smallest = slope;
                closest = distance;
                seen = i;
            }
        }
        return widest_copy(ring, seen, from);
    }

    bool is_reflex(const std::vector<std::uint32_t>& ring, std::size_t i) const {
        const std::size_t n = ring.size();
        return cross(points_[ring[(i + n - 1) % n]], points_[ring[i]], points_[ring[(i + 1) % n]]) <= 0;
    }

    /// Of several copies of a corner (bridges double them) the one whose wedge looks at the hole.
    std::size_t widest_copy(const std::vector<std::uint32_t>& ring, std::size_t chosen,
                            const Vec2& from) const {
        const std::size_t n = ring.size();
        const Vec2& corner = points_[ring[chosen]];
        for (std::size_t i = 0; i < n; ++i) {
            if (points_[ring[i]] != corner) continue;
            const Vec2 &before = points_[ring[(i + n - 1) % n]], &after = points_[ring[(i + 1) % n]];
            const bool convex = cross(before, corner, after) > 0;
            const bool in = cross(before, corner, from) > 0, out = cross(corner, after, from) > 0;
            if (convex ? in && out : in || out) return i;
        }
        return chosen;
    }

    const std::vector<Vec2>& points_;
};

}  // namespace

std::vector<Corners> triangulate(const std::vector<Loop>& loops) {
    std::vector<Vec2> points;
    std::vector<std::uint32_t> first;
    for (const Loop& loop : loops) {
        first.push_back(static_cast<std::uint32_t>(points.size()));
        points.insert(points.end(), loop.begin(), loop.end());
    }
    const auto ring_of = [&](std::size_t loop, bool counter_clockwise) {
        std::vector<std::uint32_t> ring(loops[loop].size());
        std::iota(ring.begin(), ring.end(), first[loop]);
        if ((doubled_area(loops[loop]) > 0) != counter_clockwise) std::reverse(ring.begin(), ring.end());
        return ring;
    };
    std::vector<Corners> triangles;
    EarCutter cutter(points, triangles);
    Bridger bridger(points);
    for (const Region& region : regions_of(loops)) {
        std::vector<std::vector<std::uint32_t>> holes;
        for (const std::size_t hole : region.holes) holes.push_back(ring_of(hole, false));
        cutter.cut(bridger.join(ring_of(region.outline, true), std::move(holes)));
    }
    return triangles;
}

}  // namespace pivrak
