#pragma once

#include <cmath>
#include <optional>

#include "core/geometry/frame.h"
#include "core/rig/chains/chain_loop.h"

namespace pivrak {

// What loops and open runs have in common: lines that touch circles, and pins along them.

inline Vec2 unit(double angle) {
    return {std::cos(angle), std::sin(angle)};
}

inline double angle_of(const Vec2& v) {
    return std::atan2(v.y(), v.x());
}

inline double wrapped(double angle) {
    return std::remainder(angle, 2 * pi);
}

/// Direction of the straight line that touches both circles as links run; none when there is no such line.
inline std::optional<double> touching_direction(const ChainCircle& from, const ChainCircle& to) {
    const Vec2 between = to.centre - from.centre;
    const double sine = (from.side * from.radius_m - to.side * to.radius_m) / between.norm();
    if (!(std::abs(sine) < 1)) return std::nullopt;
    return angle_of(between) + std::asin(sine);
}

/// How far links turn with a wheel between two straight runs [rad], 0 to a whole round.
inline double turn_at(const ChainCircle& wheel, double from, double to) {
    const double turn = wrapped(wheel.side * (to - from));
    return turn < -1e-9 ? turn + 2 * pi : turn;
}

/// Direction from a pin along the line that touches a circle.
inline std::optional<double> direction_from(const Vec2& pin, const ChainCircle& to, double side) {
    const Vec2 between = to.centre - pin;
    const double sine = to.radius_m / between.norm();
    if (!(sine <= 1)) return std::nullopt;
    return angle_of(between) - side * std::asin(sine);
}

/// Pins along a line of straights and arcs round rollers, from one that is known: each one pitch from the
/// last. Angles and sides are those of the way in which pins are laid, with the chain or against it.
class RollerLine {
public:
    RollerLine(double pitch, Vec2 start) : pitch_(pitch), at_(start) {}

    /// Lays pins up to the first one beyond a roller, or on its way out; `lay(place)` for each.
    template <class Lay>
    bool round(const Vec2& centre, double radius, double side, double way_in, double way_out, Lay lay) {
        const Vec2 touch = centre + radius * unit(way_in - side * pi / 2),
                   leave = centre + radius * unit(way_out - side * pi / 2), out = unit(way_out);
        const double wrap = turn_at({centre, radius, side}, way_in, way_out);
        const double touch_angle = way_in - side * pi / 2;
        straight_to(touch, way_in, lay);
        for (int guard = 0; guard < 100000; ++guard) {
            const auto angle = on_arc(centre, radius, side);
            if (!angle) return false;
            // One step back from the touching place still counts as on the arc.
            double past = wrapped(side * (*angle - touch_angle));
            if (past < -1.0) past += 2 * pi;
            if (past <= wrap) {
                step_to(centre + radius * unit(*angle), lay);
                continue;
            }
            const double along = (at_ - leave).dot(out), rest = (at_ - leave).squaredNorm() - pitch_ * pitch_;
            const double root = along * along - rest;
            if (!(root >= 0)) return false;
            step_to(leave + (along + std::sqrt(root)) * out, lay);
            return true;
        }
        return false;
    }
    /// Lays pins up to the first one on a wheel that the line does not leave again; answers its angle there.
    template <class Lay>
    std::optional<double> onto(const Vec2& centre, double radius, double side, double way_in, Lay lay) {
        straight_to(centre + radius * unit(way_in - side * pi / 2), way_in, lay);
        const auto angle = on_arc(centre, radius, side);
        if (angle) step_to(centre + radius * unit(*angle), lay);
        return angle;
    }
    const Vec2& at() const { return at_; }

private:
    /// Up to where the line touches.
    template <class Lay>
    void straight_to(const Vec2& touch, double way_in, Lay& lay) {
        const double ahead = (touch - at_).dot(unit(way_in));
        for (long k = std::max(0L, static_cast<long>(std::floor(ahead / pitch_ + 1e-12))); k > 0; --k)
            step_to(at_ + pitch_ * (touch - at_).normalized(), lay);
    }
    template <class Lay>
    void step_to(const Vec2& place, Lay& lay) {
        at_ = place;
        lay(place);
    }
    /// Angle of the place on a circle that is one pitch further round than the last pin.
    std::optional<double> on_arc(const Vec2& centre, double radius, double side) const {
        const Vec2 arm = at_ - centre;
        const double distance = arm.norm();
        const double cosine =
            (distance * distance + radius * radius - pitch_ * pitch_) / (2 * distance * radius);
        if (!(std::abs(cosine) <= 1)) return std::nullopt;
        return angle_of(arm) + side * std::acos(cosine);
    }

    double pitch_;
    Vec2 at_;
};

}  // namespace pivrak
