#include "core/elements/roll/roll_motion.h"

#include <algorithm>
#include <cmath>

#include "core/elements/plans.h"
#include "core/motion/train_steps.h"

namespace pivrak {
namespace {

/// Of the way of a wheel whose ground is not known: up to 75 degrees against its carrier it climbs, beyond it
/// is lifted.
constexpr double steepest = 3.86;
constexpr double touching_m = 1e-6;

double arc_over_chord(double half_bend_rad) {
    return std::abs(half_bend_rad) > 1e-6 ? half_bend_rad / std::sin(half_bend_rad) : 1;
}

/// Which share of a way is that of a wheel which slides sideways: from nothing, below a twentieth of its way,
/// to all of it. What goes up and down may then come of a cross slope, and only what it goes ahead is rolled.
double slid(double across, double along) {
    const double share = std::clamp((std::abs(across) / std::max(along, 1e-12) - 0.05) / 0.15, 0.0, 1.0);
    return share * share * (3 - 2 * share);
}

/// About an axis, from one direction across it to another.
double angle_about(const Vec3& axis, const Vec3& from, const Vec3& to) {
    return std::atan2(from.cross(to).dot(axis), from.dot(to));
}

/// The length of a wheel's way where two straight stretches meet, of which its ends' directions and its chord
/// are known: over an edge a hub goes on an arc as large as the wheel.
double way_bent_once(const Vec3& begins, const Vec3& ends, const Vec3& chord, const Vec3& axle,
                     double radius) {
    const double before = angle_about(axle, begins - begins.dot(axle) * axle, chord),
                 after = angle_about(axle, chord, ends - ends.dot(axle) * axle), length = chord.norm();
    if (!(before * after > 0) || std::abs(before + after) > 1) return length;
    const double half = 0.5 * (before + after),
                 way = length * std::cos(0.5 * (before - after)) / std::cos(half);
    // Turned about the axle, forward goes down.
    return half > 0 ? way - 2 * radius * (std::tan(half) - half) : way;
}

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
        const Memory now{hub,
                         forward,
                         carrier.rotation,
                         radius,
                         touch.edge_m,
                         size * radius_m,
                         touch.has_ground && std::abs(touch.gap_m) < touching_m};
        if (context.mode == StateMode::Move) turn += between(past, now, Bends::Evenly);
        past = now;
    }
    context.set(channel, turn);
}

double RollStep::between(const Memory& past, const Memory& now, Bends bends) const {
    const Vec3& forward = now.forward;
    if (!((past.forward + forward).norm() > 1e-9)) return 0;
    double way = way_between(past, now, bends);
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
double RollStep::way_between(const Memory& past, const Memory& now, Bends bends) const {
    const Vec3 both = past.forward + now.forward, forward = both.normalized();
    Vec3 moved = now.hub - past.hub;
    // A hub that is lifted because its wheel grows does not roll by that.
    if (now.tread != past.tread)
        moved -= (now.tread - past.tread) * forward.cross(now.carrier * Vec3::Unit(axis));
    const double ahead = moved.dot(forward);
    const Vec3 axle = (past.carrier * Vec3::Unit(axis) + now.carrier * Vec3::Unit(axis)).normalized();
    const Vec3 chord = moved - moved.dot(axle) * axle;
    const double whole = chord.norm();
    // From the chord to the arc: headings at both ends tell how much it bends.
    double bend = std::atan2((now.forward - past.forward).norm(), both.norm()),
           way = std::copysign(whole, ahead);
    const bool touches = past.touches && now.touches;
    if (bends == Bends::Once && touches) {
        const double radius = 0.5 * (past.radius + now.radius),
                     turned = past.forward.cross(now.forward).dot(forward.cross(axle));
        way = ahead < 0 ? -way_bent_once(now.forward, past.forward, -chord, axle, radius)
                        : way_bent_once(past.forward, now.forward, chord, axle, radius);
        bend = 0.5 * std::asin(std::clamp(turned, -1.0, 1.0));
    }
    if (whole > steepest * std::abs(ahead)) way = ahead;
    if (touches) way += slid(moved.dot(axle), whole) * (ahead - way);
    return arc_over_chord(bend) * way;
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
