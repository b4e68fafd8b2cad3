#pragma once

#include <memory>

#include "core/motion/evaluator.h"
#include "core/motion/rig_plan.h"
#include "core/rig/reach/reach_row.h"

namespace pivrak {

/// A row that follows its goal from the clip's start on. Its states are the values that reach, the goal they
/// reached last (a place and a rotation), and whether there is one.
struct ReachStep {
    static constexpr StepRank rank = StepRank::Frames;
    static constexpr bool stateful = true;
    static constexpr std::uint32_t states_of_goal = 8;
    struct Memory {
        ReachRoom room;
        std::vector<double> preferred;
    };
    ReachId id;
    std::shared_ptr<const ReachSolver> solver;
    std::vector<std::uint32_t> channels;  ///< by column
    std::vector<bool> held;               ///< by column: locked, or driven by something else
    std::int32_t root, goal, side;        ///< nodes
    Frame goal_frame;                     ///< in the goal's
    std::uint32_t blend;
    bool has_side = false;
    std::uint32_t state = 0;

    Memory start() const;
    void run(RunContext& context, Memory& memory) const;

private:
    ReachGoal goal_in_row(const RunContext& context) const;
};

/// How far a tip is from its goal in a pose, measured on where parts stand. None for a reach that is off, or
/// lacks what it needs.
std::optional<ReachMiss> reach_miss(const Evaluator& evaluator, const Pose& pose, const Reach& reach);

}  // namespace pivrak
