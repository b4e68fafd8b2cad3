#include "core/elements/plans.h"
#include "core/elements/reach/reach_motion.h"

namespace pivrak {

PlanPhase phase_of(const Reach*) {
    return PlanPhase::Asks;
}

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
    step.state = plan.new_states(ReachStep::state_count(static_cast<std::uint32_t>(step.channels.size())));
    plan.add(std::move(step), std::move(links), reach.name);
}

}  // namespace pivrak
