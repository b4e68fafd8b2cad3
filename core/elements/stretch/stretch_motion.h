#pragma once

#include "core/motion/evaluator.h"
#include "core/motion/rig_plan.h"

namespace pivrak {

/// Where a spring or cable hangs, and how long it is.
struct StretchStep {
    static constexpr StepRank rank = StepRank::Frames;
    static constexpr bool stateful = false;
    struct Memory {
        double length_m = 0;  ///< from seat to seat, in the measure of the first seat
    };
    StretchId id;
    std::uint32_t node;
    std::int32_t from, to;
    Vec3 from_place, to_place;
    Frame from_from_part;  ///< at rest
    Vec3 way;              ///< from seat to seat in the first seat's frame at rest, unit
    double rest_m;
    std::shared_ptr<const LongShape> shape;  ///< null when it cannot be drawn out: it then only points

    Memory start() const { return {rest_m}; }
    void run(RunContext& context, Memory& memory) const;
};

/// What of a part is drawn out in a pose, and how far [m of its own frame]; none for one that no spring or
/// cable is.
struct StretchedNow {
    const StretchStep* step;
    double length_m, by_m;
};
std::optional<StretchedNow> stretched_now(const Evaluator& evaluator, const Pose& pose, std::size_t slot);

/// The mesh of a part as it is drawn out in a pose; as it is where nothing draws it.
std::shared_ptr<const Mesh> mesh_now(const Document& document, const Evaluator& evaluator, const Pose& pose,
                                     PartId part);

}  // namespace pivrak
