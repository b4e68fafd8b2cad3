#pragma once

#include <Eigen/Core>

#include "core/motion/step_list.h"
#include "core/rig/vehicles/wheel_size.h"

namespace pivrak {

/// A wheel as it hangs in a frame at rest.
struct HungWheel {
    Vec3 hub, axle;
    double radius_m, half_width_m;
};

/// The heave, pitch and roll of a vehicle.
struct FollowStep {
    static constexpr StepRank rank = StepRank::Frames;
    static constexpr bool stateful = false;
    std::int32_t parent;
    Frame parent_from_rest;
    std::uint32_t heave, pitch, roll;  ///< channels
    double heave_share, pitch_share, roll_share;
    std::vector<HungWheel> wheels;                   ///< in its own frame at rest
    Eigen::Matrix<double, 3, Eigen::Dynamic> plane;  ///< lifts of the wheels to heave, roll and pitch
    std::shared_ptr<const GroundMap> ground;         ///< null for the floor
    // Of a trailer: it is moved level so that its drawbar reaches the hitch however it leans.
    std::int32_t hitch = -1;
    Vec3 hitch_m{0, 0, 0};
    Vec3 eye{0, 0, 0};     ///< in its own frame: the turntable's middle, or the eye of a rigid drawbar
    double drawbar_m = 0;  ///< straight from the turntable's middle to the hitch; 0 for a rigid one
    std::uint32_t shift_x = 0, shift_y = 0;  ///< channels

    /// With a rigid drawbar it hangs on the hitch: that tells its pitch, the wheels only heave and roll.
    bool hangs() const { return hitch >= 0 && !(drawbar_m > 0); }
    void run(RunContext& context) const;

private:
    struct Settling;
    void settle(Settling& now, const RunContext& context) const;
    Vec3 asked_by_ground(const Frame& now) const;
    double pitch_to_hitch(const RunContext& context, const Frame& now) const;
    Vec3 level_to_hitch(const RunContext& context, const Frame& leaned, const Frame& rest) const;
};

/// The travel of one suspension.
struct SuspendStep {
    static constexpr StepRank rank = StepRank::Frames;
    static constexpr bool stateful = false;
    std::int32_t parent;
    Frame parent_from_rest;
    std::uint32_t channel, stand;
    int axis;
    std::vector<std::uint32_t> row;  ///< nodes from below the suspension down to the wheel
    int wheel_axis;
    WheelSize size;
    std::shared_ptr<const GroundMap> ground;
    void run(RunContext& context) const;
};

}  // namespace pivrak
