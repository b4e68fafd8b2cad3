#pragma once

#include <cstdint>
#include <optional>
#include <unordered_map>
#include <vector>

#include "core/model/document.h"
#include "core/motion/curve.h"

namespace pivrak {

/// Where everything is at one frame. Slots are those of the evaluator that made it.
struct Pose {
    std::vector<double> channels;        ///< turns [rad] and shifts [m]
    std::vector<Frame> world_from_part;  ///< parents before children
};

/// A channel held by hand: its value takes the place of its keys, and what it drives follows.
struct HeldChannel {
    std::size_t slot;
    double value;
};

/// A document and one of its clips turned into flat arrays in an order in which every value is computed
/// once, after all it depends on. `evaluate` is a pure function of the frame: it allocates nothing, keeps no
/// state, and may run on several threads with a pose each.
class Evaluator {
public:
    /// Errors: `rig.loop` (couplings in a circle, every channel of it named), `rig.driven_twice`,
    /// `tree.loop`, `rig.missing_part`.
    static Result<Evaluator> compile(const Document& document, ClipId clip = {});

    /// A pose of the right size, at rest values.
    Pose make_pose() const;

    /// Fills the pose for a frame. Pre: the pose came from `make_pose` of this evaluator.
    void evaluate(double frame, Pose& pose, std::optional<HeldChannel> held = std::nullopt) const;

    /// Parts in evaluation order, parents before children; the index is the pose's slot.
    const std::vector<PartId>& parts() const { return parts_; }
    std::optional<std::size_t> part_slot(PartId part) const;
    std::optional<std::size_t> channel_slot(ChannelRef channel) const;

private:
    struct Node {
        Frame parent_from_rest;
        std::int32_t parent;   ///< slot, or -1
        std::int32_t channel;  ///< slot of the joint's first channel, or -1
        std::int16_t axis;
        JointKind joint;
    };
    struct TrackStep {
        std::uint32_t channel, first_key, key_count;
    };
    struct CouplingStep {
        std::uint32_t driver, driven;
        double ratio, phase;
    };
    friend class EvaluatorBuilder;

    std::vector<PartId> parts_;
    std::vector<Node> nodes_;
    std::vector<double> base_values_;
    std::vector<Limits> limits_;
    std::vector<CurveKey> keys_;
    std::vector<TrackStep> tracks_;
    std::vector<CouplingStep> couplings_;
    std::unordered_map<PartId, std::uint32_t> slot_of_part_;
};

}  // namespace pivrak
