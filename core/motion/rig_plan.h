#pragma once

#include <map>
#include <string>

#include "core/model/document.h"
#include "core/motion/rig_program.h"
#include "core/motion/step_order.h"
#include "core/rig/driven_by.h"
#include "core/rig/rig_facts.h"

namespace pivrak {

/// When elements are planned, first to last. What one of them asks the plan for, those of an earlier phase
/// have said.
enum class PlanPhase : std::uint8_t {
    Carries,  ///< what decides where parts hang
    Stands,   ///< what sets wheels on the ground
    Rolls,    ///< what asks where wheels touch
    Asks,     ///< what joints answer
    Runs,     ///< what turns wheels that nothing else turns
    Riders,   ///< what takes the place of a part's carrier
    Trains,   ///< shafts: all that is left of them is solved at once
    Steers,
};

class RigPlan;

/// What a step needs and gives: channels, and frames of nodes.
class StepLinks {
public:
    explicit StepLinks(const RigPlan& plan) : plan_(plan) {}
    void needs_channel(std::uint32_t channel) { needs.push_back(channel); }
    /// What keys or a hand ask of a channel, also of one that this step gives.
    void needs_asked(std::uint32_t channel) { asks.push_back(channel); }
    /// Nothing of the world, -1.
    void needs_frame(std::int32_t node);
    /// All channels of a node's joint, and its size.
    void needs_joint(std::uint32_t node);
    void needs_size(std::uint32_t node);
    void gives_channel(std::uint32_t channel) { gives.push_back(channel); }
    void gives_frame(std::uint32_t node);

    std::vector<std::uint32_t> needs, gives, asks;  ///< as `StepOrder` names them

private:
    const RigPlan& plan_;
};

/// What elements are compiled into: they look up slots and measures here, and add steps with what these need
/// and give.
class RigPlan {
public:
    using Slot = std::uint32_t;

    /// Without `facts` nothing is measured: good for the order alone.
    RigPlan(const Document& document, const Clip& clip, RigFacts* facts)
        : document_(document), clip_(clip), facts_(facts), tree_(document) {}

    /// Slots for every part and channel. Errors: `tree.loop`, `rig.missing_part`.
    Result<void> add_parts();

    const Document& document() const { return document_; }
    const Clip& clip() const { return clip_; }

    // ---- slots
    const std::vector<PartId>& parts() const { return parts_; }
    std::int32_t node(PartId part) const;
    /// What a part hangs in, and where it rests there: its carrier in the tree, or what took that one's
    /// place.
    std::int32_t parent_node(PartId part) const { return node_step(node(part)).parent; }
    const Frame& parent_from_rest(PartId part) const { return node_step(node(part)).parent_from_rest; }
    const NodeStep& node_step(std::int32_t node) const { return program_.nodes[static_cast<Slot>(node)]; }
    std::optional<Slot> channel(ChannelRef channel) const;
    /// As above; a channel that is missing is an error of the whole plan, `rig.missing_part`.
    std::optional<Slot> require(ChannelRef channel);
    std::string channel_title(Slot channel) const { return channel_name(document_, channels_[channel]); }
    /// Nodes from below a part down to one it carries; the joints between are needed.
    /// One that hangs elsewhere is an error of the whole plan, `rig.carried`.
    std::vector<Slot> row_down(PartId above, PartId part, StepLinks& links);

    /// The part that decides how large one is: itself, or the first above it that can grow and shrink; none
    /// where none can.
    PartId size_owner(PartId part) const;
    /// The tree's carrier of a part where that may be larger or smaller than at rest; else -1.
    std::int32_t sized_parent(PartId part) const;

    /// A part that something else carries than the tree says, below `above`, is an error of the whole plan,
    /// `rig.carried`.
    void require_in_tree(PartId part, PartId above);

    // ---- what is measured
    /// Whether anything is; else only the order is asked for.
    bool measures() const { return facts_; }
    WheelSize wheel_size(PartId wheel) const;
    std::shared_ptr<const WheelProfile> profile(PartId wheel) const;
    /// Null for the floor.
    std::shared_ptr<const GroundMap> ground(PartId part) const;
    /// Null when it cannot be measured.
    std::shared_ptr<const DrapedPath> path(const Path& path) const;
    std::shared_ptr<const LongShape> long_shape(const Part& part, bool evenly) const;
    /// Null for a part without a surface.
    std::shared_ptr<const ClearanceBody> clearance_body(PartId part) const;
    /// Of a gear; none where none can be counted.
    std::optional<int> teeth(PartId gear) const;

    // ---- what was said by other elements
    /// Who moves what in the document, by what it says.
    const Drivers& drivers() const;
    bool is_driven(Slot channel) const { return driven_by_.contains(channel); }
    /// Whether some step gives a node its frame.
    bool is_placed(Slot node) const { return placed_[node]; }
    /// Where a wheel's stand is kept; -1 for one that nothing sets on the ground.
    std::int32_t stand_of(PartId wheel) const;

    // ---- what is said here
    /// A frame that is no part's, but stands with one.
    Slot new_frame(PartId with);
    /// A frame of its own in which a part rests from now on, in place of its carrier's. Some step gives it.
    Slot new_base(PartId part);
    Slot new_stand(PartId wheel);
    /// The first of so many states.
    Slot new_states(std::uint32_t count);
    /// A number for a text, from 0 on; the same for the same.
    Slot number_of(const std::string& text) {
        return numbers_.try_emplace(text, static_cast<Slot>(numbers_.size())).first->second;
    }
    void set_rolling_radius(PartId wheel, double radius_m) { radii_[wheel] = radius_m; }
    /// Shafts are solved when the phase of trains is over.
    void want_trains() { wants_trains_ = true; }
    bool wants_trains() const { return wants_trains_; }
    /// `by` names who gives the channels, for a person.
    template <class Step>
    void add(Step step, StepLinks links, const std::string& by) {
        const Slot list = list_of<Step>();
        auto& steps = static_cast<ListOf<Step>&>(*program_.lists[list]).steps;
        steps.push_back(std::move(step));
        add_to_order(list, static_cast<Slot>(steps.size() - 1), std::move(links), by);
    }

private:
    friend class EvaluatorBuilder;
    friend class StepLinks;

    struct Twice {
        Slot channel;
        std::string first, second;
    };

    template <class Step>
    Slot list_of() {
        for (Slot i = 0; i < program_.lists.size(); ++i)
            if (dynamic_cast<ListOf<Step>*>(program_.lists[i].get())) return i;
        program_.lists.push_back(std::make_shared<ListOf<Step>>());
        return static_cast<Slot>(program_.lists.size() - 1);
    }
    void add_to_order(Slot list, Slot index, StepLinks links, const std::string& by);
    void add_channel(ChannelRef ref, const Channel& channel);
    /// Some part hangs below itself or below a part that does not exist.
    Error tree_problem() const;
    /// The part a frame belongs to.
    PartId part_of(Slot node) const {
        return node < parts_.size() ? parts_[node] : bases_[node - parts_.size()];
    }

    const Document& document_;
    const Clip& clip_;
    RigFacts* facts_;
    Tree tree_;
    std::vector<PartId> parts_;
    std::vector<PartId> bases_;  ///< whose the frames behind those of parts are
    std::unordered_map<PartId, Slot> slot_of_part_;
    RigProgram program_;
    std::vector<ChannelRef> channels_;
    std::unordered_map<ChannelRef, Slot> slot_of_own_;  ///< of elements
    std::vector<double> base_values_;
    std::vector<Limits> limits_;
    StepOrder order_;
    std::unordered_map<Slot, std::string> driven_by_;
    std::vector<bool> placed_;
    std::vector<std::size_t> stateful_;  ///< steps of the order
    std::map<PartId, Slot> stand_of_;
    std::vector<PartId> wheels_;  ///< by stand
    std::unordered_map<PartId, double> radii_;
    std::map<std::string, Slot> numbers_;
    bool wants_trains_ = false;
    std::optional<Error> error_;
    mutable std::optional<Drivers> drivers_;
    std::optional<Twice> twice_;
};

inline void StepLinks::needs_frame(std::int32_t node) {
    if (node >= 0) needs.push_back(plan_.order_.frame(static_cast<std::uint32_t>(node)));
}
inline void StepLinks::gives_frame(std::uint32_t node) {
    gives.push_back(plan_.order_.frame(node));
}

}  // namespace pivrak
