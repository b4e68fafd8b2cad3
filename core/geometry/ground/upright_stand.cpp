#include "core/geometry/ground/upright_stand.h"

#include <algorithm>
#include <cmath>
#include <tuple>

namespace pivrak {
namespace {

/// A triangle cut to a strip of the width of the tread: at most five corners.
struct Strip {
    std::array<Vec3, 8> points;
    std::size_t count = 0;

    void add(const Vec3& p) { points[count++] = p; }
    /// Keeps what lies at `side * y <= limit`.
    Strip cut(double side, double limit) const {
        Strip out;
        for (std::size_t i = 0; i < count; ++i) {
            const Vec3 &a = points[i], &b = points[(i + 1) % count];
            const double da = side * a.y() - limit, db = side * b.y() - limit;
            if (da <= 0) out.add(a);
            if ((da < 0 && db > 0) || (da > 0 && db < 0)) out.add(a + (da / (da - db)) * (b - a));
        }
        return out;
    }
};

bool is_inside(const std::array<Vec3, 3>& t, double x, double y, double turn) {
    for (std::size_t i = 0; i < 3; ++i) {
        const Vec3 &a = t[i], &b = t[(i + 1) % 3];
        if (turn * ((b.x() - a.x()) * (y - a.y()) - (b.y() - a.y()) * (x - a.x())) < 0) return false;
    }
    return true;
}

}  // namespace

UprightStand::UprightStand(const GroundWheel& wheel, const Vec3& up)
    : hub_(wheel.hub),
      axle_(wheel.axle),
      radius_(wheel.radius_m),
      half_(wheel.half_width_m),
      slack_(1e-9 * wheel.radius_m) {
    const Vec3 across = up - up.dot(axle_) * axle_;
    share_ = across.norm();
    up_ = share_ > 1e-9 ? Vec3(across / share_) : any_perpendicular(axle_);
    forward_ = axle_.cross(up_);
    axle_size_ = axle_.cwiseAbs(), forward_size_ = forward_.cwiseAbs(), up_size_ = up_.cwiseAbs();
}

Vec2 UprightStand::reach() const {
    const auto along = [&](int axis) {
        return radius_ * (std::abs(forward_[axis]) + 3 * std::abs(up_[axis])) + half_ * std::abs(axle_[axis]);
    };
    return {along(0), along(1)};
}

/// How far the wheel reaches below its middle, beside it.
double UprightStand::round(double forward) const {
    return std::sqrt(std::max(0.0, radius_ * radius_ - forward * forward));
}

void UprightStand::triangle(const Vec3 at[3]) {
    const double enough = lift_ - slack_;
    const Vec3 a = at[0] - hub_, b = at[1] - hub_, c = at[2] - hub_;
    const double xa = forward_.dot(a), xb = forward_.dot(b), xc = forward_.dot(c),
                 rear = std::min(xa, std::min(xb, xc)), front = std::max(xa, std::max(xb, xc));
    if ((rear > radius_) | (front < -radius_)) return;
    const double ya = axle_.dot(a), yb = axle_.dot(b), yc = axle_.dot(c),
                 right = std::min(ya, std::min(yb, yc)), left = std::max(ya, std::max(yb, yc));
    if ((right > half_) | (left < -half_)) return;
    const double za = up_.dot(a), zb = up_.dot(b), zc = up_.dot(c);
    double most = std::max(za, std::max(zb, zc)) + radius_;
    if (most < enough) return;
    const Triangle t{Vec3(xa, ya, za), Vec3(xb, yb, zb), Vec3(xc, yc, zc)};
    const Vec3 normal = (t[1] - t[0]).cross(t[2] - t[0]);
    if (std::abs(normal.z()) > 1e-6 * (std::abs(normal.x()) + std::abs(normal.y()))) {
        const double rise = -normal.x() / normal.z(), lean = -normal.y() / normal.z();
        const double x = std::clamp(rise == 0 ? 0.0 : radius_ * rise / std::sqrt(1 + rise * rise),
                                    std::max(rear, -radius_), std::min(front, radius_));
        const double from = std::max(right, -half_), to = std::min(left, half_);
        // Level across, it touches along its whole width: its middle tells where.
        const double y = lean == 0 ? std::clamp(0.0, from, to) : lean > 0 ? to : from;
        const Vec3 place(x, y, t[0].z() + rise * (x - t[0].x()) + lean * (y - t[0].y()));
        most = std::min(most, place.z() + round(x));
        if (most < enough) return;
        if (is_inside(t, x, y, normal.z())) return point(place);
    }
    if (count_ == waiting_.size()) cut_waiting();
    waiting_[count_++] = {t, most};
}

/// The most promising first: it settles most of the others.
void UprightStand::cut_waiting() {
    while (count_ > 0) {
        const auto end = waiting_.begin() + static_cast<std::ptrdiff_t>(count_);
        const auto best = std::max_element(
            waiting_.begin(), end, [](const Waiting& a, const Waiting& b) { return a.most < b.most; });
        if (!(best->most >= lift_ - slack_)) break;
        cut(best->at);
        *best = *(end - 1);
        --count_;
    }
    count_ = 0;
}

void UprightStand::cut(const Triangle& triangle) {
    Strip strip;
    for (const Vec3& corner : triangle) strip.add(corner);
    strip = strip.cut(1, half_).cut(-1, half_);
    for (std::size_t i = 0; i < strip.count; ++i) edge(strip.points[i], strip.points[(i + 1) % strip.count]);
}

void UprightStand::edge(const Vec3& a, const Vec3& b) {
    if (std::max(a.z(), b.z()) + radius_ < lift_ - slack_) return;
    // The stretch of it that lies below the wheel.
    double from = 0, to = 1;
    const double run = b.x() - a.x();
    if (run == 0) {
        if (std::abs(a.x()) > radius_) return;
        point(a.z() > b.z() ? a : b);
        return;
    }
    double enters = (-radius_ - a.x()) / run, leaves = (radius_ - a.x()) / run;
    if (enters > leaves) std::swap(enters, leaves);
    from = std::max(from, enters);
    to = std::min(to, leaves);
    if (from > to) return;
    // On a slope m the round touches where it is as steep: at r m / sqrt(1 + m^2).
    const double slope = (b.z() - a.z()) / run, u = radius_ * slope / std::sqrt(1 + slope * slope);
    point(a + std::clamp((u - a.x()) / run, from, to) * (b - a));
}

void UprightStand::point(const Vec3& place) {
    const double needed = place.z() + round(place.x());
    if (needed < lift_) return;
    // Of places that ask for the same, the one nearest to the middle of the tread.
    const auto rank = [](const Vec3& p) { return std::tuple(std::abs(p.y()), p.y(), p.x(), p.z()); };
    if (needed == lift_ && !(rank(place) < rank(touch_))) return;
    lift_ = needed;
    touch_ = place;
}

std::optional<GroundContact> UprightStand::contact() {
    cut_waiting();
    if (lift_ < -1e299) return std::nullopt;
    GroundContact out;
    out.lift_m = lift_ / share_;
    out.place = hub_ + touch_.x() * forward_ + touch_.y() * axle_ + touch_.z() * up_;
    out.normal = (-touch_.x() * forward_ + round(touch_.x()) * up_) / radius_;
    return out;
}

}  // namespace pivrak
