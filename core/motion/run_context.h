#pragma once

#include <cstdint>
#include <optional>
#include <span>
#include <vector>

#include "core/geometry/ground/ground_map.h"
#include "core/model/part.h"

namespace pivrak {

/// A part: its frame is its carrier's, times where it rests, times its joint. Nodes and channels are named by
/// their slots, -1 for none.
struct NodeStep {
    Frame parent_from_rest;
    std::int32_t parent;
    std::int32_t channel;  ///< the joint's first one
    std::int16_t axis;
    JointKind joint;
    std::int32_t along;   ///< of a rider
    std::int32_t travel;  ///< of a chain's datum
    std::int32_t size;    ///< of a part that grows and shrinks
};

/// How a wheel stands on the ground; lengths as they are in the world.
struct WheelStand {
    bool has_ground = false;
    double gap_m = 0;  ///< between tyre and ground; below zero it is pressed in, since its travel ends
    Vec3 place{0, 0, 0}, normal{0, 0, 1};
    // Of a wheel that leans: where on its profile it touches.
    double radius_m = 0;  ///< 0: that of its tread
    double edge_m = 0;    ///< along the axle from the middle of the tread
};

/// Whether steps that depend on the past show their states, or move them on from where they were last.
enum class StateMode : std::uint8_t {
    Show,   ///< as they are
    Begin,  ///< as they are, and remembers where they were
    Align,  ///< headings as at rest, and remembers
    Move,   ///< moves them on from what is remembered, and remembers anew
};

/// The arrays that the steps of a program work on.
class RunContext {
public:
    std::span<const NodeStep> nodes;
    std::span<const Limits> limits;  ///< of every channel
    std::span<const double> asked;   ///< what keys or a hand ask of every channel
    std::span<double> channels;      ///< what they are, after what drives them
    std::span<Frame> frames;         ///< of nodes, in the world
    std::span<WheelStand> stands;    ///< of wheels on the ground
    std::span<double> states;        ///< what depends on the past
    StateMode mode = StateMode::Show;
    double step_s = 0;  ///< time that `Move` moves them on by; none where a hand does, below zero backwards
    double moment = 0;  ///< the frame of the clip

    /// Within its limits.
    void set(std::uint32_t channel, double value) { channels[channel] = limits[channel].clamp(value); }
    /// The world for -1.
    const Frame& frame(std::int32_t node) const;
    /// By how much a node itself is larger than at rest.
    double size_of(const NodeStep& node) const {
        return node.size < 0 ? 1 : channels[static_cast<std::size_t>(node.size)];
    }
    Frame joint_of(const NodeStep& node) const;
    /// Where a part stands before its own joint moves it.
    Frame base_of(std::int32_t node) const;
    /// A part's frame, before its joint moves it, below the frame that a row of nodes hangs in.
    Frame down_row(Frame frame, const std::vector<std::uint32_t>& row) const;
};

/// Where a wheel stands above a ground, or the floor when there is none. `found` is false without ground
/// below it.
GroundContact stand_on(const GroundMap* ground, const GroundWheel& wheel, const Vec3& up, bool& found);

}  // namespace pivrak
