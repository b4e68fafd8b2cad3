#pragma once

#include <memory>

#include "core/motion/evaluator.h"
#include "core/motion/rig_plan.h"
#include "core/rig/reach/reach_row.h"

namespace pivrak {

/// A row that follows its goal from the clip's start on. Its states are the values that reach; the last
/// values with which it stood bent, and how well it could be moved at best; the goal it was
/// asked last (a place and a rotation), and whether there is one; how long it is.
struct ReachStep {
    static constexpr StepRank rank = StepRank::Frames;
    static constexpr bool stateful = true;
    static constexpr std::uint32_t states_of_goal = 8;
    static constexpr std::uint32_t state_count(std::uint32_t columns) {
        return 2 * columns + 1 + states_of_goal + 1;
    }
    struct Memory {
        ReachRoom room;
        std::vector<double> preferred, tried;
    };
    ReachId id;
    std::shared_ptr<const ReachSolver> solver;
    std::vector<std::uint32_t> channels;  ///< by column
    std::vector<bool> held;               ///< by column: locked, or driven by something else
    std::int32_t root, goal, side;        ///< nodes
    Frame goal_frame;                     ///< in the goal's
    std::uint32_t blend;
    std::int32_t stretch = -1;  ///< channel; none for one that keeps its length
    double most_stretch = 1;
    bool has_side = false;
    std::uint32_t state = 0;

    Memory start() const;
    void run(RunContext& context, Memory& memory) const;

private:
    /// Its states, as parts of the array.
    struct States {
        std::span<double> values, bent, last;
        double &agility, &longer;
    };
    States states_of(const RunContext& context) const;
    void follow(const States& now, const ReachGoal& asked, Memory& memory) const;
    ReachGoal goal_in_row(const RunContext& context) const;
};

/// Where a part of a row hangs that has become longer.
struct LengthenStep {
    static constexpr StepRank rank = StepRank::Frames;
    static constexpr bool stateful = false;
    std::uint32_t base;
    std::int32_t parent;
    Frame parent_from_rest;
    std::uint32_t stretch;  ///< channel

    void run(RunContext& context) const;
};

/// How far a tip is from its goal in a pose, measured on where parts stand. None for a reach that is off, or
/// lacks what it needs.
std::optional<ReachMiss> reach_miss(const Evaluator& evaluator, const Pose& pose, const Reach& reach);

}  // namespace pivrak
