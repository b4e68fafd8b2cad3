#include "core/elements/roll/roll_motion.h"

#include <cmath>

#include "core/elements/plans.h"
#include "core/motion/train_steps.h"

namespace pivrak {
namespace {

/// Of the way of a wheel whose ground is not known: up to 75 degrees against its carrier it climbs, beyond it
/// is lifted.
constexpr double steepest = 3.86;

double radius_of(const Roll& roll, const RigPlan& plan) {
    return roll.radius_m > 0 ? roll.radius_m : plan.wheel_size(roll.driven.part()).radius_m;
}

/// As its own rolling asks, or by its shape.
double radius_of(PartId wheel, const RigPlan& plan) {
    const Coupling* own = coupling_driving(plan.document(), {wheel, ChannelKind::Turn});
    return own && own->as<Roll>() ? radius_of(*own->as<Roll>(), plan) : plan.wheel_size(wheel).radius_m;
}

/// One track over two wheels: as far on the one as on the other. Axles may point against each other.
double like_ratio(const Roll& roll, double radius, const RigPlan& plan) {
    const Document& document = plan.document();
    const auto axle = [&](PartId id) {
        return world_from_rest(document, id).axis(document.parts.find(id)->joint.axis);
    };
    const double other = document.parts.contains(roll.like) ? radius_of(roll.like, plan) : radius;
    return std::copysign((1 + roll.slip) * other / radius, axle(roll.like).dot(axle(roll.driven.part())));
}

/// The sign tells whether a positive turn about the axle rolls the way its rider goes.
double along_ratio(const Roll& roll, double radius, const Document& document) {
    const Part &wheel = *document.parts.find(roll.driven.part()), &rider = *document.parts.find(roll.rider);
    const Ride ride = rider.ride.value_or(Ride{});
    const Frame world = world_from_rest(document, rider.id);
    const Vec3 axle = world_from_rest(document, wheel.id).axis(wheel.joint.axis);
    const double way = axle.cross(world.axis(ride.up_axis)).dot(world.axis(ride.axis));
    return std::copysign((1 + roll.slip) / radius, ride.against ? -way : way);
}

/// A wheel whose rider left its path rolls by any motion.
std::optional<ChannelRef> driver_of(const Roll& roll, const Document& document) {
    if (roll.like) return ChannelRef{roll.like, ChannelKind::Turn};
    const Part* rider = document.parts.find(roll.rider);
    if (!rider && roll.rider) return ChannelRef{roll.rider, ChannelKind::Along};
    return rider && rider->ride ? std::optional(ChannelRef{rider->id, ChannelKind::Along}) : std::nullopt;
}

/// What the way is measured on that it rolls: the path's carrier, or the wheel beside it.
PartId rolls_on(const Roll& roll, const Document& document) {
    if (roll.like) return roll.like;
    const Part* rider = document.parts.find(roll.rider);
    const Path* path = rider && rider->ride ? document.paths.find(rider->ride->path) : nullptr;
    return path ? path->carrier : PartId{};
}

void plan_by_any_motion(const Roll& roll, std::uint32_t driven, double radius, RigPlan& plan) {
    const Part& wheel = *plan.document().parts.find(roll.driven.part());
    const RollStep step{driven,
                        plan.parent_node(wheel.id),
                        plan.parent_from_rest(wheel.id),
                        wheel.joint.axis,
                        plan.wheel_size(wheel.id).middle_m,
                        radius,
                        roll.slip,
                        plan.new_states(1),
                        plan.stand_of(wheel.id),
                        world_from_rest(plan.document(), wheel.id).rotation.conjugate() * Vec3::UnitZ(),
                        static_cast<std::uint32_t>(plan.node(wheel.id))};
    StepLinks links(plan);
    links.needs_frame(step.parent);
    links.needs_size(step.node);
    links.gives_channel(driven);
    plan.add(step, std::move(links), "its carrier's motion");
}

}  // namespace

void RollStep::run(RunContext& context, Memory& past) const {
    double& turn = context.states[state];
    if (context.mode != StateMode::Show) {
        const Frame carrier = context.frame(parent) * parent_from_rest;
        const double size = carrier.size * context.size_of(context.nodes[node]);
        const Vec3 axle = carrier.axis(axis), hub = carrier.translation + size * middle_m * axle;
        static const WheelStand flat_stand;
        const WheelStand& touch = stand >= 0 ? context.stands[static_cast<std::size_t>(stand)] : flat_stand;
        const Vec3 upward = touch.has_ground ? touch.normal : carrier.direction(up);
        const double radius = touch.radius_m > 0 ? touch.radius_m : size * radius_m;
        const Vec3 across = axle.cross(upward);
        const double sine = across.norm();
        // A wheel that lies flat has no way to roll.
        const Vec3 forward = sine > 1e-6 ? Vec3(across / sine) : Vec3(0, 0, 0);
        const Memory now{hub, forward, carrier.rotation, radius, touch.edge_m, size * radius_m};
        if (context.mode == StateMode::Move) turn += rolled(past, now);
        past = now;
    }
    context.set(channel, turn);
}

/// Turn about the axle between two moments, such that the place that touches stays where it is.
double RollStep::rolled(const Memory& past, const Memory& now) const {
    const Vec3 &forward = now.forward, both = past.forward + forward;
    const double size = both.norm();
    if (!(size > 1e-9)) return 0;
    // From the chord to the arc: headings at both ends tell how much it bends.
    const double half_bend = std::atan2((forward - past.forward).norm(), size);
    const double arc = half_bend > 1e-6 ? half_bend / std::sin(half_bend) : 1;
    double way = arc * way_between(past, now);
    // What its carrier turns about the axle itself is taken off.
    const Quat turned = past.carrier.conjugate() * now.carrier;
    const double twist = 2 * std::atan2(turned.vec()[axis], turned.w());
    // A place beside the middle of the tread is carried on by what its carrier turns on the spot.
    const double edge = 0.5 * (past.edge + now.edge);
    if (edge != 0) {
        const Vec3 upward =
            (past.forward + forward).cross(past.carrier * Vec3::Unit(axis) + now.carrier * Vec3::Unit(axis));
        const Vec3 about = past.carrier * turned.vec();
        if (upward.norm() > 1e-9)
            way -= edge * std::remainder(2 * std::atan2(about.dot(upward.normalized()), turned.w()), 2 * pi);
    }
    return (1 + slip) * way * 0.5 * (1 / past.radius + 1 / now.radius) - std::remainder(twist, 2 * pi);
}

/// How far a wheel's middle comes along its way: where the hub goes in the wheel's plane, up and down as
/// well.
double RollStep::way_between(const Memory& past, const Memory& now) const {
    const Vec3 forward = (past.forward + now.forward).normalized();
    Vec3 moved = now.hub - past.hub;
    // A hub that is lifted because its wheel grows does not roll by that.
    if (now.tread != past.tread)
        moved -= (now.tread - past.tread) * forward.cross(now.carrier * Vec3::Unit(axis));
    const double ahead = moved.dot(forward);
    const Vec3 axle = (past.carrier * Vec3::Unit(axis) + now.carrier * Vec3::Unit(axis)).normalized();
    const double whole = (moved - moved.dot(axle) * axle).norm();
    return whole <= steepest * std::abs(ahead) ? std::copysign(whole, ahead) : ahead;
}

void SizedRollStep::run(RunContext& context) const {
    const double own = context.frame(above).size * context.size_of(context.nodes[wheel]);
    context.set(driven, ratio * context.channels[driver] * context.frame(beside).size / own);
}

PlanPhase phase_of(const Roll*) {
    return PlanPhase::Rolls;
}

void plan(const Roll& roll, CouplingId, RigPlan& plan) {
    const auto driven = plan.require(roll.driven);
    if (!driven) return;
    const double radius = radius_of(roll, plan);
    plan.set_rolling_radius(roll.driven.part(), radius);
    const auto by = driver_of(roll, plan.document());
    // One without a radius stands.
    const bool stands = !(radius > 1e-6);
    if (!by) {
        if (!stands) plan_by_any_motion(roll, *driven, radius, plan);
        return;
    }
    const auto driver = plan.require(*by);
    if (!driver || stands) return;
    const double ratio =
        roll.like ? like_ratio(roll, radius, plan) : along_ratio(roll, radius, plan.document());
    StepLinks links(plan);
    links.needs_channel(*driver);
    links.gives_channel(*driven);
    const std::string name = channel_name(plan.document(), *by);
    const PartId wheel = roll.driven.part(), beside = rolls_on(roll, plan.document());
    if (plan.size_owner(wheel) == plan.size_owner(beside))
        return plan.add(LinearStep{*driver, *driven, ratio, 0}, std::move(links), name);
    const SizedRollStep step{*driver,
                             *driven,
                             ratio,
                             plan.parent_node(wheel),
                             plan.node(beside),
                             static_cast<std::uint32_t>(plan.node(wheel))};
    links.needs_frame(step.above);
    links.needs_frame(step.beside);
    links.needs_size(step.wheel);
    plan.add(step, std::move(links), name);
}

}  // namespace pivrak
