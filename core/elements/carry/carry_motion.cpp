#include "core/elements/carry/carry_motion.h"

#include "core/elements/plans.h"

namespace pivrak {

void CarryStep::run(RunContext& context) const {
    Frame rest = context.frame(parent) * parent_from_rest;
    const double size = rest.size;  // the tree decides that, whoever carries
    for (const Carrier& carrier : carriers) {
        const double share = context.channels[carrier.blend];
        if (share <= 0) continue;
        const Frame there = context.frame(carrier.node) * carrier.carrier_from_rest;
        rest = share >= 1 ? there
                          : Frame{rest.rotation.slerp(share, there.rotation),
                                  rest.translation + share * (there.translation - rest.translation)};
    }
    context.frames[base] = {rest.rotation.normalized(), rest.translation, size};
}

PlanPhase phase_of(const Carry*) {
    return PlanPhase::Carries;
}

/// All carriers of a part are one step, planned with the first of them.
void plan(const Carry& carry, RigPlan& plan) {
    const Document& document = plan.document();
    const Part* part = document.parts.find(carry.part);
    std::vector<const Carry*> all;
    for (const Carry& one : document.carries)
        if (one.part == carry.part && !one.off) all.push_back(&one);
    if (!part || carry.off || all.front() != &carry) return;
    if (part->ride || part->tow) return;
    StepLinks links(plan);
    const std::int32_t parent = plan.parent_node(carry.part);
    links.needs_frame(parent);
    CarryStep step{0, parent, part->parent_from_rest, {}};
    for (const Carry* one : all) {
        const std::int32_t node = plan.node(one->carrier);
        const auto blend = plan.require({one->id, ChannelKind::Blend});
        if ((one->carrier && node < 0) || !blend) return;
        links.needs_frame(node);
        links.needs_channel(*blend);
        step.carriers.push_back({node, *blend, one->carrier_from_rest()});
    }
    step.base = plan.new_base(carry.part);
    links.gives_frame(step.base);
    plan.add(std::move(step), std::move(links), carry.name);
}

}  // namespace pivrak
