// What a chain or an open run is compiled into.
#include "core/elements/chain/chain_motion.h"
#include "core/elements/plans.h"
#include "core/rig/chains/chain_layout.h"

namespace pivrak {
namespace {

class ChainPlanner {
public:
    ChainPlanner(const Chain& chain, RigPlan& plan)
        : chain_(chain), plan_(plan), document_(plan.document()), links_(plan) {}

    void add() {
        step_.chain = chain_.id;
        step_.frame = plan_.node(chain_.frame);
        step_.loop = chain_loop(document_, chain_);
        if (chain_.travels()) step_.travel = plan_.node_step(step_.frame).travel;
        links_.needs_frame(step_.frame);
        add_take_up();
        if (step_.travel >= 0 && step_.travel != step_.take_up.channel)
            links_.needs_channel(static_cast<std::uint32_t>(step_.travel));
        if (!add_wheels() || !add_ends()) return;
        for (const PartId link : chain_.links) add_link(plan_.node(link));
        plan_.want_trains();
        plan_.add(std::move(step_), std::move(links_), chain_.name);
    }

private:
    /// A tensioner, or what an open run pulls.
    void add_take_up() {
        const Part* arm = document_.parts.find(chain_.take_up);
        if (!arm) return;
        constexpr double far = 1e3;  // a cord may be paid out by a long way, and tells almost evenly
        if (chain_.sets({chain_.frame, ChannelKind::Travel})) {
            step_.take_up.channel = step_.travel;
            step_.take_up.longest_step = far;
        } else {
            const bool turns = arm->joint.kind == JointKind::Hinge;
            const auto channel = plan_.channel({arm->id, turns ? ChannelKind::Turn : ChannelKind::Shift});
            if (!channel) return;
            step_.take_up = {static_cast<std::int32_t>(*channel),
                             plan_.parent_node(arm->id),
                             plan_.parent_from_rest(arm->id),
                             arm->joint.kind,
                             arm->joint.axis,
                             -1,
                             chain_.ends && !turns ? far : 0.2,
                             {}};
            links_.needs_frame(step_.take_up.parent);
        }
        links_.gives_channel(static_cast<std::uint32_t>(step_.take_up.channel));
        if (const auto slack = plan_.channel({chain_.id, ChannelKind::Slack})) {
            step_.take_up.slack = static_cast<std::int32_t>(*slack);
            links_.needs_channel(*slack);
        }
    }

    /// Answers false when a wheel is missing.
    bool add_wheels() {
        plane_from_world_ = world_from_rest(document_, chain_.frame).inverse();
        for (std::size_t i = 0; i < chain_.wheels.size(); ++i) {
            const PartId id = chain_.wheels[i].part;
            const Part* part = document_.parts.find(id);
            if (!part) return false;
            step_.wheels.push_back(wheel_of(*part, i));
            // A wheel on the tensioner stands where the chain puts it, not before.
            if (carried_by_take_up(id))
                step_.take_up.carried.push_back(
                    {ChainStep::TakeUp::What::Wheel, i, plan_.row_down(chain_.take_up, id, links_)});
            else
                links_.needs_frame(chain_.ends ? plan_.parent_node(id) : plan_.node(id));
        }
        if (chain_.ends) {
            step_.rest.resize(step_.wheels.size());
            if (!chain_.folds()) run_touches(step_.loop, step_.rest);
        }
        return true;
    }

    ChainStep::Wheel wheel_of(const Part& part, std::size_t i) {
        ChainStep::Wheel wheel{plan_.node(part.id)};
        const auto turn = plan_.channel({part.id, ChannelKind::Turn});
        if (!chain_.turns(i) || !turn || part.joint.channel(ChannelKind::Turn).locked ||
            part.id == chain_.take_up || plan_.is_driven(*turn))
            return wheel;
        const Frame world = world_from_rest(document_, part.id);
        wheel.channel = static_cast<std::int32_t>(*turn);
        wheel.sense = plane_from_world_.direction(world.axis(part.joint.axis)).z() < 0 ? -1 : 1;
        wheel.carrier_rad = turn_in_plane(plane_from_world_, world, part.joint.axis);
        links_.gives_channel(*turn);
        return wheel;
    }

    bool carried_by_take_up(PartId part) const {
        return step_.take_up.channel >= 0 && step_.take_up.channel != step_.travel &&
               is_below(document_, part, chain_.take_up);
    }

    /// Answers false when a part is missing that the run is tied to.
    bool add_ends() {
        if (!chain_.ends) return true;
        using What = ChainStep::TakeUp::What;
        return (chain_.ends->start != RunStart::Tied ||
                add_end(chain_.ends->from, step_.ends[0], What::From)) &&
               add_end(chain_.ends->to, step_.ends[1], What::To);
    }

    bool add_end(const ChainTie& tie, ChainStep::End& end, ChainStep::TakeUp::What what) {
        if (!document_.parts.contains(tie.part)) return false;
        end = {plan_.node(tie.part), tie.place};
        if (!carried_by_take_up(tie.part)) {
            links_.needs_frame(end.node);
            return true;
        }
        step_.take_up.carried.push_back({what, 0, plan_.row_down(chain_.take_up, tie.part, links_)});
        if (tie.part != chain_.take_up) links_.needs_joint(static_cast<std::uint32_t>(end.node));
        return true;
    }

    void add_link(std::int32_t node) {
        if (node < 0) return;
        const auto slot = static_cast<std::uint32_t>(node);
        // A part is a link once.
        if (plan_.is_placed(slot) ||
            std::find(step_.links.begin(), step_.links.end(), slot) != step_.links.end())
            return;
        links_.needs_joint(slot);
        step_.links.push_back(slot);
        links_.gives_frame(slot);
    }

    const Chain& chain_;
    RigPlan& plan_;
    const Document& document_;
    StepLinks links_;
    ChainStep step_;
    Frame plane_from_world_;
};

}  // namespace

PlanPhase phase_of(const Chain*) {
    return PlanPhase::Runs;
}

void plan(const Chain& chain, RigPlan& plan) {
    const Part* datum = plan.document().parts.find(chain.frame);
    if (!datum || (chain.travels() && datum->chain != chain.id) || chain.wheels.size() > most_chain_wheels)
        return;
    ChainPlanner(chain, plan).add();
}

}  // namespace pivrak
