#pragma once

#include <optional>
#include <vector>

#include "core/rig/linkages/motion_tree.h"

namespace pivrak {

/// A row of joints that reaches for a goal. All is in the frame that its outermost joint hangs in.
struct ReachModel {
    MotionTree tree;
    MotionBody tip;              ///< the place, and the axes, that reach
    Vec3 tip_rest{0, 0, 0};      ///< of where that stands, what lies before the tip's own pivot
    std::vector<bool> held;      ///< by column: stands as it is given
    std::vector<Limits> limits;  ///< by column
    bool asks_place = true, asks_turn = false;
    double turn_weight = 1;   ///< a radian against the row's length
    double size_m = 1;        ///< the row's length
    std::uint32_t elbow = 0;  ///< the motion whose place bends to the side

    /// The tip of a row that is so many times as long as at rest.
    MotionBody tip_when(double longer) const {
        return {tip.behind, {tip.frame.rotation, tip.frame.translation + (longer - 1) * tip_rest}};
    }
    /// What a change of a column counts against: a radian, or the row's length.
    double unit(std::uint32_t column) const { return tree.turns(column) ? 1 : size_m; }
};

/// What is asked of a row, in its frame.
struct ReachGoal {
    Frame tip;
    std::optional<Vec3> side;  ///< the place it bends towards
};

}  // namespace pivrak
