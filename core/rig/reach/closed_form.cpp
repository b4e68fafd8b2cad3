#include "core/rig/reach/closed_form.h"

#include <algorithm>
#include <array>
#include <cmath>

#include "core/rig/reach/hinge_turns.h"

namespace pivrak {
namespace {

/// Less than this between axes counts as parallel, and of a bend as none.
constexpr double parallel = 1e-12, least_bend = 1e-7;

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
    const Vec3 near = beside_axis(axis, second - first), far = beside_axis(axis, end - second);
    const double bend = turn_about(axis, near, far);
    if (std::abs(std::sin(bend)) < least_bend) return false;
    const auto turns = two_turns(axis, near, far, beside_axis(axis, wanted - first), bend);
    if (!turns || (model.asks_turn && !turns->is_reached)) return false;
    const std::array<double, 3> by{turns->first, turns->second, round - turns->first - turns->second};
    std::array<double, 3> to{};
    for (std::size_t i = 0; i < hinges_.size(); ++i) {
        const std::uint32_t column = model.tree.axes()[hinges_[i]].column;
        const double sign = std::copysign(1.0, frames.direction[hinges_[i]].dot(axis));
        const auto value = inside(values[column] + sign * std::remainder(by[i], 2 * pi), model.limits[column],
                                  values[column]);
        if (!value) return false;
        to[i] = *value;
    }
    for (std::size_t i = 0; i < hinges_.size(); ++i) values[model.tree.axes()[hinges_[i]].column] = to[i];
    return true;
}

}  // namespace pivrak
