#pragma once

#include "core/motion/step_list.h"
#include "core/rig/vehicles/wheel_size.h"

namespace pivrak {

/// A wheel that leans: the shifts of the free frame that carries it.
struct LeanStep {
    static constexpr StepRank rank = StepRank::Frames;
    static constexpr bool stateful = false;
    std::uint32_t node, channel, stand;  ///< the frame, its first channel
    std::vector<std::uint32_t> row;      ///< nodes from below that frame down to the wheel
    int axis;                            ///< of the wheel
    double facing;                       ///< 1 where its axle points left in that frame, -1 where right
    double left_m, middle_m;  ///< middle of its tread: left in that frame upright, and along the axle
    std::shared_ptr<const WheelProfile> profile;
    std::shared_ptr<const GroundMap> ground;  ///< null for the floor
    void run(RunContext& context) const;

private:
    std::optional<double> profile_lift(const Vec3& pivot, const Vec3& axle, double size) const;
};

}  // namespace pivrak
