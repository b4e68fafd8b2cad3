#include "core/elements/follow/follow_motion.h"

#include "core/elements/plans.h"

namespace pivrak {

/// Before trains of shafts, which take what follows as given.
PlanPhase phase_of(const Follow*) {
    return PlanPhase::Rolls;
}

void plan(const Follow& follow, CouplingId, RigPlan& plan) {
    const auto driven = plan.require(follow.driven), driver = plan.require(follow.driver);
    if (!driven || !driver) return;
    StepLinks links(plan);
    links.gives_channel(*driven);
    const std::string by = channel_name(plan.document(), follow.driver);
    if (follow.delay_frames == 0) {
        links.needs_channel(*driver);
        plan.add(FollowerStep{*driver, *driven, follow.gain, follow.offset}, std::move(links), by);
        return;
    }
    links.needs_asked(*driver);
    LateFollowerStep late{*driver, *driven, follow.gain, follow.offset, follow.delay_frames, {}};
    if (const Track* track = plan.clip().track(follow.driver)) late.keys = compile_curve(track->keys);
    plan.add(std::move(late), std::move(links), by);
}

}  // namespace pivrak
