#include "core/geometry/near/triangle_distance.h"

#include <algorithm>
#include <cmath>
#include <optional>

#include "core/geometry/near/surface_finder.h"

namespace pivrak {
namespace {

/// The nearest places of two stretches of line.
std::pair<Vec3, Vec3> nearest_on_edges(const Vec3& p1, const Vec3& q1, const Vec3& p2, const Vec3& q2) {
    const Vec3 d1 = q1 - p1, d2 = q2 - p2, r = p1 - p2;
    const double a = d1.squaredNorm(), e = d2.squaredNorm(), f = d2.dot(r);
    double s = 0, t = 0;
    if (a <= 0 && e <= 0) return {p1, p2};
    if (a <= 0) {
        t = std::clamp(f / e, 0.0, 1.0);
    } else {
        const double c = d1.dot(r);
        if (e <= 0) {
            s = std::clamp(-c / a, 0.0, 1.0);
        } else {
            const double b = d1.dot(d2), across = a * e - b * b;
            s = across > 0 ? std::clamp((b * f - c * e) / across, 0.0, 1.0) : 0;
            t = (b * s + f) / e;
            if (t < 0) {
                t = 0;
                s = std::clamp(-c / a, 0.0, 1.0);
            } else if (t > 1) {
                t = 1;
                s = std::clamp((b - c) / a, 0.0, 1.0);
            }
        }
    }
    return {p1 + s * d1, p2 + t * d2};
}

/// Where an edge goes through a face, if it does.
std::optional<Vec3> pierced(const Vec3& p, const Vec3& q, const Triangle& face) {
    const Vec3 normal = (face[1] - face[0]).cross(face[2] - face[0]);
    const double before = normal.dot(p - face[0]), after = normal.dot(q - face[0]);
    if ((before > 0) == (after > 0) || before == after) return std::nullopt;
    const Vec3 at = p + before / (before - after) * (q - p);
    for (std::size_t k = 0; k < 3; ++k)
        if (normal.dot((face[(k + 1) % 3] - face[k]).cross(at - face[k])) < 0) return std::nullopt;
    return at;
}

}  // namespace

namespace {

/// Gathers the shortest way from one triangle to the other, and knows when none can be shorter.
class ShortestWay {
public:
    ShortestWay(const Triangle& a, const Triangle& b) : a_(a), b_(b) {}

    /// The shortest way between two edges. Answers whether it is the shortest of all: when both triangles lie
    /// whole behind its ends. The edges do already, so it is up to the third corners.
    bool offer_edges(std::size_t i, std::size_t k) {
        const auto [on_a, on_b] = nearest_on_edges(a_[i], a_[(i + 1) % 3], b_[k], b_[(k + 1) % 3]);
        const Vec3 way = take(on_a, on_b);
        return (a_[(i + 2) % 3] - on_a).dot(way) <= 0 && (b_[(k + 2) % 3] - on_b).dot(way) >= 0 &&
               way.squaredNorm() > 0;
    }
    void offer_corners(std::size_t i) {
        take(a_[i], nearest_on_triangle(a_[i], b_[0], b_[1], b_[2]));
        take(nearest_on_triangle(b_[i], a_[0], a_[1], a_[2]), b_[i]);
    }
    /// Whether both triangles lie whole behind the ends of the shortest way.
    bool divides() const {
        const Vec3 way = best_.on_second - best_.on_first;
        if (way.squaredNorm() <= 0) return false;
        for (std::size_t k = 0; k < 3; ++k)
            if ((a_[k] - best_.on_first).dot(way) > 0 || (b_[k] - best_.on_second).dot(way) < 0) return false;
        return true;
    }
    TriangleGap result() const {
        TriangleGap gap = best_;
        gap.distance = std::sqrt(least_);
        return gap;
    }

private:
    Vec3 take(const Vec3& on_a, const Vec3& on_b) {
        const Vec3 way = on_b - on_a;
        if (const double squared = way.squaredNorm(); squared < least_) {
            least_ = squared;
            best_.on_first = on_a;
            best_.on_second = on_b;
        }
        return way;
    }

    const Triangle &a_, &b_;
    TriangleGap best_;
    double least_ = 1e300;
};

}  // namespace

TriangleGap triangle_gap(const Triangle& a, const Triangle& b) {
    ShortestWay shortest(a, b);
    for (std::size_t i = 0; i < 3; ++i)
        for (std::size_t k = 0; k < 3; ++k)
            if (shortest.offer_edges(i, k)) return shortest.result();
    for (std::size_t i = 0; i < 3; ++i) shortest.offer_corners(i);
    if (shortest.divides()) return shortest.result();
    for (std::size_t k = 0; k < 3; ++k) {
        if (const auto at = pierced(a[k], a[(k + 1) % 3], b)) return {0, *at, *at};
        if (const auto at = pierced(b[k], b[(k + 1) % 3], a)) return {0, *at, *at};
    }
    return shortest.result();
}

}  // namespace pivrak
