#pragma once

#include <memory>

#include "core/elements/measure/measure.h"
#include "core/geometry/near/clearance.h"
#include "core/motion/evaluator.h"
#include "core/motion/step_list.h"
#include "core/rig/paths/draped_path.h"

namespace pivrak {

/// Measures where parts stand, and gives it to its channel.
struct MeasureStep {
    static constexpr StepRank rank = StepRank::Frames;
    static constexpr bool stateful = false;
    MeasureId id;
    std::uint32_t channel;
    Measures what;
    std::int32_t a, b, c;  ///< nodes; `c` the path's carrier for a place beside one
    Vec3 place_a, place_b, place_c, axis_a, axis_b;
    Quat a_from_b_rest;                      ///< of a twist
    std::shared_ptr<const DrapedPath> path;  ///< of what lies beside one
    double fixed = 0;                        ///< what does not move, at rest

    double reading(const RunContext& context) const;
    void run(RunContext& context) const { context.set(channel, reading(context)); }
};

/// How fast a place moves in the world [m/s], over the step that led to a moment. A clip begins at rest, and
/// what a hand moves takes no time.
struct SpeedStep {
    static constexpr StepRank rank = StepRank::Frames;
    static constexpr bool stateful = true;
    /// It comes to rest behind the last key.
    static constexpr bool goes_on = true;
    /// Where the place was.
    struct Memory {
        Vec3 place;
    };
    MeasureId id;
    std::uint32_t channel;
    std::int32_t node;
    Vec3 place;
    std::uint32_t state;

    Memory start() const { return {Vec3(0, 0, 0)}; }
    void run(RunContext& context, Memory& past) const;
};

/// How near two parts' surfaces are.
struct ClearanceStep {
    static constexpr StepRank rank = StepRank::Frames;
    static constexpr bool stateful = false;
    /// The second body as large against the first as it last was.
    struct Memory {
        std::shared_ptr<const ClearanceBody> grown;
        double ratio = 1;
    };
    MeasureId id;
    std::uint32_t channel;
    std::int32_t a, b;
    std::shared_ptr<const ClearanceBody> body_a, body_b;

    Memory start() const { return {body_b, 1}; }
    /// The frames are those of the parts.
    SurfaceGap gap(const Frame& world_from_a, const Frame& world_from_b, Memory& past) const;
    void run(RunContext& context, Memory& past) const {
        context.set(channel, gap(context.frame(a), context.frame(b), past).distance);
    }
};

/// Where a measure is drawn in a pose: its ends, and where it turns of an angle.
struct MeasureMarks {
    Vec3 from, to;
    Vec3 corner;  ///< of angles, between the two
};
/// None for one that has no place, or cannot be measured.
std::optional<MeasureMarks> measure_marks(const Document& document, const Evaluator& evaluator,
                                          const Pose& pose, const Measure& measure);

}  // namespace pivrak
