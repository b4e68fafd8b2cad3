#include "core/motion/plan_trains.h"

#include "core/motion/train_steps.h"
#include "core/rig/gears/train.h"

namespace pivrak {

void plan_trains(RigPlan& plan) {
    const Document& document = plan.document();
    const std::vector<Tie> ties = ties_of(document);
    std::vector<std::pair<ChannelRef, ShaftRole>> roles = shaft_roles(document, ties, &plan.clip());
    // What a vehicle or a ride sets is not the train's.
    for (auto& [channel, role] : roles)
        if (const auto slot = plan.channel(channel); slot && plan.is_driven(*slot)) role = ShaftRole::Given;
    for (const TrainShaft& shaft : solve_trains(ties, roles).shafts) {
        if (shaft.inputs.empty() && shaft.state != ShaftState::Stuck) continue;
        const auto driven = plan.channel(shaft.channel);
        if (!driven || shaft.role == ShaftRole::Given) continue;
        SumStep sum{*driven, shaft.constant, {}};
        StepLinks links(plan);
        for (const TieTerm& input : shaft.inputs)
            if (const auto slot = plan.channel(input.channel)) {
                links.needs_channel(*slot);
                sum.terms.push_back({*slot, input.share});
            }
        links.gives_channel(*driven);
        const std::string by = shaft.inputs.empty() ? "a train that blocks itself"
                                                    : channel_name(document, shaft.inputs.front().channel);
        if (sum.terms.size() == 1)
            plan.add(LinearStep{sum.terms[0].channel, *driven, sum.terms[0].share, sum.constant},
                     std::move(links), by);
        else
            plan.add(std::move(sum), std::move(links), by);
    }
}

}  // namespace pivrak
