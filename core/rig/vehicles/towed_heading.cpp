#include "core/rig/vehicles/towed_heading.h"

#include <cmath>

namespace pivrak {

double unwrapped(double angle, double near) {
    return angle + 2 * pi * std::round((near - angle) / (2 * pi));
}

double towed_heading(double heading, const Vec2& from, const Vec2& to, double bar) {
    const Vec2 way = to - from;
    const double distance = way.norm();
    if (!(distance > 0)) return heading;
    const double pull = std::atan2(way.y(), way.x());
    // Between the bar and the pull, -pi to pi.
    const double off = std::remainder(heading - pull, 2 * pi);
    // By half angles as a direction, so that a bar that is pushed straight back stands well too.
    const double s = std::sin(0.5 * off) * std::exp(-distance / bar), c = std::cos(0.5 * off);
    return unwrapped(pull + 2 * std::atan2(s, c), heading);
}

}  // namespace pivrak
