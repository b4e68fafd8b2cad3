#include "core/rig/linkages/motion_tree.h"

#include <algorithm>
#include <cmath>

namespace pivrak {

void MotionTree::add(MotionBody& body, int axis, std::uint32_t column, bool turns) {
    const bool is_turned = body.frame.rotation.vec() != Vec3(0, 0, 0);
    axes_.push_back({body.behind, body.frame, axis, turns, column, is_turned});
    body = {static_cast<std::int32_t>(axes_.size() - 1), {}};
    columns_ = std::max(columns_, column + 1);
    turns_.resize(columns_);
    turns_[column] = turns;
}

/// In the order in which `rest_from_part` puts them together.
MotionBody MotionTree::add_joint(const MotionBody& at, JointKind kind, int axis, std::uint32_t first) {
    MotionBody body = at;
    const auto three = [&](std::uint32_t column, bool turns) {
        for (const int k : {2, 1, 0}) add(body, k, column + static_cast<std::uint32_t>(k), turns);
    };
    switch (kind) {
        case JointKind::Fixed:
            break;
        case JointKind::Hinge:
        case JointKind::Slide:
            add(body, axis, first, kind == JointKind::Hinge);
            break;
        case JointKind::Cylinder:
            add(body, axis, first, true);
            add(body, axis, first + 1, false);
            break;
        case JointKind::Ball:
            three(first, true);
            break;
        case JointKind::Free:
            three(first, false);
            three(first + 3, true);
            break;
    }
    return body;
}

MotionFrames MotionTree::make_frames() const {
    return {std::vector<Frame>(axes_.size()), std::vector<Vec3>(axes_.size(), Vec3(0, 0, 0)),
            std::vector<Vec3>(axes_.size(), Vec3(0, 0, 0))};
}

namespace {

/// A frame's own axis: a column of the matrix of its rotation.
Vec3 axis_of(const Quat& q, int axis) {
    switch (axis) {
        case 0:
            return {1 - 2 * (q.y() * q.y() + q.z() * q.z()), 2 * (q.x() * q.y() + q.w() * q.z()),
                    2 * (q.x() * q.z() - q.w() * q.y())};
        case 1:
            return {2 * (q.x() * q.y() - q.w() * q.z()), 1 - 2 * (q.x() * q.x() + q.z() * q.z()),
                    2 * (q.y() * q.z() + q.w() * q.x())};
        default:
            return {2 * (q.x() * q.z() + q.w() * q.y()), 2 * (q.y() * q.z() - q.w() * q.x()),
                    1 - 2 * (q.x() * q.x() + q.y() * q.y())};
    }
}

/// A rotation, then a turn about an own axis.
Quat turned_about(const Quat& q, int axis, double angle_rad) {
    const double c = std::cos(0.5 * angle_rad), s = std::sin(0.5 * angle_rad);
    switch (axis) {
        case 0:
            return {q.w() * c - q.x() * s, q.x() * c + q.w() * s, q.y() * c + q.z() * s,
                    q.z() * c - q.y() * s};
        case 1:
            return {q.w() * c - q.y() * s, q.x() * c - q.z() * s, q.y() * c + q.w() * s,
                    q.z() * c + q.x() * s};
        default:
            return {q.w() * c - q.z() * s, q.x() * c + q.y() * s, q.y() * c - q.x() * s,
                    q.z() * c + q.w() * s};
    }
}

}  // namespace

/// Done for each step of Newton's method, so what a frame's parts have in common is computed once.
void MotionTree::place(std::span<const double> values, MotionFrames& frames, double longer) const {
    for (std::size_t i = 0; i < axes_.size(); ++i) {
        const MotionAxis& axis = axes_[i];
        Frame at = axis.before;
        if (axis.carrier >= 0) {
            const Frame& carrier = frames.behind[static_cast<std::size_t>(axis.carrier)];
            at.translation = carrier.point(longer * axis.before.translation);
            at.rotation = carrier.rotation;
            if (axis.is_turned) at.rotation = at.rotation * axis.before.rotation;
        }
        frames.point[i] = at.translation;
        frames.direction[i] = axis_of(at.rotation, axis.axis);
        const double value = values[axis.column];
        if (axis.turns)
            at.rotation = turned_about(at.rotation, axis.axis, value);
        else
            at.translation += value * frames.direction[i];
        frames.behind[i] = at;
    }
}

std::vector<std::uint32_t> MotionTree::above(const MotionBody& body) const {
    std::vector<std::uint32_t> row;
    for (std::int32_t at = body.behind; at >= 0; at = axes_[static_cast<std::size_t>(at)].carrier)
        row.push_back(static_cast<std::uint32_t>(at));
    std::reverse(row.begin(), row.end());
    return row;
}

}  // namespace pivrak
