#include "core/geometry/ground/leaning_stand.h"

#include <algorithm>
#include <array>
#include <cmath>

#include "core/geometry/frame.h"

namespace pivrak {
namespace {

constexpr double no_length = 1e-12;  // of a unit vector: points across
constexpr double slack = 1e-10;      // [m]: places on the rim are on it

bool is_above(const Vec3 at[3], const Vec3& p) {
    const auto side = [&](const Vec3& a, const Vec3& b) {
        return (b.x() - a.x()) * (p.y() - a.y()) - (b.y() - a.y()) * (p.x() - a.x());
    };
    const double s0 = side(at[0], at[1]), s1 = side(at[1], at[2]), s2 = side(at[2], at[0]);
    constexpr double on = 1e-14;
    return (s0 >= -on && s1 >= -on && s2 >= -on) || (s0 <= on && s1 <= on && s2 <= on);
}

}  // namespace

LeaningStand::LeaningStand(const GroundWheel& wheel)
    : hub_(wheel.hub),
      axle_(wheel.axle),
      u_(any_perpendicular(wheel.axle)),
      v_(wheel.axle.cross(u_)),
      up_(own(Vec3::UnitZ())),
      radius_(wheel.radius_m),
      half_(wheel.half_width_m) {}

/// How far the wheel goes up until a place (own, against the hub) just touches it; none when it passes by.
std::optional<double> LeaningStand::lift_of(const Vec3& p) const {
    double low = -1e300, high = 1e300;
    if (std::abs(up_[0]) < no_length) {
        if (std::abs(p[0]) > half_ + slack) return std::nullopt;
    } else {
        const double a = (p[0] - half_) / up_[0], b = (p[0] + half_) / up_[0];
        low = std::min(a, b);
        high = std::max(a, b);
    }
    const double across = up_[1] * up_[1] + up_[2] * up_[2],
                 out = p[1] * p[1] + p[2] * p[2] - radius_ * radius_;
    if (across < no_length) {
        if (out > 2 * radius_ * slack) return std::nullopt;
    } else {
        const double half = (p[1] * up_[1] + p[2] * up_[2]) / across;
        double root = half * half - out / across;
        if (root < 0 && root * across > -2 * radius_ * slack) root = 0;
        if (root < 0) return std::nullopt;
        low = std::max(low, half - std::sqrt(root));
        high = std::min(high, half + std::sqrt(root));
    }
    if (low > high + slack) return std::nullopt;
    return high;
}

void LeaningStand::take(double lift, const Vec3& place) {
    if (lift <= lift_) return;
    lift_ = lift;
    touch_ = place;
}

void LeaningStand::point(const Vec3& own_place, const Vec3& place) {
    if (const auto lift = lift_of(own_place)) take(*lift, place);
}

/// Where the cylinder is as steep as the triangle.
void LeaningStand::face(const Vec3 at[3]) {
    Vec3 normal = (at[1] - at[0]).cross(at[2] - at[0]);
    const double size = normal.norm();
    if (!(size > 0)) return;
    normal /= normal.z() < 0 ? -size : size;
    if (normal.z() < 1e-9) return;
    const double along = normal.dot(axle_);
    const Vec3 across = normal - along * axle_;
    const Vec3 out = across.norm() > no_length ? Vec3(across.normalized()) : u_;
    for (const double end : {-1.0, 1.0}) {
        if (end * along > 1e-9) continue;
        const Vec3 lowest = hub_ + end * half_ * axle_ - radius_ * out;
        const double lift = normal.dot(at[0] - lowest) / normal.z();
        const Vec3 place = lowest + lift * Vec3::UnitZ();
        if (is_above(at, place)) take(lift, place);
    }
}

void LeaningStand::edge(const Vec3& from, const Vec3& to) {
    const Vec3 a = own(from - hub_), e = own(to - from);
    std::array<double, 12> at;
    std::size_t count = 0;
    at[count++] = 0;
    at[count++] = 1;
    const auto dot = [](const Vec3& p, const Vec3& q) { return p[1] * q[1] + p[2] * q[2]; };
    // Where the edge and the way up lie in a plane that touches the round side.
    if (const double ee = dot(e, e); ee > no_length * no_length) {
        const Vec3 m = Vec3(0, -e[2], e[1]) / std::sqrt(ee);
        const double steep = dot(up_, m);
        if (std::abs(steep) > no_length)
            for (const double side : {-1.0, 1.0}) {
                const double lift = (dot(a, m) - side * radius_) / steep;
                at[count++] = -dot(a - lift * up_, e) / ee;
            }
    }
    // Where it meets the rims.
    for (const double end : {-half_, half_}) {
        if (std::abs(up_[0]) < no_length) {
            if (std::abs(e[0]) > no_length) at[count++] = (end - a[0]) / e[0];
            continue;
        }
        const Vec3 start = a - (a[0] - end) / up_[0] * up_, step = e - e[0] / up_[0] * up_;
        const double ss = dot(step, step), half = dot(start, step),
                     root = half * half - ss * (dot(start, start) - radius_ * radius_);
        if (ss < no_length * no_length || root < 0) continue;
        at[count++] = (-half - std::sqrt(root)) / ss;
        at[count++] = (-half + std::sqrt(root)) / ss;
    }
    for (std::size_t i = 0; i < count; ++i)
        if (at[i] >= 0 && at[i] <= 1) point(a + at[i] * e, from + at[i] * (to - from));
}

void LeaningStand::triangle(const Vec3 at[3]) {
    // What lies low enough asks for less than is known already.
    const double highest = std::max({at[0].z(), at[1].z(), at[2].z()});
    if (highest - hub_.z() + radius_ + half_ <= lift_) return;
    face(at);
    for (int i = 0; i < 3; ++i) edge(at[i], at[(i + 1) % 3]);
}

std::optional<GroundContact> LeaningStand::contact() const {
    if (lift_ < -1e299) return std::nullopt;
    const Vec3 off = touch_ - (hub_ + lift_ * Vec3::UnitZ()), across = off - off.dot(axle_) * axle_;
    const double size = across.norm();
    return GroundContact{lift_, touch_, size > no_length ? Vec3(-across / size) : u_};
}

}  // namespace pivrak
