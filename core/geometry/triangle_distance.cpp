#include "core/geometry/triangle_distance.h"

#include <algorithm>
#include <cmath>
#include <optional>

#include "core/geometry/surface_finder.h"

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

TriangleGap triangle_gap(const Triangle& a, const Triangle& b) {
    for (std::size_t k = 0; k < 3; ++k) {
        if (const auto at = pierced(a[k], a[(k + 1) % 3], b)) return {0, *at, *at};
        if (const auto at = pierced(b[k], b[(k + 1) % 3], a)) return {0, *at, *at};
    }
    TriangleGap best;
    double least = 1e300;
    const auto offer = [&](const Vec3& on_a, const Vec3& on_b) {
        const double squared = (on_a - on_b).squaredNorm();
        if (squared < least) {
            least = squared;
            best.on_first = on_a;
            best.on_second = on_b;
        }
    };
    for (std::size_t i = 0; i < 3; ++i) {
        offer(a[i], nearest_on_triangle(a[i], b[0], b[1], b[2]));
        offer(nearest_on_triangle(b[i], a[0], a[1], a[2]), b[i]);
        for (std::size_t j = 0; j < 3; ++j) {
            const auto [on_a, on_b] = nearest_on_edges(a[i], a[(i + 1) % 3], b[j], b[(j + 1) % 3]);
            offer(on_a, on_b);
        }
    }
    best.distance = std::sqrt(least);
    return best;
}

}  // namespace pivrak
