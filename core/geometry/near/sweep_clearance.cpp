#include "core/geometry/near/sweep_clearance.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace pivrak {
namespace {

constexpr double infinite = std::numeric_limits<double>::infinity();

/// Where the moving body is at one value: turned about z, or shifted along it.
struct Placed {
    double value, c = 1, s = 0, shift = 0;

    Placed(SweepKind kind, double at) : value(at) {
        if (kind == SweepKind::Shift) {
            shift = at;
        } else {
            c = std::cos(at);
            s = std::sin(at);
        }
    }
    Vec3 direction(const Vec3& d) const { return {c * d.x() - s * d.y(), s * d.x() + c * d.y(), d.z()}; }
    /// The direction in the frame of the moving body.
    Vec3 back(const Vec3& d) const { return {c * d.x() + s * d.y(), c * d.y() - s * d.x(), d.z()}; }
    Vec3 point(const Vec3& p) const { return {c * p.x() - s * p.y(), s * p.x() + c * p.y(), p.z() + shift}; }
    Triangle triangle(const Triangle& t) const { return {point(t[0]), point(t[1]), point(t[2])}; }
};

/// How far a box reaches from its middle along a direction of its own frame.
inline double reach_along(const SweepBox& box, const Vec3& way) {
    return box.half[0] * std::abs(box.axes.col(0).dot(way)) +
           box.half[1] * std::abs(box.axes.col(1).dot(way)) +
           box.half[2] * std::abs(box.axes.col(2).dot(way));
}

/// The boxes are at least this far apart: the largest of their gaps along the line through both middles, and
/// of the distances of one from the box round the other in the axes of each. Looked at no further than
/// `enough`.
double boxes_apart(const SweepBox& moving, const SweepBox& standing, const Placed& placed, double enough) {
    const Vec3 between = placed.point(moving.middle) - standing.middle;
    const double length = between.norm();
    double apart = 0;
    if (length > 0) {
        const Vec3 way = between / length;
        apart = length - reach_along(standing, way) - reach_along(moving, placed.back(way));
        // From far away, other directions say hardly more.
        if (apart >= enough || length > 1.6 * (moving.ball + standing.ball)) return apart;
    }
    Vec3 axes[3];
    double size[3][3], own = 0, other = 0;
    for (int i = 0; i < 3; ++i) {
        axes[i] = placed.direction(moving.axes.col(i));
        double gap = std::abs(axes[i].dot(between)) - moving.half[i];
        for (int k = 0; k < 3; ++k) {
            size[i][k] = std::abs(axes[i].dot(standing.axes.col(k)));
            gap -= size[i][k] * standing.half[k];
        }
        if (gap > 0) own += gap * gap;
    }
    apart = std::max(apart, std::sqrt(own));
    if (apart >= enough) return apart;
    for (int k = 0; k < 3; ++k) {
        const double gap = std::abs(standing.axes.col(k).dot(between)) - standing.half[k] -
                           size[0][k] * moving.half[0] - size[1][k] * moving.half[1] -
                           size[2][k] * moving.half[2];
        if (gap > 0) other += gap * gap;
    }
    return std::max(apart, std::sqrt(other));
}

/// The gap of two boxes along a unit direction from the moving to the standing one.
double gap_along(const SweepBox& moving, const SweepBox& standing, const Placed& placed, const Vec3& way) {
    return way.dot(standing.middle - placed.point(moving.middle)) - reach_along(standing, way) -
           reach_along(moving, placed.back(way));
}

/// A pair of nodes, and which of them is divided next.
struct Pair {
    SweepTree::Node *moving, *standing;
};

class Walk {
public:
    Walk(SweepTree& moving, SweepTree& standing, const Placed& placed, SweepTree::Scratch& scratch)
        : moving_(moving), standing_(standing), placed_(placed), scratch_(scratch) {}

protected:
    Pair roots() const { return {&moving_.root(), &standing_.root()}; }
    double apart(const Pair& p, double enough) const {
        return boxes_apart(p.moving->box, p.standing->box, placed_, enough);
    }
    static bool is_leaf(const Pair& p) {
        return SweepTree::is_leaf(*p.moving) && SweepTree::is_leaf(*p.standing);
    }

    /// Both halves of the larger one of a pair. Pre: not both are leaves.
    std::pair<Pair, Pair> halves(const Pair& p) {
        const bool divide_moving =
            !SweepTree::is_leaf(*p.moving) &&
            (SweepTree::is_leaf(*p.standing) || p.moving->box.ball > p.standing->box.ball);
        if (divide_moving) {
            SweepTree::Node* left = moving_.divide(*p.moving, scratch_);
            return {{left, p.standing}, {left + 1, p.standing}};
        }
        SweepTree::Node* left = standing_.divide(*p.standing, scratch_);
        return {{p.moving, left}, {p.moving, left + 1}};
    }

    /// `take(triangle of the moving one, as it stands; its number; number of the standing one)`
    template <class Take>
    void each_triangle_pair(const Pair& p, Take take) const {
        const SweepTree::Node &a = *p.moving, &b = *p.standing;
        for (std::uint32_t i = a.first; i < a.first + a.count; ++i) {
            const std::uint32_t m = moving_.at(i);
            const Triangle t = placed_.triangle(moving_.triangle(m));
            for (std::uint32_t k = b.first; k < b.first + b.count; ++k) take(t, m, standing_.at(k));
        }
    }

    SweepTree &moving_, &standing_;
    const Placed& placed_;
    SweepTree::Scratch& scratch_;
};

/// A pair of nodes that is at least so far apart.
struct Waiting {
    double apart;
    Pair pair;
    bool operator<(const Waiting& other) const { return apart > other.apart; }
};

/// The nearest triangles. Pairs are looked into in the order of how near they could be, so none is that could
/// not be the nearest.
class NearestWalk : Walk {
public:
    using Walk::Walk;

    double distance = infinite;
    std::uint32_t moving = 0, standing = 0;
    TriangleGap gap;

    void offer(const Triangle& t, std::uint32_t m, std::uint32_t s) {
        const TriangleGap found = triangle_gap(t, standing_.triangle(s));
        if (found.distance >= distance) return;
        distance = found.distance;
        moving = m;
        standing = s;
        gap = found;
        way_ = distance > 0 ? Vec3((gap.on_second - gap.on_first) / distance) : Vec3(0, 0, 0);
    }

    void run() {
        descend();
        waiting_.assign(1, {0, roots()});
        while (!waiting_.empty()) {
            const auto [apart_before, pair] = waiting_.back();
            waiting_.pop_back();
            if (apart_before >= distance) continue;
            if (is_leaf(pair)) {
                offer_leaves(pair);
                continue;
            }
            const auto [one, other] = halves(pair);
            const Waiting first{apart(one, distance), one}, second{apart(other, distance), other};
            // The nearer half is looked into first.
            if (first.apart > second.apart) {
                wait(first);
                wait(second);
            } else {
                wait(second);
                wait(first);
            }
        }
    }

private:
    /// Straight down to where the boxes are nearest, for a bound that is hard to beat.
    void descend() {
        Pair pair = roots();
        while (!is_leaf(pair)) {
            const auto [one, other] = halves(pair);
            pair = apart(one, infinite) <= apart(other, infinite) ? one : other;
        }
        offer_leaves(pair);
    }

    void offer_leaves(const Pair& pair) {
        if (gap_along(pair.moving->box, pair.standing->box, placed_, way_) >= distance) return;
        const SweepTree::Node &a = *pair.moving, &b = *pair.standing;
        for (std::uint32_t i = a.first; i < a.first + a.count; ++i) {
            const std::uint32_t m = moving_.at(i);
            const Triangle own = moving_.triangle(m);
            // Seen along the nearest gap known, most pairs are no nearer.
            double ahead = ahead_of(own);
            for (std::uint32_t k = b.first; k < b.first + b.count; ++k) {
                const std::uint32_t s = standing_.at(k);
                const Triangle other = standing_.triangle(s);
                if (std::min({way_.dot(other[0]), way_.dot(other[1]), way_.dot(other[2])}) - ahead >=
                    distance)
                    continue;
                offer(placed_.triangle(own), m, s);
                ahead = ahead_of(own);
            }
        }
    }

    /// How far a moving triangle reaches along the nearest gap known.
    double ahead_of(const Triangle& t) const {
        const Vec3 way = placed_.back(way_);
        return std::max({way.dot(t[0]), way.dot(t[1]), way.dot(t[2])}) + placed_.shift * way_.z();
    }

    void wait(const Waiting& waiting) {
        if (waiting.apart < distance) waiting_.push_back(waiting);
    }

    std::vector<Waiting> waiting_;
    Vec3 way_{0, 0, 0};
};

/// All pairs of faces that look at each other from no farther than some distance.
class SharedFacesWalk : Walk {
public:
    SharedFacesWalk(SweepTree& moving, SweepTree& standing, const Placed& placed, SweepTree::Scratch& scratch,
                    double within)
        : Walk(moving, standing, placed, scratch), within_(within) {}

    SharedFaces found;

    void run() {
        look(roots());
        if (area_ > 0) found.normal /= area_;
    }

private:
    void look(const Pair& pair) {
        if (apart(pair, within_) > within_) return;
        if (is_leaf(pair))
            return each_triangle_pair(pair, [&](const Triangle& t, std::uint32_t, std::uint32_t s) {
                add(t, standing_.triangle(s));
            });
        const auto [one, other] = halves(pair);
        look(one);
        look(other);
    }

    void add(const Triangle& moving, const Triangle& standing) {
        constexpr double opposite = -0.98;
        const Vec3 a = (moving[1] - moving[0]).cross(moving[2] - moving[0]),
                   b = (standing[1] - standing[0]).cross(standing[2] - standing[0]);
        const double size = std::min(a.norm(), b.norm());
        if (!(size > 0) || a.normalized().dot(b.normalized()) > opposite ||
            triangle_gap(moving, standing).distance > within_)
            return;
        found.normal += size * b.normalized();
        area_ += size;
        ++found.pairs;
    }

    double within_, area_ = 0;
};

/// How far the motion may go on from a value before the bodies could touch.
class FreeWayWalk : Walk {
public:
    FreeWayWalk(SweepTree& moving, SweepTree& standing, const Placed& placed, SweepTree::Scratch& scratch,
                double sign, double longest)
        : Walk(moving, standing, placed, scratch), step(longest), sign_(sign) {}

    double step;

    void run() { look(roots()); }

private:
    /// How far two ranges may go on before they could meet; infinite when they never do.
    double free_way(const SweepRange& a, const SweepRange& b) const {
        if (moving_.kind() == SweepKind::Turn)
            return a.is_always_clear_of(b) ? infinite : a.free_turn(b, placed_.value, sign_);
        const double low = a.z_min + placed_.value, high = a.z_max + placed_.value;
        if (sign_ > 0 ? low > b.z_max : high < b.z_min) return infinite;
        return std::max(sign_ > 0 ? b.z_min - high : low - b.z_max, 0.0);
    }

    /// A point that comes to touch lies on both, so it is no farther out than the smaller one, and moves no
    /// faster than that.
    double contact_speed(double a, double b) const {
        return moving_.kind() == SweepKind::Turn ? std::min(a, b) : 1;
    }

    void look(const Pair& pair) {
        if (step <= 0) return;
        if (free_way(moving_.range_of(*pair.moving), standing_.range_of(*pair.standing)) >= step) return;
        const double reach = step * contact_speed(pair.moving->radius, pair.standing->radius);
        if (apart(pair, reach) >= reach) return;
        if (is_leaf(pair))
            return each_triangle_pair(
                pair, [&](const Triangle& t, std::uint32_t m, std::uint32_t s) { shorten(t, m, s); });
        const auto [one, other] = halves(pair);
        look(one);
        look(other);
    }

    void shorten(const Triangle& t, std::uint32_t m, std::uint32_t s) {
        const SweepRange &a = moving_.range_of_triangle(m), &b = standing_.range_of_triangle(s);
        const double free = free_way(a, b), speed = contact_speed(a.r_max, b.r_max);
        if (free >= step || speed <= 0) return;
        step = std::min(step, std::max(free, triangle_gap(t, standing_.triangle(s)).distance / speed));
    }

    double sign_;
};

}  // namespace

SweepClearance::SweepClearance(std::shared_ptr<SweepTree> moving, std::shared_ptr<SweepTree> standing)
    : moving_(std::move(moving)), standing_(std::move(standing)) {}

Clearance SweepClearance::at(double value) {
    Clearance out;
    out.distance_m = infinite;
    if (moving_->empty() || standing_->empty()) return out;
    const Placed placed(moving_->kind(), value);
    NearestWalk walk(*moving_, *standing_, placed, scratch_);
    walk.offer(placed.triangle(moving_->triangle(last_moving_)), last_moving_, last_standing_);
    walk.run();
    last_moving_ = walk.moving;
    last_standing_ = walk.standing;
    return {walk.distance, moving_->member_of(walk.moving), standing_->member_of(walk.standing),
            walk.gap.on_first, walk.gap.on_second};
}

SharedFaces SweepClearance::shared_faces(double value, double within) {
    if (moving_->empty() || standing_->empty()) return {};
    const Placed placed(moving_->kind(), value);
    SharedFacesWalk walk(*moving_, *standing_, placed, scratch_, within);
    walk.run();
    return walk.found;
}

std::optional<double> SweepClearance::first_contact(double from, double to, double tolerance,
                                                    const Progress& progress) {
    if (moving_->empty() || standing_->empty() || at(from).distance_m <= 0) return std::nullopt;
    const double sign = to < from ? -1 : 1, whole = std::abs(to - from);
    double gone = 0;
    while (gone < whole) {
        if (!progress.go_on(gone / whole, "looking for contact")) return std::nullopt;
        const Placed placed(moving_->kind(), from + sign * gone);
        FreeWayWalk walk(*moving_, *standing_, placed, scratch_, sign, whole - gone);
        walk.run();
        if (walk.step >= tolerance) {
            gone += walk.step;
            continue;
        }
        // Too near to prove more: go on by the tolerance and look.
        const double next = std::min(whole, gone + tolerance);
        if (at(from + sign * next).distance_m <= 0) return from + sign * gone;
        gone = next;
    }
    return std::nullopt;
}

}  // namespace pivrak
