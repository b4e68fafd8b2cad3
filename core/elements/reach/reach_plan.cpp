#include "core/elements/plans.h"
#include "core/elements/reach/reach_motion.h"

namespace pivrak {

/// One that gets longer decides where its parts hang.
PlanPhase phase_of(const Reach*) {
    return PlanPhase::Carries;
}

namespace {

/// Each part of the row below its first hangs that many times as far from the one before.
void plan_stretch(const Reach& reach, ReachStep& step, StepLinks& links, RigPlan& plan) {
    const auto channel = plan.require({reach.id, ChannelKind::Stretch});
    if (!channel) return;
    step.stretch = static_cast<std::int32_t>(*channel);
    step.most_stretch = reach.most_stretch;
    links.gives_channel(*channel);
    for (PartId at = reach.tip; at != reach.root; at = plan.document().parts.find(at)->parent) {
        StepLinks own(plan);
        LengthenStep hung{0, plan.parent_node(at), plan.parent_from_rest(at), *channel};
        own.needs_frame(hung.parent);
        own.needs_channel(*channel);
        hung.base = plan.new_base(at);
        own.gives_frame(hung.base);
        plan.add(hung, std::move(own), reach.name);
    }
}

}  // namespace

void plan(const Reach& reach, RigPlan& plan) {
    const Document& document = plan.document();
    if (reach.off) return;
    const auto row = reach_row(document, reach);
    if (!row) return;  // a finding tells
    ReachStep step;
    step.id = reach.id;
    StepLinks links(plan);
    for (PartId at = reach.tip; at != reach.root; at = document.parts.find(at)->parent)
        plan.require_in_tree(at, reach.root);
    const auto blend = plan.require({reach.id, ChannelKind::Blend});
    if (!blend) return;
    step.blend = *blend;
    links.needs_channel(*blend);
    for (const ChannelRef channel : row->channels) {
        const auto slot = plan.require(channel);
        if (!slot) return;
        const bool locked = document.parts.find(channel.part())->joint.channel(channel.kind).locked,
                   held = locked || plan.drivers().other_name(channel);
        step.channels.push_back(*slot);
        step.held.push_back(held);
        if (held) {
            links.needs_channel(*slot);
        } else {
            links.needs_asked(*slot);
            links.gives_channel(*slot);
        }
    }
    step.root = plan.node(reach.root);
    step.goal = plan.node(reach.goal);
    step.side = plan.node(reach.side);
    step.has_side = bool(reach.side);
    step.goal_frame = reach.goal_frame();
    links.needs_frame(plan.parent_node(reach.root));
    links.needs_frame(step.goal);
    links.needs_frame(step.side);
    if (plan.measures()) {
        auto built = build_reach(document, reach, *row, step.held);
        if (!built) return;
        step.solver = std::make_shared<const ReachSolver>(std::move(*built));
    }
    if (reach.most_stretch > 1) plan_stretch(reach, step, links, plan);
    step.state = plan.new_states(ReachStep::state_count(static_cast<std::uint32_t>(step.channels.size())));
    plan.add(std::move(step), std::move(links), reach.name);
}

}  // namespace pivrak
