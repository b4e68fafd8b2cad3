#include "core/geometry/sweep_clearance.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <numeric>

#include "core/geometry/sweep_range.h"
#include "core/geometry/triangle_distance.h"

namespace pivrak {
namespace {

constexpr std::size_t leaf_size = 4;
constexpr std::size_t most_pairs_kept = 4000000;
constexpr double infinite = std::numeric_limits<double>::infinity();

struct Node {
    Vec3 middle, half;
    std::uint32_t first = 0, count = 0;  ///< triangles of a leaf
    std::uint32_t left = 0;              ///< children are `left` and `left + 1`; 0 in a leaf
    double speed = 1;                    ///< no point of it moves faster for one unit of the motion
    SweepRange range;
};

}  // namespace

/// Triangles of all members in one frame, under a tree of boxes.
struct SweepTree::Soup {
    SweepKind kind;
    std::vector<Triangle> triangles;
    std::vector<std::uint32_t> member;
    std::vector<SweepRange> ranges;  ///< of the triangles
    std::vector<Node> nodes;

    Soup(const SweepBody& body, SweepKind sweep) : kind(sweep) {
        for (std::size_t m = 0; m < body.members.size(); ++m) {
            const Mesh& mesh = *body.members[m].mesh;
            const Frame& frame = body.members[m].frame_from_mesh;
            for (std::size_t t = 0; t < mesh.triangle_count(); ++t) {
                triangles.push_back({frame.point(mesh.corner(t, 0)), frame.point(mesh.corner(t, 1)),
                                     frame.point(mesh.corner(t, 2))});
                member.push_back(static_cast<std::uint32_t>(m));
            }
        }
        if (!triangles.empty()) build(sweep == SweepKind::Turn);
    }

private:
    void build(bool turns) {
        std::vector<std::uint32_t> order(triangles.size());
        std::iota(order.begin(), order.end(), 0u);
        nodes.reserve(2 * triangles.size() / leaf_size + 2);
        nodes.emplace_back();
        divide(0, order, 0, static_cast<std::uint32_t>(order.size()), turns);
        std::vector<Triangle> sorted;
        std::vector<std::uint32_t> members;
        for (const std::uint32_t t : order) {
            sorted.push_back(triangles[t]);
            members.push_back(member[t]);
        }
        triangles = std::move(sorted);
        member = std::move(members);
        for (const Triangle& t : triangles) ranges.push_back(SweepRange::of(t));
        // Children stand behind their parents.
        for (std::size_t n = nodes.size(); n-- > 0;) {
            Node& node = nodes[n];
            if (node.left) {
                node.range = nodes[node.left].range.with(nodes[node.left + 1].range);
                continue;
            }
            node.range = ranges[node.first];
            for (std::uint32_t t = node.first + 1; t < node.first + node.count; ++t)
                node.range = node.range.with(ranges[t]);
        }
    }

    void divide(std::uint32_t at, std::vector<std::uint32_t>& order, std::uint32_t first, std::uint32_t end,
                bool turns) {
        Bounds box;
        double radius = 0;
        for (std::uint32_t i = first; i < end; ++i)
            for (const Vec3& corner : triangles[order[i]]) {
                box.add(corner);
                radius = std::max(radius, corner.head<2>().norm());
            }
        Node node;
        node.middle = box.middle();
        node.half = 0.5 * box.size();
        node.first = first;
        node.count = end - first;
        node.speed = turns ? radius : 1;
        if (end - first > leaf_size) {
            Eigen::Index axis = 0;
            node.half.maxCoeff(&axis);
            const std::uint32_t middle = first + (end - first) / 2;
            const auto centre = [&](std::uint32_t t) {
                return triangles[t][0][axis] + triangles[t][1][axis] + triangles[t][2][axis];
            };
            std::nth_element(order.begin() + first, order.begin() + middle, order.begin() + end,
                             [&](std::uint32_t a, std::uint32_t b) { return centre(a) < centre(b); });
            node.left = static_cast<std::uint32_t>(nodes.size());
            nodes.emplace_back();
            nodes.emplace_back();
            nodes[at] = node;
            divide(node.left, order, first, middle, turns);
            divide(node.left + 1, order, middle, end, turns);
            return;
        }
        nodes[at] = node;
    }
};

SweepTree::SweepTree(const SweepBody& body, SweepKind kind)
    : soup_(std::make_unique<const Soup>(body, kind)) {}
SweepTree::~SweepTree() = default;
SweepTree::SweepTree(SweepTree&&) noexcept = default;
SweepTree& SweepTree::operator=(SweepTree&&) noexcept = default;
SweepKind SweepTree::kind() const {
    return soup_->kind;
}

namespace {

/// Where the moving body is at one value.
struct Placed {
    Mat3 turn = Mat3::Identity();
    Mat3 size = Mat3::Identity();  ///< of its entries
    Vec3 shift{0, 0, 0};
    Placed(SweepKind kind, double value) {
        if (kind == SweepKind::Shift) {
            shift = Vec3(0, 0, value);
            return;
        }
        turn = turn_about_axis(2, value).toRotationMatrix();
        size = turn.cwiseAbs();
    }
    Vec3 point(const Vec3& p) const { return turn * p + shift; }
    Triangle triangle(const Triangle& t) const { return {point(t[0]), point(t[1]), point(t[2])}; }
};

/// The boxes are at least this far apart: the larger of the distances of one from the box round the other, in
/// the axes of each.
double boxes_apart(const Node& moving, const Node& standing, const Placed& placed) {
    const Vec3 between = placed.point(moving.middle) - standing.middle;
    const Vec3 across = (between.cwiseAbs() - standing.half - placed.size * moving.half).cwiseMax(0.0);
    const Vec3 own = ((placed.turn.transpose() * between).cwiseAbs() - moving.half -
                      placed.size.transpose() * standing.half)
                         .cwiseMax(0.0);
    return std::sqrt(std::max(across.squaredNorm(), own.squaredNorm()));
}

}  // namespace

struct SweepClearance::State {
    /// Two boxes that were not looked into further, and how far apart they were, at least, at a value.
    struct Pair {
        std::uint32_t moving, standing;
        double apart, value;
    };

    std::shared_ptr<const SweepTree> trees[2];
    SweepKind kind;
    const SweepTree::Soup &moving, &standing;
    std::vector<Pair> front, next;
    std::uint32_t last_moving = 0, last_standing = 0;

    State(std::shared_ptr<const SweepTree> a, std::shared_ptr<const SweepTree> b, const SweepTree::Soup& sa,
          const SweepTree::Soup& sb)
        : trees{std::move(a), std::move(b)}, kind(sa.kind), moving(sa), standing(sb) {}

    bool empty() const { return moving.triangles.empty() || standing.triangles.empty(); }

    struct Best {
        double distance = infinite;
        std::uint32_t moving = 0, standing = 0;
        TriangleGap gap;
    };

    void try_triangles(std::uint32_t m, std::uint32_t s, const Placed& placed, Best& best) const {
        const TriangleGap gap = triangle_gap(placed.triangle(moving.triangles[m]), standing.triangles[s]);
        if (gap.distance < best.distance) best = {gap.distance, m, s, gap};
    }

    /// The nearest triangles of two leaves; answers their distance.
    double try_leaves(const Node& a, const Node& b, const Placed& placed, Best& best) const {
        double least = infinite;
        for (std::uint32_t m = a.first; m < a.first + a.count; ++m) {
            const Triangle t = placed.triangle(moving.triangles[m]);
            for (std::uint32_t s = b.first; s < b.first + b.count; ++s) {
                const TriangleGap gap = triangle_gap(t, standing.triangles[s]);
                least = std::min(least, gap.distance);
                if (gap.distance < best.distance) best = {gap.distance, m, s, gap};
            }
        }
        return least;
    }

    /// Looks into a pair as far as it could be nearer than the best one known.
    void look_into(std::uint32_t m, std::uint32_t s, double apart, double value, const Placed& placed,
                   Best& best) {
        if (apart >= best.distance) {
            next.push_back({m, s, apart, value});
            return;
        }
        const Node &a = moving.nodes[m], &b = standing.nodes[s];
        if (!a.left && !b.left) {
            next.push_back({m, s, try_leaves(a, b, placed, best), value});
            return;
        }
        const bool divide_moving = a.left && (!b.left || a.half.squaredNorm() > b.half.squaredNorm());
        const std::uint32_t m0 = divide_moving ? a.left : m, s0 = divide_moving ? s : b.left,
                            m1 = divide_moving ? a.left + 1 : m, s1 = divide_moving ? s : b.left + 1;
        const double d0 = boxes_apart(moving.nodes[m0], standing.nodes[s0], placed),
                     d1 = boxes_apart(moving.nodes[m1], standing.nodes[s1], placed);
        if (d0 <= d1) {
            look_into(m0, s0, d0, value, placed, best);
            look_into(m1, s1, d1, value, placed, best);
        } else {
            look_into(m1, s1, d1, value, placed, best);
            look_into(m0, s0, d0, value, placed, best);
        }
    }

    Best nearest(double value) {
        const Placed placed(kind, value);
        Best best;
        try_triangles(last_moving, last_standing, placed, best);
        if (front.empty() || front.size() > most_pairs_kept) front.assign(1, {0, 0, 0, value});
        next.clear();
        for (const Pair& pair : front) {
            const double apart = pair.apart - moving.nodes[pair.moving].speed * std::abs(value - pair.value);
            if (apart >= best.distance)
                next.push_back(pair);
            else
                look_into(pair.moving, pair.standing,
                          boxes_apart(moving.nodes[pair.moving], standing.nodes[pair.standing], placed),
                          value, placed, best);
        }
        front.swap(next);
        last_moving = best.moving;
        last_standing = best.standing;
        return best;
    }

    /// The motion from one value on, as far as it is proved to be free.
    struct Way {
        Placed placed;
        double value, sign;
        double step;
    };

    /// How far two ranges may go on before they could meet; infinite when they never do.
    double free_way(const SweepRange& a, const SweepRange& b, const Way& way) const {
        if (kind == SweepKind::Turn)
            return a.is_always_clear_of(b) ? infinite : a.free_turn(b, way.value, way.sign);
        const double low = a.z_min + way.value, high = a.z_max + way.value;
        if (way.sign > 0 ? low > b.z_max : high < b.z_min) return infinite;
        return std::max(way.sign > 0 ? b.z_min - high : low - b.z_max, 0.0);
    }

    /// A point that comes to touch lies on both, so it is no farther out than the smaller one, and moves no
    /// faster than that.
    static double contact_speed(double a, double b) { return std::min(a, b); }

    void shorten_leaves(const Node& a, const Node& b, Way& way) const {
        for (std::uint32_t m = a.first; m < a.first + a.count; ++m) {
            const Triangle t = way.placed.triangle(moving.triangles[m]);
            for (std::uint32_t s = b.first; s < b.first + b.count; ++s) {
                const SweepRange &ra = moving.ranges[m], &rb = standing.ranges[s];
                const double free = free_way(ra, rb, way);
                if (free >= way.step) continue;
                const double speed = kind == SweepKind::Turn ? contact_speed(ra.r_max, rb.r_max) : 1;
                if (speed <= 0) continue;
                way.step = std::min(way.step,
                                    std::max(free, triangle_gap(t, standing.triangles[s]).distance / speed));
            }
        }
    }

    /// Shortens the way to what is free for a pair of boxes.
    void shorten(std::uint32_t m, std::uint32_t s, Way& way) const {
        const Node &a = moving.nodes[m], &b = standing.nodes[s];
        if (way.step <= 0 || free_way(a.range, b.range, way) >= way.step) return;
        if (boxes_apart(a, b, way.placed) >= contact_speed(a.speed, b.speed) * way.step) return;
        if (!a.left && !b.left) return shorten_leaves(a, b, way);
        if (a.left && (!b.left || a.half.squaredNorm() > b.half.squaredNorm())) {
            shorten(a.left, s, way);
            shorten(a.left + 1, s, way);
        } else {
            shorten(m, b.left, way);
            shorten(m, b.left + 1, way);
        }
    }

    bool touches(double value) { return nearest(value).distance <= 0; }
};

SweepClearance::SweepClearance(std::shared_ptr<const SweepTree> moving,
                               std::shared_ptr<const SweepTree> standing)
    : state_(std::make_unique<State>(moving, standing, *moving->soup_, *standing->soup_)) {}
SweepClearance::~SweepClearance() = default;
SweepClearance::SweepClearance(SweepClearance&&) noexcept = default;
SweepClearance& SweepClearance::operator=(SweepClearance&&) noexcept = default;

Clearance SweepClearance::at(double value) {
    Clearance out;
    out.distance_m = infinite;
    if (state_->empty()) return out;
    const auto best = state_->nearest(value);
    return {best.distance, state_->moving.member[best.moving], state_->standing.member[best.standing],
            best.gap.on_first, best.gap.on_second};
}

std::optional<double> SweepClearance::first_contact(double from, double to, double tolerance,
                                                    const Progress& progress) {
    if (state_->empty() || state_->touches(from)) return std::nullopt;
    const double way = to < from ? -1 : 1, whole = std::abs(to - from);
    double gone = 0;
    while (gone < whole) {
        if (!progress.go_on(gone / whole, "looking for contact")) return std::nullopt;
        const double value = from + way * gone;
        State::Way ahead{Placed(state_->kind, value), value, way, whole - gone};
        state_->shorten(0, 0, ahead);
        if (ahead.step >= tolerance) {
            gone += ahead.step;
            continue;
        }
        // Too near to prove more: go on by the tolerance and look.
        const double next = std::min(whole, gone + tolerance);
        if (state_->touches(from + way * next)) return from + way * gone;
        gone = next;
    }
    return std::nullopt;
}

}  // namespace pivrak
