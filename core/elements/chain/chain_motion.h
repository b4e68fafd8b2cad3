#pragma once

#include <array>

#include "core/motion/evaluator.h"
#include "core/rig/chains/chain_loop.h"
#include "core/rig/chains/open_run.h"

namespace pivrak {

/// A chain in its plane as it stands, and how it fits.
struct ChainStand {
    ChainLoop loop;
    ChainFit fit;
    std::vector<Vec2> pins;  ///< [m]
};

/// A chain or an open run: the frames of its links. Its wheels' places are looked up at each frame.
struct ChainStep {
    static constexpr StepRank rank = StepRank::Frames;
    static constexpr bool stateful = false;
    /// As it stands at the pose's frame: nothing of it tells of the past.
    using Memory = ChainStand;
    struct Wheel {
        std::int32_t node;
        // Of one that the run turns: its channel, and how that counts against the plane's z.
        std::int32_t channel = -1;
        double sense = 1;
        double carrier_rad = 0;  ///< how its carrier stands about that z at rest
    };
    struct End {
        std::int32_t node = -1;
        Vec3 place{0, 0, 0};
    };
    /// A tensioner, or what an open run pulls: the joint that is set so that the chain keeps its slack. A
    /// drum that is pulled is asked how far it pays out.
    struct TakeUp {
        enum class What : std::uint8_t { Wheel, From, To };
        std::int32_t channel = -1, parent = -1;
        Frame parent_from_rest;
        JointKind joint = JointKind::Fixed;
        int axis = 0;
        std::int32_t slack = -1;    ///< channel
        double longest_step = 0.2;  ///< of its root's search
        struct Carried {
            What what;
            std::size_t wheel;
            std::vector<std::uint32_t> row;  ///< nodes from below the tensioner down to what it carries
        };
        std::vector<Carried> carried;
    };
    ChainId chain;
    std::int32_t frame = -1;   ///< node of its datum
    std::int32_t travel = -1;  ///< channel
    std::vector<Wheel> wheels;
    std::vector<std::uint32_t> links;  ///< nodes; none while links are not built
    ChainLoop loop;                    ///< at rest
    std::array<End, 2> ends{};         ///< of an open run
    std::vector<RunTouch> rest;        ///< of an open run, wheel by wheel
    TakeUp take_up;

    ChainStand start() const { return {loop, {}, std::vector<Vec2>(loop.pin_count())}; }
    void run(RunContext& context, ChainStand& stand) const;

private:
    double travel_in(const RunContext& context) const;
    void stand_wheels(const RunContext& context, const Frame& plane_from_world, ChainLoop& loop) const;
    void turn_wheels(RunContext& context, const Frame& plane_from_world, const ChainLoop& loop) const;
    void set_take_up(RunContext& context, const Frame& plane_from_world, ChainLoop& loop) const;
    void carry(const RunContext& context, const Frame& plane_from_world, const Frame& arm,
               ChainLoop& loop) const;
};

/// How a chain stands in a pose; null for one that cannot be laid at all.
const ChainStand* chain_stand(const Evaluator& evaluator, const Pose& pose, ChainId chain);

}  // namespace pivrak
