#include "core/rig/linkages/motion_tree.h"

#include <algorithm>

namespace pivrak {

void MotionTree::add(MotionBody& body, int axis, std::uint32_t column, bool turns) {
    axes_.push_back({body.behind, body.frame, axis, turns, column});
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

void MotionTree::place(std::span<const double> values, MotionFrames& frames) const {
    for (std::size_t i = 0; i < axes_.size(); ++i) {
        const MotionAxis& axis = axes_[i];
        const Frame at = axis.carrier < 0
                             ? axis.before
                             : frames.behind[static_cast<std::size_t>(axis.carrier)] * axis.before;
        frames.point[i] = at.translation;
        frames.direction[i] = at.axis(axis.axis);
        const double value = values[axis.column];
        frames.behind[i] = axis.turns ? Frame{at.rotation * turn_about_axis(axis.axis, value), at.translation}
                                      : Frame{at.rotation, at.translation + value * frames.direction[i]};
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
