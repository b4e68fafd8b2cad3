#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <limits>
#include <map>

#include "core/motion/evaluator.h"
#include "core/motion/step_order.h"
#include "core/rig/gear_pair.h"
#include "core/rig/ride_frame.h"

namespace pivrak {

namespace {
constexpr double infinite = std::numeric_limits<double>::infinity();
}

/// Fills an Evaluator: slots for every part and channel first, then steps with what they need and give, then
/// the order in which they can be done.
class EvaluatorBuilder {
public:
    /// Without `facts` nothing is measured: good for the order alone.
    EvaluatorBuilder(const Document& document, const Clip& clip, RigFacts* facts)
        : document_(document), clip_(clip), facts_(facts), tree_(document) {}

    Result<Evaluator> build() {
        PIVRAK_CHECK(add_parts());
        PIVRAK_CHECK(add_couplings());
        PIVRAK_CHECK(add_vehicles());
        add_rides_and_tows();
        add_steers();
        PIVRAK_CHECK(check_driven_once());
        add_tracks();
        PIVRAK_CHECK(order());
        out_.first_frame_ = clip_.first_frame;
        return std::move(out_);
    }

private:
    using Slot = std::uint32_t;

    // ---- slots

    Result<void> add_parts() {
        out_.parts_ = tree_.all();
        if (out_.parts_.size() != document_.parts.size()) return tree_problem();
        out_.program_.nodes.reserve(out_.parts_.size());
        out_.slot_of_part_.reserve(out_.parts_.size());
        for (const PartId id : out_.parts_) {
            const Part& part = *document_.parts.find(id);
            NodeStep node{part.parent_from_rest, -1, -1, static_cast<std::int16_t>(part.joint.axis),
                          part.joint.kind,       -1};
            if (part.parent) node.parent = static_cast<std::int32_t>(out_.slot_of_part_.at(part.parent));
            if (part.joint.kind != JointKind::Fixed)
                node.channel = static_cast<std::int32_t>(channels_.size());
            for (const ChannelKind kind : channels_of(part.joint.kind)) add_channel(part, kind);
            if (part.ride) {
                node.along = static_cast<std::int32_t>(channels_.size());
                add_channel(part, ChannelKind::Along);
            }
            out_.slot_of_part_[id] = static_cast<Slot>(out_.program_.nodes.size());
            out_.program_.nodes.push_back(node);
        }
        order_.resize(channels_.size(), out_.parts_.size());
        return {};
    }

    void add_channel(const Part& part, ChannelKind kind) {
        const Channel& channel = part.joint.channel(kind);
        const Limits limits = channel.locked ? Limits{channel.value, channel.value}
                                             : channel.limits.value_or(Limits{-infinite, infinite});
        out_.base_values_.push_back(limits.clamp(channel.value));
        out_.limits_.push_back(limits);
        channels_.push_back({part.id, kind});
    }

    /// Some part hangs below itself or below a part that does not exist.
    Error tree_problem() const {
        for (const Part& part : document_.parts) {
            std::size_t steps = 0;
            for (const Part* p = &part; p->parent; p = document_.parts.find(p->parent)) {
                if (!document_.parts.contains(p->parent))
                    return {"rig.missing_part",
                            fmt::format("'{}' is carried by a part that does not exist", p->name), p->name};
                if (++steps > document_.parts.size())
                    return {"tree.loop", fmt::format("'{}' is carried by itself", part.name), part.name};
            }
        }
        return {"tree.loop", "the tree of parts is not a tree", ""};
    }

    Result<Slot> slot(ChannelRef channel) const {
        const auto found = out_.channel_slot(channel);
        if (found) return static_cast<Slot>(*found);
        const std::string name = channel_name(document_, channel);
        return Error{
            "rig.missing_part",
            fmt::format("'{}' is not a free channel: its part is missing or its joint has none such", name),
            name};
    }

    std::int32_t node_of(PartId part) const {
        const auto found = out_.slot_of_part_.find(part);
        return found == out_.slot_of_part_.end() ? -1 : static_cast<std::int32_t>(found->second);
    }
    std::int32_t parent_node(PartId part) const { return node_of(document_.parts.find(part)->parent); }

    // ---- what is measured

    WheelSize wheel_size(PartId wheel) const {
        return facts_ ? facts_->wheel(document_, tree_, wheel) : WheelSize{1, 0.1, 0};
    }
    std::shared_ptr<const GroundMap> ground(PartId part) const {
        return part && facts_ ? facts_->ground(document_, part) : nullptr;
    }
    /// Null when it cannot be measured.
    std::shared_ptr<const DrapedPath> measured(const Path& path) const {
        if (!facts_) {
            const auto curve = PathCurve::make(path);
            return curve ? std::make_shared<const DrapedPath>(DrapedPath{*curve}) : nullptr;
        }
        const auto found = facts_->path(document_, path);
        return found ? *found : nullptr;
    }

    // ---- steps

    std::size_t give(StepKind kind, Slot index, std::vector<std::uint32_t> needs,
                     std::vector<std::uint32_t> gives, std::string by) {
        for (const std::uint32_t given : gives)
            if (given < channels_.size()) {
                const auto [first, fresh] = driver_.try_emplace(given, by);
                if (!fresh && !twice_) twice_ = {given, first->second, by};
            }
        return order_.add({kind, index, std::move(needs), std::move(gives)});
    }
    /// What a step needs of a frame; nothing of the world.
    void need_frame(std::vector<std::uint32_t>& needs, std::int32_t node) const {
        if (node >= 0) needs.push_back(order_.frame(static_cast<Slot>(node)));
    }
    void need_channels(std::vector<std::uint32_t>& needs, const NodeStep& node) const {
        for (std::size_t i = 0; i < channels_of(node.joint).size(); ++i)
            needs.push_back(static_cast<std::uint32_t>(node.channel) + static_cast<std::uint32_t>(i));
    }

    Result<void> add_couplings() {
        RigProgram& p = out_.program_;
        for (const Coupling& c : document_.couplings) {
            PIVRAK_TRY(driven, slot(c.driven()));
            Slot driver = 0;
            const auto ref = driver_of(c);
            if (ref) {
                PIVRAK_TRY(found, slot(*ref));
                driver = found;
            }
            const std::string by = ref ? channel_name(document_, *ref) : "the way it is carried";
            if (const GearPair* gear = c.gear()) {
                p.linears.push_back({driver, driven, ratio_of(*gear), gear->phase_rad});
                give(StepKind::Linear, last(p.linears), {driver}, {driven}, by);
            } else if (const Steer* steer = c.steer()) {
                steers_.push_back({*steer, driven, driver, by});
            } else {
                rolls_.push_back({*c.roll(), driven, driver, by});
            }
        }
        return {};
    }

    /// A wheel whose rider left its path rolls by any motion.
    std::optional<ChannelRef> driver_of(const Coupling& c) const {
        if (const Roll* roll = c.roll(); roll && roll->rider && !rides(*roll)) return std::nullopt;
        return c.driver();
    }
    bool rides(const Roll& roll) const {
        const Part* rider = document_.parts.find(roll.rider);
        return rider && rider->ride;
    }

    template <class Step>
    static Slot last(const std::vector<Step>& steps) {
        return static_cast<Slot>(steps.size() - 1);
    }

    double ratio_of(const GearPair& pair) const {
        const auto placed = [&](ChannelRef channel, int teeth) {
            const Frame world = world_from_rest(document_, channel.part);
            return PlacedGear{world.translation, world.axis(document_.parts.find(channel.part)->joint.axis),
                              teeth};
        };
        return gear_ratio(placed(pair.driver, pair.driver_teeth), placed(pair.driven, pair.driven_teeth));
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
    void add_rolls() {
        RigProgram& p = out_.program_;
        for (const Pending<Roll>& pending : rolls_) {
            const Roll& roll = pending.what;
            const double radius = radius_of(roll);
            out_.radii_[roll.driven.part] = radius;
            if (!(radius > 1e-6)) continue;
            if (roll.rider && rides(roll)) {
                p.linears.push_back({pending.driver, pending.driven, along_ratio(roll, radius), 0});
                give(StepKind::Linear, last(p.linears), {pending.driver}, {pending.driven}, pending.by);
                continue;
            }
            const Part& wheel = *document_.parts.find(roll.driven.part);
            const auto contact = contact_of_.find(wheel.id);
            RollStep step{pending.driven,
                          node_of(wheel.parent),
                          wheel.parent_from_rest,
                          wheel.joint.axis,
                          wheel_size(wheel.id).middle_m,
                          radius,
                          roll.slip,
                          p.state_count++,
                          contact == contact_of_.end() ? -1 : static_cast<std::int32_t>(contact->second)};
            std::vector<std::uint32_t> needs;
            need_frame(needs, step.parent);
            p.rolls.push_back(step);
            stateful_.push_back(
                give(StepKind::Roll, last(p.rolls), std::move(needs), {pending.driven}, pending.by));
        }
    }

    void add_steers() {
        RigProgram& p = out_.program_;
        for (const Pending<Steer>& pending : steers_) {
            const Steer& steer = pending.what;
            SteerStep step{pending.driver,  pending.driven, steer.reference_m,
                           steer.forward_m, steer.left_m,   -1};
            std::vector<std::uint32_t> needs{pending.driver};
            const std::int32_t rider = node_of(steer.rider);
            for (std::size_t i = 0; i < p.rides.size() && rider >= 0; ++i)
                if (p.rides[i].node == static_cast<Slot>(rider)) {
                    step.ride = static_cast<std::int32_t>(i);
                    need_frame(needs, rider);
                    need_frame(needs, p.rides[i].carrier);
                    needs.push_back(static_cast<std::uint32_t>(p.nodes[p.rides[i].node].along));
                }
            p.steers.push_back(step);
            give(StepKind::Steer, last(p.steers), std::move(needs), {pending.driven}, pending.by);
        }
    }

    /// The sign tells whether a positive turn about the axle rolls the way its rider goes.
    double along_ratio(const Roll& roll, double radius) const {
        const Part &wheel = *document_.parts.find(roll.driven.part),
                   &rider = *document_.parts.find(roll.rider);
        const Ride ride = rider.ride.value_or(Ride{});
        const Frame world = world_from_rest(document_, rider.id);
        const Vec3 axle = world_from_rest(document_, wheel.id).axis(wheel.joint.axis);
        const double way = axle.cross(world.axis(ride.up_axis)).dot(world.axis(ride.axis));
        return std::copysign((1 + roll.slip) / radius, ride.against ? -way : way);
    }

    Result<void> add_vehicles() {
        for (const Vehicle& vehicle : document_.vehicles) {
            if (!vehicle_stands(vehicle)) continue;
            for (const VehicleWheel& wheel : vehicle.wheels)
                if (wheel.suspension) add_suspension(vehicle, wheel);
            add_follow(vehicle);
        }
        add_rolls();
        return {};
    }

    /// Whether its frames can be driven; a finding tells when they cannot.
    bool vehicle_stands(const Vehicle& v) const {
        const Part* follow = document_.parts.find(v.follow);
        return follow && follow->joint.kind == JointKind::Free && !v.wheels.empty();
    }

    void add_follow(const Vehicle& v) {
        const Part& part = *document_.parts.find(v.follow);
        FollowStep step{parent_node(v.follow),
                        part.parent_from_rest,
                        static_cast<Slot>(*out_.channel_slot({v.follow, ChannelKind::ShiftZ})),
                        static_cast<Slot>(*out_.channel_slot({v.follow, ChannelKind::TurnY})),
                        static_cast<Slot>(*out_.channel_slot({v.follow, ChannelKind::TurnX})),
                        v.heave,
                        v.pitch,
                        v.roll,
                        {},
                        {},
                        ground(v.ground)};
        const Frame follow_from_world = world_from_rest(document_, v.follow).inverse();
        for (const VehicleWheel& wheel : v.wheels) {
            const Frame frame = follow_from_world * world_from_rest(document_, wheel.wheel);
            const WheelSize size = wheel_size(wheel.wheel);
            const Vec3 axle = frame.axis(document_.parts.find(wheel.wheel)->joint.axis);
            step.wheels.push_back(
                {frame.translation + size.middle_m * axle, axle, size.radius_m, size.half_width_m});
        }
        step.plane = plane_through(step.wheels);
        std::vector<std::uint32_t> needs, gives{step.heave, step.pitch, step.roll};
        need_frame(needs, step.parent);
        if (add_hitch(v, follow_from_world, step)) {
            need_frame(needs, step.hitch);
            gives.insert(gives.end(), {step.shift_x, step.shift_y});
        }
        out_.program_.follows.push_back(step);
        give(StepKind::Follow, last(out_.program_.follows), std::move(needs), std::move(gives), v.name);
    }

    bool add_hitch(const Vehicle& v, const Frame& follow_from_world, FollowStep& step) const {
        const Part* root = document_.parts.find(v.root);
        const Part* hitch = root && root->tow ? document_.parts.find(root->tow->hitch) : nullptr;
        if (!hitch) return false;
        const Vec3 place = world_from_rest(document_, hitch->id).point(root->tow->hitch_m);
        step.hitch = node_of(hitch->id);
        step.hitch_m = root->tow->hitch_m;
        step.eye = follow_from_world.point(place);
        if (const Part* turntable = document_.parts.find(root->tow->turntable)) {
            // The drawbar nods where it hangs, or about the turntable itself.
            const Part* bar = document_.parts.find(root->tow->drawbar);
            const Vec3 pivot = world_from_rest(document_, (bar ? bar : turntable)->id).translation;
            step.eye = follow_from_world.point(pivot);
            step.drawbar_m = (place - pivot).norm();
        }
        step.shift_x = static_cast<Slot>(*out_.channel_slot({v.follow, ChannelKind::ShiftX}));
        step.shift_y = static_cast<Slot>(*out_.channel_slot({v.follow, ChannelKind::ShiftY}));
        return true;
    }

    /// Wheels on equal springs: heave, roll and pitch that fit their lifts best; a lean that nothing tells of
    /// stays as it is.
    static Eigen::Matrix<double, 3, Eigen::Dynamic> plane_through(const std::vector<HungWheel>& wheels) {
        Eigen::Matrix<double, Eigen::Dynamic, 3> rows(wheels.size(), 3);
        for (std::size_t i = 0; i < wheels.size(); ++i)
            rows.row(static_cast<Eigen::Index>(i)) << 1, wheels[i].hub.y(), -wheels[i].hub.x();
        return rows.completeOrthogonalDecomposition().pseudoInverse();
    }

    void add_suspension(const Vehicle& v, const VehicleWheel& wheel) {
        const Part* part = document_.parts.find(wheel.suspension);
        const auto channel = out_.channel_slot({wheel.suspension, ChannelKind::Shift});
        if (!part || !channel || !is_below(document_, wheel.wheel, wheel.suspension)) return;
        SuspendStep step{parent_node(wheel.suspension),
                         part->parent_from_rest,
                         static_cast<Slot>(*channel),
                         static_cast<Slot>(out_.wheels_.size()),
                         part->joint.axis,
                         {},
                         document_.parts.find(wheel.wheel)->joint.axis,
                         wheel_size(wheel.wheel),
                         ground(v.ground)};
        if (!(step.size.radius_m > 1e-6)) return;
        std::vector<std::uint32_t> needs;
        need_frame(needs, step.parent);
        for (PartId at = wheel.wheel; at != wheel.suspension; at = document_.parts.find(at)->parent) {
            const auto node = static_cast<Slot>(node_of(at));
            step.chain.insert(step.chain.begin(), node);
            if (at != wheel.wheel) need_channels(needs, out_.program_.nodes[node]);
        }
        contact_of_[wheel.wheel] = step.contact;
        out_.wheels_.push_back(wheel.wheel);
        out_.program_.suspends.push_back(step);
        give(StepKind::Suspend, last(out_.program_.suspends), std::move(needs), {step.channel}, v.name);
    }

    void add_rides_and_tows() {
        for (const PartId id : out_.parts_) {
            const Part& part = *document_.parts.find(id);
            const auto node = static_cast<Slot>(node_of(id));
            if ((part.ride && add_ride(part, node)) || (part.tow && add_tow(part, node))) continue;
            std::vector<std::uint32_t> needs;
            need_frame(needs, out_.program_.nodes[node].parent);
            need_channels(needs, out_.program_.nodes[node]);
            order_.add({StepKind::Nodes, node, std::move(needs), {order_.frame(node)}});
        }
    }

    /// Answers false when there is no path to ride: the part then stands where it rests, and a finding tells.
    bool add_ride(const Part& part, Slot node) {
        const Path* path = document_.paths.find(part.ride->path);
        if (!path) return false;
        const auto curve = measured(*path);
        if (!curve) return false;
        RideStep step{node, node_of(path->carrier), -1, *part.ride, {}, true, curve, path->rolls};
        const Part* ahead = document_.parts.find(part.ride->ahead);
        if (ahead && ahead->ride) {
            step.ahead = node_of(ahead->id);
            step.ride_ahead = *ahead->ride;
            step.same_path = ahead->ride->path == part.ride->path;
        }
        const auto along = static_cast<Slot>(out_.program_.nodes[node].along);
        std::vector<std::uint32_t> needs, gives{order_.frame(node)};
        need_frame(needs, step.carrier);
        need_frame(needs, step.ahead);
        need_channels(needs, out_.program_.nodes[node]);
        if (step.ahead < 0)
            needs.push_back(along);
        else
            gives.push_back(along);
        out_.program_.rides.push_back(step);
        give(StepKind::Ride, last(out_.program_.rides), std::move(needs), std::move(gives),
             ahead ? ahead->name : path->name);
        return true;
    }

    bool add_tow(const Part& part, Slot node) {
        const Tow& tow = *part.tow;
        const Part* hitch = document_.parts.find(tow.hitch);
        if (!hitch || !(tow.drawbar_m > 0)) return false;
        const Frame world = world_from_rest(document_, part.id);
        const Vec3 ahead = world_from_rest(document_, tow.hitch).rotation.conjugate() * world.axis(0);
        TowStep step{node,
                     node_of(tow.hitch),
                     tow.hitch_m,
                     tow.drawbar_m,
                     tow.turntable ? tow.wheelbase_m : 0,
                     world.translation.z(),
                     std::atan2(ahead.y(), ahead.x()),
                     out_.program_.state_count};
        out_.program_.state_count += 2;
        std::vector<std::uint32_t> needs, gives{order_.frame(node)};
        need_frame(needs, step.hitch);
        need_channels(needs, out_.program_.nodes[node]);
        out_.program_.tows.push_back(step);
        stateful_.push_back(
            give(StepKind::Tow, last(out_.program_.tows), std::move(needs), std::move(gives), hitch->name));
        add_pointing(tow.turntable, tow, *hitch);
        add_pointing(tow.drawbar, tow, *hitch);
        return true;
    }

    void add_pointing(PartId hinge, const Tow& tow, const Part& hitch) {
        const auto channel = out_.channel_slot({hinge, ChannelKind::Turn});
        const Part* bar = document_.parts.find(hinge);
        if (!channel || !bar) return;
        const int axis = bar->joint.axis;
        const Vec3 to = world_from_rest(document_, bar->id)
                            .inverse()
                            .point(world_from_rest(document_, hitch.id).point(tow.hitch_m));
        const DrawbarStep step{static_cast<Slot>(*channel),
                               parent_node(bar->id),
                               node_of(hitch.id),
                               bar->parent_from_rest,
                               axis,
                               tow.hitch_m,
                               std::atan2(to[(axis + 2) % 3], to[(axis + 1) % 3])};
        std::vector<std::uint32_t> needs;
        need_frame(needs, step.parent);
        need_frame(needs, step.hitch);
        out_.program_.drawbars.push_back(step);
        give(StepKind::Drawbar, last(out_.program_.drawbars), std::move(needs), {step.channel}, hitch.name);
    }

    Result<void> check_driven_once() const {
        if (!twice_) return {};
        const std::string name = channel_name(document_, channels_[twice_->channel]);
        return Error{
            "rig.driven_twice",
            fmt::format("'{}' is driven by '{}' and by '{}' at once", name, twice_->first, twice_->second),
            name};
    }

    void add_tracks() {
        for (const Track& track : clip_.tracks) {
            if (track.keys.empty()) continue;
            // Keys of a part that was made fixed stay in the project, ready for when it is a hinge again.
            const auto channel = out_.channel_slot(track.channel);
            if (!channel || driver_.contains(static_cast<Slot>(*channel))) continue;
            const auto curve = compile_curve(track.keys);
            out_.tracks_.push_back({static_cast<Slot>(*channel), static_cast<Slot>(out_.keys_.size()),
                                    static_cast<Slot>(curve.size())});
            out_.keys_.insert(out_.keys_.end(), curve.begin(), curve.end());
        }
    }

    // ---- order

    Result<void> order() {
        const auto sorted = order_.sorted();
        if (!sorted.circle.empty()) return loop_error(sorted.circle);
        emit(sorted.steps, out_.program_.runs, out_.program_.node_order, true);
        if (stateful_.empty()) return {};
        const std::vector<bool> needed = order_.needed_by(stateful_);
        std::vector<std::size_t> slice;
        out_.in_slice_.assign(channels_.size(), false);
        for (const std::size_t step : sorted.steps) {
            if (!needed[step]) continue;
            slice.push_back(step);
            for (const std::uint32_t need : order_.step(step).needs)
                if (need < channels_.size()) out_.in_slice_[need] = true;
        }
        emit(slice, out_.slice_runs_, out_.slice_nodes_, false);
        for (const TrackStep& track : out_.tracks_)
            if (out_.in_slice_[track.channel]) out_.slice_tracks_.push_back(track);
        return {};
    }

    /// Runs of steps of one kind. Couplings are put in their order first, so that they run in a row.
    void emit(const std::vector<std::size_t>& steps, std::vector<StepRun>& runs, std::vector<Slot>& nodes,
              bool reorder) {
        if (reorder) reorder_linears(steps);
        for (const std::size_t i : steps) {
            const OrderedStep& step = order_.step(i);
            Slot index = step.index;
            if (step.kind == StepKind::Linear) index = linear_place_[step.index];
            if (step.kind == StepKind::Nodes) {
                index = static_cast<Slot>(nodes.size());
                nodes.push_back(step.index);
            }
            if (!runs.empty() && runs.back().kind == step.kind &&
                runs.back().first + runs.back().count == index)
                ++runs.back().count;
            else
                runs.push_back({step.kind, index, 1});
        }
    }

    void reorder_linears(const std::vector<std::size_t>& steps) {
        std::vector<LinearStep> in_order;
        linear_place_.resize(out_.program_.linears.size());
        for (const std::size_t i : steps) {
            const OrderedStep& step = order_.step(i);
            if (step.kind != StepKind::Linear) continue;
            linear_place_[step.index] = static_cast<Slot>(in_order.size());
            in_order.push_back(out_.program_.linears[step.index]);
        }
        out_.program_.linears = std::move(in_order);
    }

    Error loop_error(const std::vector<std::uint32_t>& circle) const {
        const auto name = [&](std::uint32_t given) {
            return given < channels_.size()
                       ? channel_name(document_, channels_[given])
                       : document_.parts.find(out_.parts_[given - channels_.size()])->name;
        };
        std::string names = name(circle.front());
        for (std::size_t i = 1; i < circle.size(); ++i) names += " → " + name(circle[i]);
        names += " → " + name(circle.front());
        const bool couplings = std::all_of(circle.begin(), circle.end(),
                                           [&](std::uint32_t given) { return given < channels_.size(); });
        return {"rig.loop",
                fmt::format("{} in a circle: {}; remove one of them",
                            couplings ? "couplings run" : "the rig runs", names),
                name(circle.front())};
    }

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
    std::map<PartId, std::uint32_t> contact_of_;
    std::vector<std::size_t> stateful_;
    std::vector<Slot> linear_place_;
};

Result<Evaluator> Evaluator::compile(const Document& document, ClipId clip, RigFacts* facts) {
    RigFacts fresh;
    return EvaluatorBuilder(document, clip_or_first(document, clip), facts ? facts : &fresh).build();
}

Result<void> Evaluator::check(const Document& document) {
    const auto built = EvaluatorBuilder(document, clip_or_first(document), nullptr).build();
    return built ? Result<void>{} : built.error();
}

}  // namespace pivrak
