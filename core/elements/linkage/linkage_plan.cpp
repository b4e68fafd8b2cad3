#include "core/elements/linkage/linkage_motion.h"
#include "core/elements/plans.h"

namespace pivrak {
namespace {

LinkageStep::Source source_of(const Linkage& linkage, ChannelRef channel, const RigPlan& plan) {
    const Part& part = *plan.document().parts.find(channel.part());
    if (part.joint.channel(channel.kind).locked) return LinkageStep::Source::Asked;
    const Drivers& drivers = plan.drivers();
    if (drivers.other_name(channel) || (linkage.is_input(channel) && drivers.is_reached(channel)))
        return LinkageStep::Source::Driven;
    return linkage.is_input(channel) ? LinkageStep::Source::Asked : LinkageStep::Source::Solved;
}

}  // namespace

/// Before shafts are solved: what it moves is given to them.
PlanPhase phase_of(const Linkage*) {
    return PlanPhase::Asks;
}

void plan(const Linkage& linkage, RigPlan& plan) {
    const Document& document = plan.document();
    if (linkage.off) return;
    const auto loops = linkage_loops(document, linkage.closures);
    if (!loops) return;  // a finding tells
    LinkageStep step;
    step.id = linkage.id;
    StepLinks links(plan);
    for (const PartId joint : loops->joints) plan.require_in_tree(joint, loops->top);
    for (const ChannelRef channel : loops->channels) {
        const auto slot = plan.require(channel);
        if (!slot) return;
        const LinkageStep::Source source = source_of(linkage, channel, plan);
        step.channels.push_back(*slot);
        step.sources.push_back(source);
        if (source == LinkageStep::Source::Driven) {
            links.needs_channel(*slot);
            continue;
        }
        if (source == LinkageStep::Source::Asked) links.needs_asked(*slot);
        links.gives_channel(*slot);
    }
    if (plan.measures()) {
        const auto given = [&](ChannelRef channel) {
            return source_of(linkage, channel, plan) != LinkageStep::Source::Solved;
        };
        auto built = build_linkage(document, linkage.closures, given);
        if (!built) return;
        step.built = std::make_shared<const BuiltLinkage>(std::move(*built));
    }
    step.state = plan.new_states(static_cast<std::uint32_t>(2 * step.channels.size()));
    plan.add(std::move(step), std::move(links), linkage.name);
}

}  // namespace pivrak
