#include "core/elements/ride/ride_motion.h"

#include "core/elements/plans.h"

namespace pivrak {

void RideStep::run(RunContext& context) const {
    const RiddenPath ridden{path->curve, rolls, context.frame(carrier)};
    const Ride own = in_path(ride, sized, context);
    if (ahead >= 0) context.channels[along] = along_behind(ridden, own, context);
    Frame rest = ride_frame(ridden, own, context.channels[along]);
    rest.size = context.frame(sized).size;
    context.frames[node] = rest * context.joint_of(context.nodes[node]);
}

Ride RideStep::in_path(const Ride& ride, std::int32_t sized_by, const RunContext& context) const {
    const double factor = context.frame(sized_by).size / context.frame(carrier).size;
    if (factor == 1) return ride;
    Ride out = ride;
    for (double* length : {&out.side_m, &out.height_m, &out.front_m, &out.rear_m, &out.gap_m,
                           &out.coupler_front_m, &out.coupler_rear_m})
        *length *= factor;
    return out;
}

double RideStep::along_behind(const RiddenPath& ridden, const Ride& ride, const RunContext& context) const {
    const double at_ahead = context.channels[static_cast<std::size_t>(along_ahead)];
    const Ride before = in_path(ride_ahead, sized_ahead, context);
    if (ride.along_path) return at_ahead - ride.gap_m;
    if (shares_point()) return rear_point_along(path->curve, before, at_ahead) - ride.front_m;
    const Vec3 coupler = coupler_place(context.frame(ahead), ride_ahead, -ride_ahead.coupler_rear_m);
    const double between = before.coupler_rear_m + ride.gap_m + ride.coupler_front_m;
    const double reached = same_path ? at_ahead
                                     : ridden.curve.nearest(ridden.world_from_path.inverse().point(coupler)),
                 guess = reached - (same_path ? between : ride.coupler_front_m + ride.gap_m);
    return coupled_along(ridden, ride, coupler, guess, reached);
}

double RideStep::bend(const RunContext& context) const {
    const RiddenPath ridden{path->curve, rolls, context.frame(carrier)};
    const Ride own = in_path(ride, sized, context);
    const double at = context.channels[along], apart = own.front_m + own.rear_m,
                 measure = context.frame(sized).size / context.frame(carrier).size;
    const Frame& rider = context.frames[node];
    const Vec3 up = rider.axis(ride.up_axis), lead = (ride.against ? -1.0 : 1.0) * rider.axis(ride.axis),
               left = up.cross(lead);
    const PathSample sample = ridden.curve.without_up(at + own.front_m);
    if (!(apart > 0)) return measure * ridden.world_from_path.direction(sample.curvature).dot(left);
    const Vec3 way = ridden.world_from_path.direction(sample.tangent);
    return measure * way.dot(left) / std::max(way.dot(lead), 1e-6) / apart;
}

std::optional<RideStep> ride_step(const Part& part, const RigPlan& plan) {
    const Document& document = plan.document();
    const Path* path = part.ride ? document.paths.find(part.ride->path) : nullptr;
    const auto curve = path ? plan.path(*path) : nullptr;
    const std::int32_t node = plan.node(part.id);
    if (!curve || node < 0) return std::nullopt;
    RideStep step{static_cast<std::uint32_t>(node),
                  static_cast<std::uint32_t>(plan.node_step(node).along),
                  plan.node(path->carrier),
                  -1,
                  -1,
                  *part.ride,
                  {},
                  true,
                  curve,
                  path->rolls};
    step.sized = plan.sized_parent(part.id);
    const Part* ahead = document.parts.find(part.ride->ahead);
    if (ahead && ahead->ride) {
        step.ahead = plan.node(ahead->id);
        step.sized_ahead = plan.sized_parent(ahead->id);
        step.along_ahead = plan.node_step(step.ahead).along;
        step.ride_ahead = *ahead->ride;
        step.same_path = ahead->ride->path == part.ride->path;
    }
    return step;
}

PlanPhase phase_of(const Ride*) {
    return PlanPhase::Riders;
}

void plan(const Ride& ride, const Part& part, RigPlan& plan) {
    if (plan.is_placed(static_cast<std::uint32_t>(plan.node(part.id)))) return;
    auto step = ride_step(part, plan);
    if (!step) return;
    StepLinks links(plan);
    links.needs_frame(step->carrier);
    links.needs_frame(step->ahead);
    links.needs_frame(step->sized);
    links.needs_frame(step->sized_ahead);
    links.needs_joint(step->node);
    links.gives_frame(step->node);
    if (step->ahead < 0)
        links.needs_channel(step->along);
    else
        links.gives_channel(step->along);
    const Part* ahead = plan.document().parts.find(ride.ahead);
    const std::string by = ahead ? ahead->name : plan.document().paths.find(ride.path)->name;
    plan.add(std::move(*step), std::move(links), by);
}

const DrapedPath* ridden_path(const Evaluator& evaluator, PartId rider) {
    const auto slot = evaluator.part_slot(rider);
    const auto* rides = evaluator.program().list<RideStep>();
    if (!slot || !rides) return nullptr;
    for (const RideStep& ride : rides->steps)
        if (ride.node == *slot) return ride.path.get();
    return nullptr;
}

}  // namespace pivrak
