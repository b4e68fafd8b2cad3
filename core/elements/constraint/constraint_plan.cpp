#include "core/elements/constraint/constraint_motion.h"
#include "core/elements/constraint/swing_motion.h"
#include "core/elements/plans.h"

namespace pivrak {

namespace {

/// Where a path has its place, in the frame of what carries the path. Answers false where there is no such.
bool set_on_path(ConstraintAsk& ask, RigPlan& plan) {
    const Path* path = plan.document().paths.find(ask.what.path);
    const auto laid = path ? plan.path(*path) : nullptr;
    if (!laid) return false;
    const PathSample sample = laid->curve.at(ask.what.along_m);
    Mat3 axes;
    axes << sample.tangent, sample.up.cross(sample.tangent), sample.up;
    ask.target = plan.node(path->carrier);
    ask.what.target_place = sample.place;
    ask.what.target_turn = Quat(axes).normalized() * ask.what.target_turn;
    return true;
}

/// What the part carries itself is rested on as it stands at rest.
void set_on_ground(ConstraintAsk& ask, RigPlan& plan) {
    ask.ground = plan.ground(ask.what.target);
    if (ask.what.target && is_below(plan.document(), ask.what.target, ask.what.part)) ask.target = -1;
    if (ask.target >= 0) ask.rest_from_world = world_from_rest(plan.document(), ask.what.target).inverse();
}

}  // namespace

PlanPhase phase_of(const Constraint*) {
    return PlanPhase::Asks;
}

/// All constraints of a part are one step, planned with the first of them.
void plan(const Constraint& constraint, RigPlan& plan) {
    const Document& document = plan.document();
    const Part* part = document.parts.find(constraint.part);
    const auto all = constraints_of(document.constraints, constraint.part);
    if (!part || all.empty() || all.front() != &constraint) return;
    // What rides or is towed hangs where its path or hitch puts it: a finding tells.
    if (part->ride || part->tow || part->joint.kind == JointKind::Fixed) return;
    const std::int32_t node = plan.node(part->id);
    const auto own = static_cast<std::uint32_t>(node);
    ConstraintStep step{own, {}, {}};
    StepLinks links(plan);
    links.needs_frame(plan.parent_node(part->id));
    links.needs_size(own);
    for (const Constraint* one : all) {
        const auto blend = plan.require({one->id, ChannelKind::Blend});
        if (!blend) return;
        links.needs_channel(*blend);
        ConstraintAsk ask{*one, plan.node(one->target), plan.node(one->second), *blend, {}};
        if (one->asks == Asks::Rest) set_on_ground(ask, plan);
        // One whose path is gone asks nothing: a finding tells.
        if (one->path && !set_on_path(ask, plan)) continue;
        if (one->asks == Asks::Plumb && one->swings) ask.bob = plan_swing(*one, *part, plan);
        links.needs_frame(ask.bob);
        links.needs_frame(ask.target);
        links.needs_frame(ask.second);
        step.asks.push_back(std::move(ask));
    }
    auto channel = static_cast<std::uint32_t>(plan.node_step(node).channel);
    for (const ChannelKind kind : channels_of(part->joint.kind)) {
        bool moved = false;
        for (const Constraint* one : all) moved |= one->moves(part->joint.kind, kind);
        step.gives.push_back(moved);
        if (moved) {
            links.needs_asked(channel);
            links.gives_channel(channel);
        } else {
            links.needs_channel(channel);
        }
        ++channel;
    }
    plan.add(std::move(step), std::move(links), constraint.name);
}

}  // namespace pivrak
