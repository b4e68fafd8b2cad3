#pragma once

#include "core/motion/step_list.h"

namespace pivrak {

/// A part drawn along by a hitch. Its states are the headings of drawbar and rear axle.
struct TowStep {
    static constexpr StepRank rank = StepRank::Frames;
    static constexpr bool stateful = true;
    /// Where it was.
    struct Memory {
        Vec2 hitch, turntable;
    };
    std::uint32_t node;
    std::int32_t hitch;
    Vec3 hitch_m;
    double drawbar_m, wheelbase_m, height_m;  ///< as large as at rest
    double heading_in_hitch;                  ///< of the part at rest, about up
    std::uint32_t state;
    std::int32_t sized;  ///< node of what carries it in the tree, where that can grow and shrink
    Memory start() const { return {{0, 0}, {0, 0}}; }
    void run(RunContext& context, Memory& past) const;
};

/// A turntable, or a drawbar that nods: a hinge that points to the hitch.
struct DrawbarStep {
    static constexpr StepRank rank = StepRank::Frames;
    static constexpr bool stateful = false;
    std::uint32_t channel;
    std::int32_t parent, hitch;
    Frame parent_from_rest;
    int axis;
    Vec3 hitch_m;
    double rest_rad;
    void run(RunContext& context) const;
};

}  // namespace pivrak
