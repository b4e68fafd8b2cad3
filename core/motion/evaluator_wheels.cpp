// What stands on wheels: how these roll, steer, lean, and what follows them.
#include <cmath>

#include "core/motion/evaluator_builder.h"

namespace pivrak {

void EvaluatorBuilder::add_rolls() {
    RigProgram& p = out_.program_;
    for (const Pending<Roll>& pending : rolls_) {
        const Roll& roll = pending.what;
        const double radius = radius_of(roll);
        out_.radii_[roll.driven.part] = radius;
        if (!(radius > 1e-6)) continue;
        if (roll.like) {
            p.linears.push_back({pending.driver, pending.driven, like_ratio(roll, radius), 0});
            give(StepKind::Linear, last(p.linears), {pending.driver}, {pending.driven}, pending.by);
            continue;
        }
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
                      contact == contact_of_.end() ? -1 : static_cast<std::int32_t>(contact->second),
                      world_from_rest(document_, wheel.id).rotation.conjugate() * Vec3::UnitZ()};
        std::vector<std::uint32_t> needs;
        need_frame(needs, step.parent);
        p.rolls.push_back(step);
        stateful_.push_back(
            give(StepKind::Roll, last(p.rolls), std::move(needs), {pending.driven}, pending.by));
    }
}

double EvaluatorBuilder::like_ratio(const Roll& roll, double radius) const {
    const auto axle = [&](PartId id) {
        return world_from_rest(document_, id).axis(document_.parts.find(id)->joint.axis);
    };
    const double other = document_.parts.contains(roll.like) ? rolling_radius_of(roll.like) : radius;
    return std::copysign((1 + roll.slip) * other / radius, axle(roll.like).dot(axle(roll.driven.part)));
}

void EvaluatorBuilder::add_steers() {
    RigProgram& p = out_.program_;
    for (const Pending<Steer>& pending : steers_) {
        const Steer& steer = pending.what;
        SteerStep step{pending.driver, pending.driven, steer.reference_m, steer.forward_m, steer.left_m, -1};
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

double EvaluatorBuilder::along_ratio(const Roll& roll, double radius) const {
    const Part &wheel = *document_.parts.find(roll.driven.part), &rider = *document_.parts.find(roll.rider);
    const Ride ride = rider.ride.value_or(Ride{});
    const Frame world = world_from_rest(document_, rider.id);
    const Vec3 axle = world_from_rest(document_, wheel.id).axis(wheel.joint.axis);
    const double way = axle.cross(world.axis(ride.up_axis)).dot(world.axis(ride.axis));
    return std::copysign((1 + roll.slip) / radius, ride.against ? -way : way);
}

Result<void> EvaluatorBuilder::add_vehicles() {
    for (const Vehicle& vehicle : document_.vehicles) {
        if (!vehicle_stands(vehicle)) continue;
        for (const VehicleWheel& wheel : vehicle.wheels)
            if (wheel.suspension) add_suspension(vehicle, wheel);
        add_follow(vehicle);
    }
    add_leans();
    add_rolls();
    out_.program_.contact_count = static_cast<Slot>(out_.wheels_.size());
    return {};
}

std::vector<std::uint32_t> EvaluatorBuilder::chain_down(PartId above, PartId wheel,
                                                        std::vector<std::uint32_t>& needs) const {
    std::vector<std::uint32_t> chain;
    for (PartId at = wheel; at != above; at = document_.parts.find(at)->parent) {
        const auto node = static_cast<Slot>(node_of(at));
        chain.insert(chain.begin(), node);
        if (at != wheel) need_channels(needs, out_.program_.nodes[node]);
    }
    return chain;
}

void EvaluatorBuilder::add_leans() {
    for (const Pending<Lean>& pending : leans_) {
        const Lean& lean = pending.what;
        const PartId carrier = lean.driven.part;
        const Part& frame = *document_.parts.find(carrier);
        const Part* wheel = document_.parts.find(lean.wheel);
        const auto first = out_.channel_slot({carrier, ChannelKind::ShiftX});
        const auto outline = profile(lean.wheel);
        if (!wheel || !first || !outline || frame.ride || frame.tow || lean.wheel == carrier ||
            !is_below(document_, lean.wheel, carrier))
            continue;
        LeanStep step{static_cast<Slot>(node_of(carrier)),
                      static_cast<Slot>(*first),
                      static_cast<Slot>(out_.wheels_.size()),
                      {},
                      wheel->joint.axis,
                      1,
                      0,
                      wheel_size(lean.wheel).middle_m,
                      outline,
                      ground(lean.ground)};
        const Frame rest =
            world_from_rest(document_, carrier).inverse() * world_from_rest(document_, lean.wheel);
        step.facing = rest.axis(step.axis).y() < 0 ? -1 : 1;
        step.left_m = rest.point(step.middle_m * Vec3::Unit(step.axis)).y();
        std::vector<std::uint32_t> needs;
        need_frame(needs, parent_node(carrier));
        for (const ChannelKind kind : {ChannelKind::TurnX, ChannelKind::TurnY, ChannelKind::TurnZ})
            needs.push_back(static_cast<Slot>(*out_.channel_slot({carrier, kind})));
        step.chain = chain_down(carrier, lean.wheel, needs);
        contact_of_[lean.wheel] = step.contact;
        out_.wheels_.push_back(lean.wheel);
        out_.program_.leans.push_back(step);
        give(StepKind::Lean, last(out_.program_.leans), std::move(needs),
             {step.channel, step.channel + 1, step.channel + 2}, pending.by);
    }
}

void EvaluatorBuilder::add_follow(const Vehicle& v) {
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
        WheelSize size = wheel_size(wheel.wheel);
        size.radius_m += v.track_thickness_m;
        const Vec3 axle = frame.axis(document_.parts.find(wheel.wheel)->joint.axis);
        step.wheels.push_back(
            {frame.translation + size.middle_m * axle, axle, size.radius_m, size.half_width_m});
    }
    std::vector<std::uint32_t> needs, gives{step.heave, step.pitch, step.roll};
    need_frame(needs, step.parent);
    if (add_hitch(v, follow_from_world, step)) {
        need_frame(needs, step.hitch);
        gives.insert(gives.end(), {step.shift_x, step.shift_y});
    }
    step.plane = plane_through(step.wheels, step.hangs());
    out_.program_.follows.push_back(step);
    give(StepKind::Follow, last(out_.program_.follows), std::move(needs), std::move(gives), v.name);
}

bool EvaluatorBuilder::add_hitch(const Vehicle& v, const Frame& follow_from_world, FollowStep& step) const {
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

Eigen::Matrix<double, 3, Eigen::Dynamic> EvaluatorBuilder::plane_through(const std::vector<HungWheel>& wheels,
                                                                         bool level) {
    Eigen::Matrix<double, Eigen::Dynamic, 3> rows(wheels.size(), 3);
    for (std::size_t i = 0; i < wheels.size(); ++i)
        rows.row(static_cast<Eigen::Index>(i)) << 1, wheels[i].hub.y(), level ? 0 : -wheels[i].hub.x();
    return rows.completeOrthogonalDecomposition().pseudoInverse();
}

void EvaluatorBuilder::add_suspension(const Vehicle& v, const VehicleWheel& wheel) {
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
    step.size.radius_m += v.track_thickness_m;
    std::vector<std::uint32_t> needs;
    need_frame(needs, step.parent);
    step.chain = chain_down(wheel.suspension, wheel.wheel, needs);
    contact_of_[wheel.wheel] = step.contact;
    out_.wheels_.push_back(wheel.wheel);
    out_.program_.suspends.push_back(step);
    give(StepKind::Suspend, last(out_.program_.suspends), std::move(needs), {step.channel}, v.name);
}
}  // namespace pivrak
