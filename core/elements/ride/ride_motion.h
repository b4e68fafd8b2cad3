#pragma once

#include "core/motion/evaluator.h"
#include "core/motion/rig_plan.h"
#include "core/rig/paths/ride_frame.h"

namespace pivrak {

/// A part that rides a path: its frame there, and how far along it is behind the one it is coupled to.
struct RideStep {
    static constexpr StepRank rank = StepRank::Frames;
    static constexpr bool stateful = false;
    std::uint32_t node, along;      ///< the rider, and its channel
    std::int32_t carrier;           ///< node of what carries the path
    std::int32_t ahead = -1;        ///< node of the rider it is coupled to
    std::int32_t along_ahead = -1;  ///< and that one's channel
    Ride ride, ride_ahead;
    bool same_path = true;  ///< as the one ahead
    std::shared_ptr<const DrapedPath> path;
    std::vector<PathRoll> rolls;
    std::int32_t sized = -1;        ///< node of what carries it in the tree, where that can grow and shrink
    std::int32_t sized_ahead = -1;  ///< and of the one ahead

    void run(RunContext& context) const;
    /// The bend to the left [1/m, as it is large at rest] that it drives: its path's, or, carried at two
    /// points, the one that points its front along the path.
    double bend(const RunContext& context) const;

private:
    /// Whether it is carried in front by the very point that carries the one ahead behind.
    bool shares_point() const {
        return same_path && ride.gap_m == 0 && ride.front_m > 0 && ride.coupler_front_m == ride.front_m &&
               ride_ahead.rear_m > 0 && ride_ahead.coupler_rear_m == ride_ahead.rear_m;
    }
    /// How a rider of that size rides here, in the path's own measure.
    Ride in_path(const Ride& ride, std::int32_t sized_by, const RunContext& context) const;
    double along_behind(const RiddenPath& path, const Ride& own, const RunContext& context) const;
};

/// The step of a part that rides; none where there is no path to ride: the part then stands where it rests,
/// and a finding tells.
std::optional<RideStep> ride_step(const Part& part, const RigPlan& plan);

/// The path a part rides; null when it rides none, or none that can be measured.
const DrapedPath* ridden_path(const Evaluator& evaluator, PartId rider);

}  // namespace pivrak
