#include "core/geometry/near/sweep_range.h"

#include <algorithm>
#include <cmath>

namespace pivrak {
namespace {

constexpr double round_off = 1e-12;

/// Distance of a segment from the axis, seen along it.
double axis_distance(const Vec3& a, const Vec3& b) {
    const Vec2 from = a.head<2>(), way = b.head<2>() - from;
    const double length = way.squaredNorm();
    const double share = length > 0 ? std::clamp(-from.dot(way) / length, 0.0, 1.0) : 0.0;
    return (from + share * way).norm();
}

bool axis_goes_through(const Triangle& t) {
    const auto side = [](const Vec3& a, const Vec3& b) { return a.x() * b.y() - a.y() * b.x(); };
    const double s0 = side(t[0], t[1]), s1 = side(t[1], t[2]), s2 = side(t[2], t[0]);
    return (s0 >= 0 && s1 >= 0 && s2 >= 0) || (s0 <= 0 && s1 <= 0 && s2 <= 0);
}

/// An angle counted from another one, 0 to 2 pi.
double counted_on(double angle, double from) {
    const double on = std::fmod(angle - from, 2 * pi);
    return on < 0 ? on + 2 * pi : on;
}

}  // namespace

SweepRange SweepRange::of(const Triangle& t) {
    SweepRange range;
    range.r_min = std::min({axis_distance(t[0], t[1]), axis_distance(t[1], t[2]), axis_distance(t[2], t[0])});
    range.r_max = std::max({t[0].head<2>().norm(), t[1].head<2>().norm(), t[2].head<2>().norm()});
    range.z_min = std::min({t[0].z(), t[1].z(), t[2].z()});
    range.z_max = std::max({t[0].z(), t[1].z(), t[2].z()});
    if (axis_goes_through(t) || range.r_min <= round_off * range.r_max) {
        range.r_min = 0;
        range.arc = 2 * pi;
        return range;
    }
    // Seen from an axis outside it, a triangle spans less than half a turn.
    const double first = std::atan2(t[0].y(), t[0].x());
    double low = 0, high = 0;
    for (int k = 1; k < 3; ++k) {
        const double off = std::remainder(std::atan2(t[k].y(), t[k].x()) - first, 2 * pi);
        low = std::min(low, off);
        high = std::max(high, off);
    }
    range.angle = std::remainder(first + low - round_off, 2 * pi);
    range.arc = std::min(high - low + 2 * round_off, 2 * pi);
    return range;
}

SweepRange SweepRange::with(const SweepRange& o) const {
    SweepRange range{std::min(r_min, o.r_min), std::max(r_max, o.r_max), std::min(z_min, o.z_min),
                     std::max(z_max, o.z_max)};
    // Either arc may begin the one that holds both; the shorter is taken.
    const double from_own = std::max(arc, counted_on(o.angle, angle) + o.arc),
                 from_other = std::max(o.arc, counted_on(angle, o.angle) + arc);
    range.angle = from_own <= from_other ? angle : o.angle;
    range.arc = std::min({from_own, from_other, 2 * pi});
    return range;
}

double SweepRange::free_turn(const SweepRange& other, double turn, double way) const {
    const double between = counted_on(other.angle, angle + turn);
    // Counted on from where this arc begins: it ends at `arc`, the other one begins at `between`.
    if (between <= arc || between + other.arc >= 2 * pi) return 0;
    return way > 0 ? between - arc : 2 * pi - between - other.arc;
}

}  // namespace pivrak
