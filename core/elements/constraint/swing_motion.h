#pragma once

#include "core/motion/rig_plan.h"

namespace pivrak {

/// A pendulum that hangs from a part's pivot and swings as that is moved: a point of mass on a rod, damped in
/// proportion to its speed. A hinge lets it swing square to its axis, a ball any way. Its states are the
/// direction it hangs in, that one's rate, and the pivot's velocity.
struct SwingStep {
    static constexpr StepRank rank = StepRank::Frames;
    static constexpr bool stateful = true;
    static constexpr bool goes_on = true;
    static constexpr std::uint32_t states = 9;
    /// Where the pivot was.
    struct Memory {
        Vec3 pivot;
    };
    std::uint32_t node, bob;  ///< the part, and the frame that it gives
    bool one_way;             ///< of a hinge
    double length_m, damping;
    std::uint32_t state;

    Memory start() const { return {{0, 0, 0}}; }
    void run(RunContext& context, Memory& past) const;
};

/// A pendulum's direction and its rate [1/s] after a time, its pivot accelerated evenly [m/s2]. `normal` is
/// the axis it turns about; none when it swings any way. Runge and Kutta's method of fourth order.
struct Swing {
    Vec3 direction{0, 0, -1}, rate{0, 0, 0};
};
Swing swing_on(Swing now, double length_m, double damping, const Vec3& acceleration,
               const std::optional<Vec3>& normal, double seconds);

/// Adds the pendulum of a constraint; the node of its frame.
std::int32_t plan_swing(const Constraint& constraint, const Part& part, RigPlan& plan);

}  // namespace pivrak
