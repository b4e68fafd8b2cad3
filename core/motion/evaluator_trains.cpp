// Trains of shafts, and chains.
#include <algorithm>

#include "core/motion/evaluator_builder.h"
#include "core/rig/chain_layout.h"
#include "core/rig/train.h"

namespace pivrak {

void EvaluatorBuilder::add_trains() {
    if (!has_pairs_ && out_.program_.chains.empty()) return;
    const std::vector<Tie> ties = ties_of(document_);
    std::vector<std::pair<ChannelRef, ShaftRole>> roles = shaft_roles(document_, ties, &clip_);
    // What a vehicle or a ride sets is not the train's.
    for (auto& [channel, role] : roles)
        if (const auto slot = out_.channel_slot(channel); slot && driver_.contains(static_cast<Slot>(*slot)))
            role = ShaftRole::Given;
    RigProgram& p = out_.program_;
    const TrainSolution solution = solve_trains(ties, roles);
    for (const TrainShaft& shaft : solution.shafts) {
        if (shaft.inputs.empty() && shaft.state != ShaftState::Stuck) continue;
        const auto driven = out_.channel_slot(shaft.channel);
        if (!driven || shaft.role == ShaftRole::Given) continue;
        SumStep sum{static_cast<Slot>(*driven), static_cast<Slot>(p.terms.size()), 0, shaft.constant};
        std::vector<std::uint32_t> needs;
        for (const TieTerm& input : shaft.inputs)
            if (const auto slot = out_.channel_slot(input.channel)) {
                needs.push_back(static_cast<Slot>(*slot));
                p.terms.push_back({static_cast<Slot>(*slot), input.share});
                ++sum.count;
            }
        const std::string by = shaft.inputs.empty() ? "a train that blocks itself"
                                                    : channel_name(document_, shaft.inputs.front().channel);
        if (sum.count == 1) {
            p.linears.push_back({p.terms.back().channel, sum.driven, p.terms.back().share, sum.constant});
            p.terms.pop_back();
            give(StepKind::Linear, last(p.linears), std::move(needs), {sum.driven}, by);
        } else {
            p.sums.push_back(sum);
            give(StepKind::Sum, last(p.sums), std::move(needs), {sum.driven}, by);
        }
    }
}

void EvaluatorBuilder::add_chains() {
    is_link_.assign(out_.parts_.size(), false);
    for (const Chain& chain : document_.chains) add_chain(chain);
}

void EvaluatorBuilder::add_chain(const Chain& chain) {
    const Part* datum = document_.parts.find(chain.frame);
    if (!datum || datum->chain != chain.id || chain.wheels.size() > most_chain_wheels) return;
    ChainStep step{node_of(chain.frame), 0, {}, {}, chain_loop(document_, chain), out_.program_.pin_count};
    step.travel = static_cast<Slot>(out_.program_.nodes[static_cast<Slot>(step.frame)].travel);
    std::vector<std::uint32_t> needs{step.travel}, gives;
    need_frame(needs, step.frame);
    const Part* arm = document_.parts.find(chain.take_up);
    const bool turns = arm && arm->joint.kind == JointKind::Hinge;
    const auto channel =
        arm ? out_.channel_slot({arm->id, turns ? ChannelKind::Turn : ChannelKind::Shift}) : std::nullopt;
    if (channel) {
        step.take_up = {static_cast<std::int32_t>(*channel),
                        parent_node(arm->id),
                        arm->parent_from_rest,
                        arm->joint.kind,
                        arm->joint.axis,
                        chain.spare_m,
                        {}};
        need_frame(needs, step.take_up.parent);
        gives.push_back(static_cast<Slot>(*channel));
    }
    for (std::size_t i = 0; i < chain.wheels.size(); ++i) {
        const PartId wheel = chain.wheels[i].part;
        const std::int32_t node = node_of(wheel);
        if (node < 0) return;
        step.wheels.push_back(node);
        // A wheel on the tensioner stands where the chain puts it, not before.
        if (channel && is_below(document_, wheel, arm->id))
            step.take_up.carried.push_back({i, chain_down(arm->id, wheel, needs)});
        else
            need_frame(needs, node);
    }
    for (const PartId link : chain.links) {
        const std::int32_t node = node_of(link);
        if (node < 0 || is_link_[static_cast<Slot>(node)]) continue;
        is_link_[static_cast<Slot>(node)] = true;
        need_channels(needs, out_.program_.nodes[static_cast<Slot>(node)]);
        step.links.push_back(static_cast<Slot>(node));
        gives.push_back(order_.frame(static_cast<Slot>(node)));
    }
    out_.program_.pin_count += static_cast<std::uint32_t>(chain.link_count);
    out_.chains_.push_back(chain.id);
    out_.program_.chains.push_back(std::move(step));
    give(StepKind::Chain, last(out_.program_.chains), std::move(needs), std::move(gives), chain.name);
}

}  // namespace pivrak
