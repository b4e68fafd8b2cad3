#include "core/elements/plans.h"

namespace pivrak {
namespace {

struct FollowerStep {
    static constexpr StepRank rank = StepRank::Channels;
    static constexpr bool stateful = false;
    std::uint32_t driver, driven;
    double gain;
    void run(RunContext& context) const { context.set(driven, gain * context.channels[driver]); }
};

}  // namespace

PlanPhase phase_of(const Follower*) {
    return PlanPhase::Steers;
}

void plan(const Follower& follower, RigPlan& plan) {
    const auto driven = plan.require(follower.driven), driver = plan.require(follower.driver);
    if (!driven || !driver) return;
    StepLinks links(plan);
    links.needs_channel(*driver);
    links.gives_channel(*driven);
    plan.add(FollowerStep{*driver, *driven, follower.gain}, std::move(links),
             channel_name(plan.document(), follower.driver));
}

}  // namespace pivrak
