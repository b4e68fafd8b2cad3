#pragma once

#include "core/motion/step_list.h"

namespace pivrak {

/// A wheel that rolls by any motion of what carries it. Its state is its turn.
struct RollStep {
    static constexpr StepRank rank = StepRank::Frames;
    static constexpr bool stateful = true, adds_up = true;
    /// Where it was.
    struct Memory {
        Vec3 hub, forward;
        Quat carrier;
        double radius, edge;  ///< where it touches
        double tread;         ///< its radius, as large as it was
        bool touches;         ///< a ground, so that it goes along it
    };
    std::uint32_t channel;
    std::int32_t parent;
    Frame parent_from_rest;
    int axis;
    double middle_m, radius_m, slip;
    std::uint32_t state;
    std::int32_t stand;  ///< of its suspension, or its lean
    Vec3 up;             ///< away from what it rolls on, in its carrier, where no stand is known
    std::uint32_t node;  ///< of the wheel

    Memory start() const { return {{0, 0, 0}, {0, 0, 0}, Quat::Identity(), 0, 0, 0, false}; }
    void run(RunContext& context, Memory& past) const;
    /// Its turn about the axle between two moments, such that the place that touches stays where it is.
    double between(const Memory& past, const Memory& now, Bends bends) const;

private:
    double way_between(const Memory& past, const Memory& now, Bends bends) const;
};

/// A wheel that rolls as far as something goes that may be of another size: a rider along its path, a wheel
/// of the same track.
struct SizedRollStep {
    static constexpr StepRank rank = StepRank::Frames;
    static constexpr bool stateful = false;
    std::uint32_t driver, driven;
    double ratio;                ///< both as large as at rest
    std::int32_t above, beside;  ///< nodes of what carries the wheel, and of what it rolls on
    std::uint32_t wheel;
    void run(RunContext& context) const;
};

}  // namespace pivrak
