#pragma once

#include "core/motion/evaluator.h"
#include "core/motion/rig_plan.h"
#include "core/rig/joint_answer.h"

namespace pivrak {

/// A constraint made ready: where its target is found.
struct ConstraintAsk {
    Constraint what;
    std::int32_t target, second;              ///< nodes; the target of `Rest` is what carries the ground
    std::uint32_t blend;                      ///< channel
    std::shared_ptr<const GroundMap> ground;  ///< as it stands at rest; null for the floor
    Frame rest_from_world{};                  ///< that of the ground's part
    std::int32_t bob = -1;                    ///< node of the frame of a pendulum that it hangs as

    /// What is asked of a joint that stands as it does, fully answered.
    void ask(const RunContext& context, JointAnswer& joint) const;
    /// The axes by which its switches and bounds go.
    Axes axes(const Frame& target_frame) const;
    /// Which way its second axis shall point; none when it stands there itself.
    std::optional<Vec3> second_goal(const Frame& part, const Frame& second_frame) const;
    /// Height in the world of the ground straight above or below a place, the ground's part standing in a
    /// frame.
    double ground_height(const Frame& ground_part, const Vec3& at, double size) const;
    /// The place it hangs or points towards.
    Vec3 towards(const Frame& target_frame, const Frame& bob_frame, const Vec3& pivot) const;

private:
    void rest(JointAnswer& joint, const Frame& ground_part) const;
    void stay_inside(JointAnswer& joint, const Frame& target_frame) const;
    void aim(const RunContext& context, JointAnswer& joint) const;
};

/// What all constraints of a part make of its joint's channels, one after the other.
struct ConstraintStep {
    static constexpr StepRank rank = StepRank::Frames;
    static constexpr bool stateful = false;
    std::uint32_t node;
    std::vector<bool> gives;  ///< of the joint's channels
    std::vector<ConstraintAsk> asks;

    void run(RunContext& context) const;
};

/// How far a part is from what a constraint asks.
struct ConstraintMiss {
    double place_m = 0, turn_rad = 0;
    bool operator==(const ConstraintMiss&) const = default;
};

/// The place of the part that is meant and the one that it is asked for, in the world.
struct AskedLine {
    Vec3 from, to;
};
/// None for one that asks for no place, or lacks what it needs.
std::optional<AskedLine> asked_line(const Evaluator& evaluator, const Pose& pose,
                                    const Constraint& constraint);

/// `12.4 mm, 3.100°`; what is nothing is left out.
std::string miss_words(const ConstraintMiss& miss, LengthUnit unit);

/// Measured on where parts stand in a pose, not by what made it. None for a constraint that is off, or lacks
/// what it needs.
std::optional<ConstraintMiss> constraint_miss(const Evaluator& evaluator, const Pose& pose,
                                              const Constraint& constraint);

}  // namespace pivrak
