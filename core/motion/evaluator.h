#pragma once

#include <cstdint>
#include <optional>
#include <unordered_map>
#include <vector>

#include "core/model/document.h"
#include "core/motion/clip_layers.h"
#include "core/motion/rig_program.h"
#include "core/rig/rig_facts.h"

namespace pivrak {

/// What depends on the past, integrated from the clip's start in steps that never depend on the order in
/// which frames are asked for. Kept with a pose, so that the next frame is near.
struct Travelled {
    std::vector<double> kept;  ///< states at every few frames from the start on
    long steps = -1;           ///< from the clip's start to where it stands; -1 when a hand or part of a step
                               ///< brought it elsewhere
    double moment = 0;         ///< the frame it stands at
    std::vector<double> asked, channels, aim, states;
    std::vector<Frame> frames;
    std::vector<WheelStand> wheels;
    Memories memories;
};

/// Where everything is at one frame. Slots are those of the evaluator that made it.
struct Pose {
    std::vector<double> asked;           ///< of each channel: by keys or a hand, before anything drives it
    std::vector<double> channels;        ///< turns [rad], shifts [m] and shares
    std::vector<Frame> world_from_part;  ///< parents before children, except riders
    std::vector<WheelStand> wheels;      ///< of `Evaluator::wheels`
    std::vector<double> states;          ///< what depends on the past: rolled turns, towed headings [rad]
    Memories memories;                   ///< of the program's lists of steps
    Travelled travelled;
};

/// A channel held by hand: its value takes the place of its keys, and what it drives follows.
/// Of several, all are held at once.
struct HeldChannel {
    std::size_t slot;
    double value;
};

/// A document and one of its clips turned into flat arrays in an order in which every value is computed
/// once, after all it depends on. `evaluate` is a pure function of the frame: it keeps no state but what the
/// pose integrates, allocates nothing once that is integrated, and may run on several threads with a pose
/// each.
class Evaluator {
public:
    /// What `facts` knows is not measured again. Errors: `rig.loop` (a circle, everything in it named),
    /// `rig.driven_twice`, `tree.loop`, `rig.missing_part`.
    static Result<Evaluator> compile(const Document& document, ClipId clip = {}, RigFacts* facts = nullptr);

    /// Whether a document could be compiled, without measuring anything. Errors: as above.
    static Result<void> check(const Document& document);

    /// A pose of the right size, at rest values.
    Pose make_pose() const;

    /// Fills the pose for a frame. Pre: the pose came from `make_pose` of this evaluator.
    void evaluate(double frame, Pose& pose, std::span<const HeldChannel> held = {}) const;
    void evaluate(double frame, Pose& pose, const HeldChannel& held) const {
        evaluate(frame, pose, std::span(&held, 1));
    }

    /// Parts in evaluation order, parents before children; the index is the pose's slot.
    const std::vector<PartId>& parts() const { return parts_; }
    std::optional<std::size_t> part_slot(PartId part) const;
    std::optional<std::size_t> channel_slot(ChannelRef channel) const;
    /// Wheels that stand on the ground, in the order of the pose's `wheels`.
    const std::vector<PartId>& wheels() const { return wheels_; }
    /// The radius a wheel rolls on [m]; 0 for one that does not roll.
    double rolling_radius(PartId wheel) const;
    /// What layers add to what is asked of a channel at a frame.
    double layered(std::size_t channel, double frame) const;
    /// What it runs: elements look up their own steps there.
    const RigProgram& program() const { return program_; }

private:
    friend class EvaluatorBuilder;

    void ask(double frame, std::span<const TrackStep> tracks, std::vector<double>& asked) const;
    void add_layers(double frame, std::vector<double>& asked) const;
    void begin(const std::vector<double>& asked, std::vector<double>& channels) const;
    void travel_to(double frame, std::span<const HeldChannel> held, Pose& pose) const;
    void travel_by_hand(std::span<const HeldChannel> held, Travelled& t) const;
    void travel_start(Travelled& t) const;
    void travel_begin(std::size_t kept, Travelled& t) const;
    void travel_steps(double from, double to, Travelled& t, long done = 0) const;
    void travel_on(std::size_t kept, double to, Travelled& t) const;
    void travel_far(std::size_t wanted, Travelled& t) const;
    class Stretch;
    void run_slice(StateMode mode, Travelled& t, double step_s = 0) const;
    RunContext context(StateMode mode, const std::vector<double>& asked, std::vector<double>& channels,
                       std::vector<Frame>& frames, std::vector<WheelStand>& wheels,
                       std::vector<double>& states) const;

    std::vector<PartId> parts_;
    RigProgram program_;
    std::vector<double> base_values_;
    std::vector<std::uint32_t> sizes_;  ///< channels
    std::vector<Limits> limits_;
    std::vector<CurveKey> keys_;
    std::vector<TrackStep> tracks_;
    std::vector<std::pair<std::uint32_t, AddedCurve>> added_;  ///< to channels, by clips that are layers
    std::unordered_map<PartId, std::uint32_t> slot_of_part_;
    std::unordered_map<ChannelRef, std::uint32_t> slot_of_own_;  ///< channels of elements
    std::vector<std::uint32_t> keyed_and_driven_;                ///< channels
    std::vector<PartId> wheels_;
    std::unordered_map<PartId, double> radii_;
    /// Frames between kept states, and steps in each frame.
    static constexpr long kept_every = 16;
    static constexpr int steps_a_frame = 2;

    double first_frame_ = 0;
    double frame_s_ = 1.0 / 24;  ///< how long a frame is
    // Of the program's slice.
    std::vector<TrackStep> slice_tracks_;
    double last_key_frame_ = -1e300;  ///< of these
    std::vector<bool> in_slice_;      ///< by channel
    bool adds_up_ = false;            ///< nothing in it depends on the states it moves on
};

}  // namespace pivrak
