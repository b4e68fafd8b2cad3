#pragma once

#include <memory>

#include "core/motion/evaluator.h"
#include "core/motion/rig_plan.h"
#include "core/rig/linkages/linkage_loops.h"

namespace pivrak {

/// A linkage that follows its inputs from rest on. Its states are the values of its loops' channels, and the
/// direction in which they went last.
struct LinkageStep {
    static constexpr StepRank rank = StepRank::Channels;
    static constexpr bool stateful = true;
    /// Where a channel's value comes from.
    enum class Source : std::uint8_t { Solved, Asked, Driven };
    struct Memory {
        LinkageRoom room;
        std::vector<double> goal;
    };
    LinkageId id;
    std::shared_ptr<const BuiltLinkage> built;
    std::vector<std::uint32_t> channels;  ///< by column
    std::vector<Source> sources;
    std::uint32_t state = 0;

    Memory start() const;
    void run(RunContext& context, Memory& memory) const;
};

/// How a closure stands in a pose.
struct ClosureMiss {
    double apart_m = 0, turn_rad = 0;
};
/// Measured on where parts stand in the world, not by what moved them. None when a part is missing.
std::optional<ClosureMiss> closure_miss(const Evaluator& evaluator, const Pose& pose, const Closure& closure);

/// The worst of all of a linkage, place and turn each.
ClosureMiss linkage_miss(const Evaluator& evaluator, const Pose& pose, const Linkage& linkage);

/// An input that stands elsewhere than asked, since the linkage goes no further.
struct InputStop {
    ChannelRef channel;
    double asked = 0, stands = 0;
};
std::optional<InputStop> input_stop(const Evaluator& evaluator, const Pose& pose, const Linkage& linkage);

}  // namespace pivrak
