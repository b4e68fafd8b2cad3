#include "core/elements/tow/tow_motion.h"

#include <cmath>

#include "core/elements/plans.h"
#include "core/rig/vehicles/towed_heading.h"

namespace pivrak {
namespace {

Vec2 heading_of(double angle) {
    return {std::cos(angle), std::sin(angle)};
}

void plan_pointing(PartId hinge, const Tow& tow, const Part& hitch, RigPlan& plan) {
    const Document& document = plan.document();
    const auto channel = plan.channel({hinge, ChannelKind::Turn});
    const Part* bar = document.parts.find(hinge);
    if (!channel || !bar) return;
    const int axis = bar->joint.axis;
    const Vec3 to = world_from_rest(document, bar->id)
                        .inverse()
                        .point(world_from_rest(document, hitch.id).point(tow.hitch_m));
    const DrawbarStep step{*channel,
                           plan.parent_node(bar->id),
                           plan.node(hitch.id),
                           plan.parent_from_rest(bar->id),
                           axis,
                           tow.hitch_m,
                           std::atan2(to[(axis + 2) % 3], to[(axis + 1) % 3])};
    StepLinks links(plan);
    links.needs_frame(step.parent);
    links.needs_frame(step.hitch);
    links.gives_channel(step.channel);
    plan.add(step, std::move(links), hitch.name);
}

}  // namespace

void TowStep::run(RunContext& context, Memory& past) const {
    const Frame& pulling = context.frame(hitch);
    const Vec2 now = pulling.point(hitch_m).head<2>();
    const double size = context.frame(sized).size, bar_m = size * drawbar_m, base_m = size * wheelbase_m;
    double &bar = context.states[state], &rear = context.states[state + 1];
    if (context.mode == StateMode::Align) {
        const Vec3 ahead = pulling.direction({std::cos(heading_in_hitch), std::sin(heading_in_hitch), 0});
        bar = rear = std::atan2(ahead.y(), ahead.x());
    }
    if (context.mode == StateMode::Move) {
        bar = towed_heading(bar, past.hitch, now, bar_m);
        const Vec2 turntable = now - bar_m * heading_of(bar);
        rear = base_m > 0 ? towed_heading(rear, past.turntable, turntable, base_m) : bar;
    }
    const Vec2 turntable = now - bar_m * heading_of(bar), axle = turntable - base_m * heading_of(rear);
    if (context.mode != StateMode::Show) past = {now, turntable};
    const double height =
        sized < 0 ? height_m : context.base_of(static_cast<std::int32_t>(node)).translation.z();
    context.frames[node] = Frame{turn_about_axis(2, rear), Vec3(axle.x(), axle.y(), height), size} *
                           context.joint_of(context.nodes[node]);
}

void DrawbarStep::run(RunContext& context) const {
    const Frame rest = context.frame(parent) * parent_from_rest;
    const Vec3 to = rest.inverse().point(context.frame(hitch).point(hitch_m));
    const double angle = std::atan2(to[(axis + 2) % 3], to[(axis + 1) % 3]);
    context.set(channel, std::remainder(angle - rest_rad, 2 * pi));
}

PlanPhase phase_of(const Tow*) {
    return PlanPhase::Riders;
}

void plan(const Tow& tow, const Part& part, RigPlan& plan) {
    const Document& document = plan.document();
    const auto node = static_cast<std::uint32_t>(plan.node(part.id));
    const Part* hitch = document.parts.find(tow.hitch);
    if (plan.is_placed(node) || !hitch || !(tow.drawbar_m > 0)) return;
    const Frame world = world_from_rest(document, part.id);
    const Vec3 ahead = world_from_rest(document, tow.hitch).rotation.conjugate() * world.axis(0);
    const TowStep step{node,
                       plan.node(tow.hitch),
                       tow.hitch_m,
                       tow.drawbar_m,
                       tow.turntable ? tow.wheelbase_m : 0,
                       world.translation.z(),
                       std::atan2(ahead.y(), ahead.x()),
                       plan.new_states(2),
                       plan.sized_parent(part.id)};
    StepLinks links(plan);
    links.needs_frame(step.hitch);
    links.needs_frame(step.sized);
    links.needs_joint(node);
    links.gives_frame(node);
    plan.add(step, std::move(links), hitch->name);
    plan_pointing(tow.turntable, tow, *hitch, plan);
    plan_pointing(tow.drawbar, tow, *hitch, plan);
}

}  // namespace pivrak
