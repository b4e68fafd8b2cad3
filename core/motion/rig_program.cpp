#include "core/motion/rig_program.h"

#include <algorithm>

namespace pivrak {
namespace {

void run_nodes(std::span<const std::uint32_t> slots, RunContext& context) {
    for (const std::uint32_t slot : slots) {
        const NodeStep& node = context.nodes[slot];
        Frame local = node.parent_from_rest;
        if (node.joint == JointKind::Hinge)
            local.rotation =
                local.rotation *
                turn_about_axis(node.axis, context.channels[static_cast<std::size_t>(node.channel)]);
        else if (node.channel >= 0)
            local = local * context.joint_of(node);
        local.size = context.size_of(node);
        context.frames[slot] =
            node.parent < 0 ? local : context.frames[static_cast<std::size_t>(node.parent)] * local;
    }
}

}  // namespace

std::optional<std::uint32_t> channel_slot_of(std::span<const NodeStep> nodes, std::int32_t node,
                                             ChannelKind kind) {
    if (node < 0) return std::nullopt;
    const NodeStep& of = nodes[static_cast<std::size_t>(node)];
    const auto single = [](std::int32_t slot) {
        return slot < 0 ? std::nullopt : std::optional(static_cast<std::uint32_t>(slot));
    };
    if (kind == ChannelKind::Along) return single(of.along);
    if (kind == ChannelKind::Travel) return single(of.travel);
    if (kind == ChannelKind::Size) return single(of.size);
    const auto kinds = channels_of(of.joint);
    const auto found = std::find(kinds.begin(), kinds.end(), kind);
    if (found == kinds.end()) return std::nullopt;
    return static_cast<std::uint32_t>(of.channel + (found - kinds.begin()));
}

void run_program(const RunOrder& order, std::span<const std::shared_ptr<StepList>> lists,
                 const Memories& memories, RunContext& context) {
    for (const StepRun& run : order.runs)
        if (run.list == StepRun::nodes)
            run_nodes(std::span(order.node_order).subspan(run.first, run.count), context);
        else
            lists[run.list]->run(run.first, run.count, context, memories[run.list]);
}

}  // namespace pivrak
