#pragma once

#include <cmath>
#include <optional>

#include "core/geometry/frame.h"
#include "core/model/part.h"

namespace pivrak {

/// How far `to` is turned from `from` [rad], about a unit axis that is square to both.
inline double turn_about(const Vec3& axis, const Vec3& from, const Vec3& to) {
    return std::atan2(from.cross(to).dot(axis), from.dot(to));
}

inline Vec3 turned(const Vec3& axis, double angle_rad, const Vec3& v) {
    return Eigen::AngleAxisd(angle_rad, axis) * v;
}

/// The part of `v` that is square to a unit axis.
inline Vec3 beside_axis(const Vec3& axis, const Vec3& v) {
    return v - v.dot(axis) * axis;
}

/// Turns of the first and the second of two hinges about parallel axes [rad].
struct TwoTurns {
    double first, second;
    bool is_reached;  ///< not where the goal lies too far or too near
};

/// `near` leads from the first hinge to the second, `far` from there to the place, `goal` from the first to
/// where that shall be; all square to the axis. The law of cosines gives the bend between them, to the side
/// of `bent` (+1 or -1). None for a hinge without a lever, and a goal in the first hinge.
std::optional<TwoTurns> two_turns(const Vec3& axis, const Vec3& near, const Vec3& far, const Vec3& goal,
                                  double bent);

/// A value, or the same a turn on or back, whichever is inside; the nearest to `to` of these.
std::optional<double> inside(double value, const Limits& limits, double to);

}  // namespace pivrak
