#include "core/elements/steer/steer_motion.h"

#include <cmath>

#include "core/elements/plans.h"

namespace pivrak {

void SteerStep::run(RunContext& context) const {
    // The curvature of the bend, of the middle of the turning axle, in the vehicle's own measure.
    double bend = std::tan(context.channels[driver]) / reference_m;
    if (ride) bend += ride->bend(context);
    context.set(driven, std::atan2(forward_m * bend, 1 - left_m * bend));
}

PlanPhase phase_of(const Steer*) {
    return PlanPhase::Steers;
}

void plan(const Steer& steer, CouplingId, RigPlan& plan) {
    const auto driven = plan.require(steer.driven), driver = plan.require(steer.driver);
    if (!driven || !driver) return;
    SteerStep step{*driver, *driven, steer.reference_m, steer.forward_m, steer.left_m, {}};
    StepLinks links(plan);
    links.needs_channel(*driver);
    links.gives_channel(*driven);
    if (const Part* rider = plan.document().parts.find(steer.rider)) step.ride = ride_step(*rider, plan);
    if (step.ride) {
        links.needs_frame(plan.node(steer.rider));
        links.needs_frame(step.ride->carrier);
        links.needs_frame(step.ride->sized);
        links.needs_channel(step.ride->along);
    }
    plan.add(std::move(step), std::move(links), channel_name(plan.document(), steer.driver));
}

}  // namespace pivrak
