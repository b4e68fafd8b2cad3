#pragma once

#include <optional>
#include <vector>

#include "core/rig/reach/reach_model.h"

namespace pivrak {

/// Rows whose pose follows from the goal without steps: two hinges about parallel axes that bring a place to
/// a goal, and three that also turn it as the goal stands. The law of cosines gives the bend in the middle;
/// it stays on the side to which it is bent.
class ClosedForm {
public:
    /// None for any other row.
    static std::optional<ClosedForm> of(const ReachModel& model);

    /// Moves values, on which `frames` stand, to where the goal is missed least; answers whether it could:
    /// not where a limit is in the way, where the row lies stretched, where a third hinge cannot have both.
    bool solve(const ReachModel& model, std::span<double> values, const ReachGoal& goal,
               const MotionFrames& frames, const MotionBody& tip) const;

private:
    std::vector<std::uint32_t> hinges_;  ///< motions, outermost first
};

}  // namespace pivrak
