#pragma once

#include <map>

#include "core/motion/evaluator.h"
#include "core/motion/step_order.h"

namespace pivrak {

/// Fills an Evaluator: slots for every part and channel first, then steps with what they need and give, then
/// the order in which they can be done.
class EvaluatorBuilder {
public:
    /// Without `facts` nothing is measured: good for the order alone.
    EvaluatorBuilder(const Document& document, const Clip& clip, RigFacts* facts)
        : document_(document), clip_(clip), facts_(facts), tree_(document) {}

    Result<Evaluator> build();

private:
    using Slot = std::uint32_t;

    // ---- slots
    Result<void> add_parts();

    void add_channel(const Part& part, ChannelKind kind);

    /// Some part hangs below itself or below a part that does not exist.
    Error tree_problem() const;

    Result<Slot> slot(ChannelRef channel) const;

    std::int32_t node_of(PartId part) const {
        const auto found = out_.slot_of_part_.find(part);
        return found == out_.slot_of_part_.end() ? -1 : static_cast<std::int32_t>(found->second);
    }
    std::int32_t parent_node(PartId part) const { return node_of(document_.parts.find(part)->parent); }

    // ---- what is measured
    WheelSize wheel_size(PartId wheel) const {
        return facts_ ? facts_->wheel(document_, tree_, wheel) : WheelSize{1, 0.1, 0};
    }
    std::shared_ptr<const WheelProfile> profile(PartId wheel) const {
        if (facts_) return facts_->profile(document_, tree_, wheel);
        return std::make_shared<const WheelProfile>(WheelProfile{{{0, 1}}, {0}});
    }
    std::shared_ptr<const GroundMap> ground(PartId part) const {
        return part && facts_ ? facts_->ground(document_, part) : nullptr;
    }
    /// Null when it cannot be measured.
    std::shared_ptr<const DrapedPath> measured(const Path& path) const;

    // ---- steps
    std::size_t give(StepKind kind, Slot index, std::vector<std::uint32_t> needs,
                     std::vector<std::uint32_t> gives, std::string by);
    /// What a step needs of a frame; nothing of the world.
    void need_frame(std::vector<std::uint32_t>& needs, std::int32_t node) const {
        if (node >= 0) needs.push_back(order_.frame(static_cast<Slot>(node)));
    }
    void need_channels(std::vector<std::uint32_t>& needs, const NodeStep& node) const {
        for (std::size_t i = 0; i < channels_of(node.joint).size(); ++i)
            needs.push_back(static_cast<std::uint32_t>(node.channel) + static_cast<std::uint32_t>(i));
    }

    /// Nodes from below a part down to a wheel it carries; the channels between are needed too.
    std::vector<std::uint32_t> chain_down(PartId above, PartId wheel,
                                          std::vector<std::uint32_t>& needs) const;

    Result<void> add_couplings();

    /// A wheel whose rider left its path rolls by any motion.
    std::optional<ChannelRef> driver_of(const Coupling& c) const;
    bool rides(const Roll& roll) const {
        const Part* rider = document_.parts.find(roll.rider);
        return rider && rider->ride;
    }

    template <class Step>
    static Slot last(const std::vector<Step>& steps) {
        return static_cast<Slot>(steps.size() - 1);
    }

    double radius_of(const Roll& roll) const {
        return roll.radius_m > 0 ? roll.radius_m : wheel_size(roll.driven.part).radius_m;
    }

    /// A coupling whose step is added once it is known what else there is.
    template <class Kind>
    struct Pending {
        Kind what;
        Slot driven, driver;
        std::string by;
    };

    /// Wheels that roll, once it is known which of them stand on suspensions. One without a radius stands.
    void add_rolls();

    /// One track over two wheels: as far on the one as on the other. Axles may point against each other.
    double like_ratio(const Roll& roll, double radius) const;
    /// As its own rolling asks, or by its shape.
    double rolling_radius_of(PartId wheel) const {
        const Coupling* own = coupling_driving(document_, {wheel, ChannelKind::Turn});
        return own && own->roll() ? radius_of(*own->roll()) : wheel_size(wheel).radius_m;
    }

    void add_steers();

    /// The sign tells whether a positive turn about the axle rolls the way its rider goes.
    double along_ratio(const Roll& roll, double radius) const;

    Result<void> add_vehicles();

    void add_leans();

    /// Whether its frames can be driven; a finding tells when they cannot.
    bool vehicle_stands(const Vehicle& v) const {
        const Part* follow = document_.parts.find(v.follow);
        return follow && follow->joint.kind == JointKind::Free && !v.wheels.empty();
    }

    void add_follow(const Vehicle& v);

    bool add_hitch(const Vehicle& v, const Frame& follow_from_world, FollowStep& step) const;

    /// Wheels on equal springs: heave, roll and pitch that fit their lifts best; a lean that nothing tells of
    /// stays as it is.
    /// From the lifts of wheels to heave, roll and pitch; kept level, no pitch comes of them.
    static Eigen::Matrix<double, 3, Eigen::Dynamic> plane_through(const std::vector<HungWheel>& wheels,
                                                                  bool level);

    void add_suspension(const Vehicle& v, const VehicleWheel& wheel);

    /// Gears and chains: each shaft by the inputs of its train.
    void add_trains();

    /// Links of chains whose datum and wheels are there.
    void add_chains();
    void add_chain(const Chain& chain);
    void add_take_up(const Chain& chain, ChainStep& step, std::vector<std::uint32_t>& needs,
                     std::vector<std::uint32_t>& gives);
    bool add_chain_wheels(const Chain& chain, ChainStep& step, std::vector<std::uint32_t>& needs,
                          std::vector<std::uint32_t>& gives);
    bool carried_by_take_up(const Chain& chain, const ChainStep& step, PartId part) const;
    bool add_run_ends(const Chain& chain, ChainStep& step, std::vector<std::uint32_t>& needs);

    void add_rides_and_tows();

    /// Answers false when there is no path to ride: the part then stands where it rests, and a finding tells.
    bool add_ride(const Part& part, Slot node);

    bool add_tow(const Part& part, Slot node);

    void add_pointing(PartId hinge, const Tow& tow, const Part& hitch);

    Result<void> check_driven_once() const;

    void add_tracks();

    // ---- order
    Result<void> order();

    /// Runs of steps of one kind. Couplings are put in their order first, so that they run in a row.
    void emit(const std::vector<std::size_t>& steps, std::vector<StepRun>& runs, std::vector<Slot>& nodes,
              bool reorder);

    void reorder_linears(const std::vector<std::size_t>& steps);

    Error loop_error(const std::vector<std::uint32_t>& circle) const;

    struct Twice {
        std::uint32_t channel;
        std::string first, second;
    };

    const Document& document_;
    const Clip& clip_;
    RigFacts* facts_;
    Tree tree_;
    Evaluator out_;
    std::vector<ChannelRef> channels_;
    StepOrder order_;
    std::map<std::uint32_t, std::string> driver_;
    std::optional<Twice> twice_;
    std::vector<Pending<Roll>> rolls_;
    std::vector<Pending<Steer>> steers_;
    std::vector<Pending<Lean>> leans_;
    std::map<PartId, std::uint32_t> contact_of_;
    std::vector<std::size_t> stateful_;
    std::vector<Slot> linear_place_;
    bool has_pairs_ = false;
    std::vector<bool> is_link_;  ///< by node: placed by a chain
};

}  // namespace pivrak
