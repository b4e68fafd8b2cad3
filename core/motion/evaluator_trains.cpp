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
    if (!datum || (chain.travels() && datum->chain != chain.id) || chain.wheels.size() > most_chain_wheels)
        return;
    ChainStep step;
    step.frame = node_of(chain.frame);
    step.loop = chain_loop(document_, chain);
    step.first_pin = out_.program_.pin_count;
    std::vector<std::uint32_t> needs, gives;
    if (chain.travels()) step.travel = out_.program_.nodes[static_cast<Slot>(step.frame)].travel;
    need_frame(needs, step.frame);
    add_take_up(chain, step, needs, gives);
    if (step.travel >= 0 && step.travel != step.take_up.channel)
        needs.push_back(static_cast<Slot>(step.travel));
    if (!add_chain_wheels(chain, step, needs, gives) || !add_run_ends(chain, step, needs)) return;
    for (const PartId link : chain.links) {
        const std::int32_t node = node_of(link);
        if (node < 0 || is_link_[static_cast<Slot>(node)]) continue;
        is_link_[static_cast<Slot>(node)] = true;
        need_channels(needs, out_.program_.nodes[static_cast<Slot>(node)]);
        step.links.push_back(static_cast<Slot>(node));
        gives.push_back(order_.frame(static_cast<Slot>(node)));
    }
    out_.program_.pin_count += static_cast<std::uint32_t>(step.loop.pin_count());
    out_.chains_.push_back(chain.id);
    out_.program_.chains.push_back(std::move(step));
    give(StepKind::Chain, last(out_.program_.chains), std::move(needs), std::move(gives), chain.name);
}

/// A tensioner, or what an open run pulls.
void EvaluatorBuilder::add_take_up(const Chain& chain, ChainStep& step, std::vector<std::uint32_t>& needs,
                                   std::vector<std::uint32_t>& gives) {
    const Part* arm = document_.parts.find(chain.take_up);
    if (!arm) return;
    constexpr double far = 1e3;  // a cord may be paid out by a long way, and tells almost evenly
    if (chain.sets({chain.frame, ChannelKind::Travel})) {
        step.take_up.channel = step.travel;
        step.take_up.spare_m = chain.spare_m;
        step.take_up.longest_step = far;
    } else {
        const bool turns = arm->joint.kind == JointKind::Hinge;
        const auto channel = out_.channel_slot({arm->id, turns ? ChannelKind::Turn : ChannelKind::Shift});
        if (!channel) return;
        step.take_up = {static_cast<std::int32_t>(*channel),
                        parent_node(arm->id),
                        arm->parent_from_rest,
                        arm->joint.kind,
                        arm->joint.axis,
                        chain.spare_m,
                        chain.ends && !turns ? far : 0.2,
                        {}};
        need_frame(needs, step.take_up.parent);
    }
    gives.push_back(static_cast<Slot>(step.take_up.channel));
}

/// Answers false when a wheel is missing.
bool EvaluatorBuilder::add_chain_wheels(const Chain& chain, ChainStep& step,
                                        std::vector<std::uint32_t>& needs,
                                        std::vector<std::uint32_t>& gives) {
    const Frame plane_from_world = world_from_rest(document_, chain.frame).inverse();
    for (std::size_t i = 0; i < chain.wheels.size(); ++i) {
        const PartId id = chain.wheels[i].part;
        const Part* part = document_.parts.find(id);
        if (!part) return false;
        ChainStep::Wheel wheel{node_of(id)};
        const auto turn = out_.channel_slot({id, ChannelKind::Turn});
        if (chain.turns(i) && turn && !part->joint.channel(ChannelKind::Turn).locked && id != chain.take_up &&
            !driver_.contains(static_cast<Slot>(*turn))) {
            const Frame world = world_from_rest(document_, id);
            wheel.channel = static_cast<std::int32_t>(*turn);
            wheel.sense = plane_from_world.direction(world.axis(part->joint.axis)).z() < 0 ? -1 : 1;
            wheel.carrier_rad = turn_in_plane(plane_from_world, world, part->joint.axis);
            gives.push_back(static_cast<Slot>(*turn));
        }
        // A wheel on the tensioner stands where the chain puts it, not before.
        if (carried_by_take_up(chain, step, id))
            step.take_up.carried.push_back(
                {ChainStep::TakeUp::What::Wheel, i, chain_down(chain.take_up, id, needs)});
        else if (chain.ends)
            need_frame(needs, parent_node(id));
        else
            need_frame(needs, wheel.node);
        step.wheels.push_back(wheel);
    }
    if (chain.ends) {
        step.rest.resize(step.wheels.size());
        if (!chain.folds()) run_touches(step.loop, step.rest);
    }
    return true;
}

bool EvaluatorBuilder::carried_by_take_up(const Chain& chain, const ChainStep& step, PartId part) const {
    return step.take_up.channel >= 0 && step.take_up.channel != step.travel &&
           is_below(document_, part, chain.take_up);
}

/// Answers false when a part is missing that the run is tied to.
bool EvaluatorBuilder::add_run_ends(const Chain& chain, ChainStep& step, std::vector<std::uint32_t>& needs) {
    if (!chain.ends) return true;
    const auto add = [&](const ChainTie& tie, ChainStep::End& end, ChainStep::TakeUp::What what) {
        if (!document_.parts.contains(tie.part)) return false;
        end = {node_of(tie.part), tie.place};
        if (!carried_by_take_up(chain, step, tie.part)) {
            need_frame(needs, end.node);
            return true;
        }
        step.take_up.carried.push_back({what, 0, chain_down(chain.take_up, tie.part, needs)});
        if (tie.part != chain.take_up) need_channels(needs, out_.program_.nodes[static_cast<Slot>(end.node)]);
        return true;
    };
    return (chain.ends->start != RunStart::Tied ||
            add(chain.ends->from, step.ends[0], ChainStep::TakeUp::What::From)) &&
           add(chain.ends->to, step.ends[1], ChainStep::TakeUp::What::To);
}

}  // namespace pivrak
