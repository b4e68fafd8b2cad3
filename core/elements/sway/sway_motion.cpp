#include "core/elements/sway/sway_motion.h"

#include <algorithm>
#include <cmath>

#include "core/elements/plans.h"
#include "core/rig/formulas/formula_program.h"

namespace pivrak {

double SwayStep::wave(double frame) const {
    const double gone = fixed + per_frame * frame;
    return swings ? std::sin(2 * pi * (gone - std::floor(gone))) : smooth_noise(gone, seed, period);
}

/// Before trains of shafts, which take it as given.
PlanPhase phase_of(const Sway*) {
    return PlanPhase::Rolls;
}

void plan(const Sway& sway, CouplingId, RigPlan& plan) {
    const auto driven = plan.require(sway.driven);
    if (!driven) return;
    StepLinks links(plan);
    links.gives_channel(*driven);
    links.needs_asked(*driven);
    const Clip& clip = plan.clip();
    const double frames = clip.last_frame - clip.first_frame;
    double per_frame = sway.pace_hz / frame_rate_of(plan.document(), clip);
    int period = 0;
    if (sway.with_clip && frames > 0) {
        // As many as are nearest to its pace, but one at least: chance that comes round at once stands still.
        period = static_cast<int>(
            std::clamp(std::round(per_frame * frames), sway.goes == SwayKind::Swing ? 1.0 : 2.0, 1e9));
        per_frame = period / frames;
    }
    plan.add(SwayStep{*driven, sway.goes == SwayKind::Swing, sway.strength, per_frame,
                      -(clip.first_frame + sway.delay_frames) * per_frame,
                      static_cast<std::uint32_t>(sway.seed), period},
             std::move(links), "its sway");
}

}  // namespace pivrak
