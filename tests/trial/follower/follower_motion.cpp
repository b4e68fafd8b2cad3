#include "core/elements/plans.h"

namespace pivrak {
namespace {

struct FollowerStep {
    static constexpr StepRank rank = StepRank::Channels;
    static constexpr bool stateful = false;
    std::uint32_t driver, driven, blend;
    double gain;
    void run(RunContext& context) const {
        const double share = context.channels[blend];
        context.set(driven, share * gain * context.channels[driver] + (1 - share) * context.asked[driven]);
    }
};

}  // namespace

PlanPhase phase_of(const Follower*) {
    return PlanPhase::Steers;
}

void plan(const Follower& follower, CouplingId id, RigPlan& plan) {
    const auto driven = plan.require(follower.driven), driver = plan.require(follower.driver),
               blend = plan.require({id, ChannelKind::Blend});
    if (!driven || !driver || !blend) return;
    StepLinks links(plan);
    links.needs_channel(*driver);
    links.needs_channel(*blend);
    links.needs_asked(*driven);
    links.gives_channel(*driven);
    plan.add(FollowerStep{*driver, *driven, *blend, follower.gain}, std::move(links),
             channel_name(plan.document(), follower.driver));
}

}  // namespace pivrak
