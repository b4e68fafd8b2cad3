#include "core/rig/reach/closed_form.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace pivrak {
namespace {

/// Less than this between axes counts as parallel, and of a bend as none.
constexpr double parallel = 1e-12, least_bend = 1e-7;

/// How far `to` is turned from `from`, about a unit axis that is square to both.
double turn_about(const Vec3& axis, const Vec3& from, const Vec3& to) {
    return std::atan2(from.cross(to).dot(axis), from.dot(to));
}

Vec3 turned(const Vec3& axis, double angle_rad, const Vec3& v) {
    return Eigen::AngleAxisd(angle_rad, axis) * v;
}

/// Turns of the first and the second hinge.
struct TwoTurns {
    double first, second;
    bool is_reached;
};

/// `near` leads from the first hinge to the second, `far` from there to the place, `goal` from the first to
/// where that shall be; all square to the axis.
std::optional<TwoTurns> two_turns(const Vec3& axis, const Vec3& near, const Vec3& far, const Vec3& goal) {
    const double a = near.norm(), b = far.norm(), size = a + b;
    const double bend = turn_about(axis, near, far);
    if (std::min(a, b) < 1e-9 * size || goal.norm() < 1e-9 * size || std::abs(std::sin(bend)) < least_bend)
        return std::nullopt;
    const double cosine = (goal.squaredNorm() - a * a - b * b) / (2 * a * b);
    const double wanted = std::copysign(std::acos(std::clamp(cosine, -1.0, 1.0)), bend);
    const Vec3 reach = near + turned(axis, wanted - bend, far);
    if (reach.norm() < 1e-9 * size) return std::nullopt;
    return TwoTurns{turn_about(axis, reach, goal), wanted - bend, std::abs(cosine) <= 1};
}

/// The value a turn leads to, or the same a turn on or back, whichever is inside.
std::optional<double> inside(double value, const Limits& limits) {
    for (const double whole : {0.0, 2 * pi, -2 * pi})
        if (value + whole >= limits.min && value + whole <= limits.max) return value + whole;
    return std::nullopt;
}

}  // namespace

std::optional<ClosedForm> ClosedForm::of(const ReachModel& model) {
    ClosedForm form;
    const auto& axes = model.tree.axes();
    for (std::uint32_t i = 0; i < axes.size(); ++i) {
        if (model.held[axes[i].column]) continue;
        if (!axes[i].turns) return std::nullopt;
        form.hinges_.push_back(i);
    }
    if (!model.asks_place || form.hinges_.size() != (model.asks_turn ? 3u : 2u)) return std::nullopt;
    return form;
}

bool ClosedForm::solve(const ReachModel& model, std::span<double> values, const ReachGoal& goal,
                       const MotionFrames& frames, const MotionBody& tip_body) const {
    const Vec3 axis = frames.direction[hinges_[0]], first = frames.point[hinges_[0]],
               second = frames.point[hinges_[1]];
    const Frame tip = frames.body(tip_body);
    for (const std::uint32_t hinge : hinges_)
        if (frames.direction[hinge].cross(axis).norm() > parallel) return false;
    Vec3 end = tip.translation, wanted = goal.tip.translation;
    double round = 0;
    if (model.asks_turn) {
        const Eigen::AngleAxisd way(Eigen::Quaterniond(goal.tip.rotation * tip.rotation.conjugate()));
        if (std::sin(way.angle() / 2) * way.axis().cross(axis).norm() > 1e-12) return false;
        round = std::copysign(way.angle(), way.axis().dot(axis));
        end = frames.point[hinges_[2]];
        wanted -= turned(axis, round, tip.translation - end);
    }
    const auto in_plane = [&](const Vec3& v) { return Vec3(v - v.dot(axis) * axis); };
    const auto turns =
        two_turns(axis, in_plane(second - first), in_plane(end - second), in_plane(wanted - first));
    if (!turns || (model.asks_turn && !turns->is_reached)) return false;
    const std::array<double, 3> by{turns->first, turns->second, round - turns->first - turns->second};
    std::array<double, 3> to{};
    for (std::size_t i = 0; i < hinges_.size(); ++i) {
        const std::uint32_t column = model.tree.axes()[hinges_[i]].column;
        const double sign = std::copysign(1.0, frames.direction[hinges_[i]].dot(axis));
        const auto value =
            inside(values[column] + sign * std::remainder(by[i], 2 * pi), model.limits[column]);
        if (!value) return false;
        to[i] = *value;
    }
    for (std::size_t i = 0; i < hinges_.size(); ++i) values[model.tree.axes()[hinges_[i]].column] = to[i];
    return true;
}

}  // namespace pivrak
