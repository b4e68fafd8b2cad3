#include "core/elements/follow/follow_motion.h"

#include <cmath>

#include "core/elements/plans.h"
#include "core/model/element_channels.h"

namespace pivrak {

/// Of a cam the curve goes on at both ends, so that it is smooth over its seam.
Response Response::of(const Follow& follow) {
    const Interpolation way = follow.straight ? Interpolation::Linear : Interpolation::Smooth;
    std::vector<Key> keys;
    const auto& curve = follow.curve;
    // A point a turn after the first one is the first one again.
    const bool closes = follow.each_turn && curve.back().driver - curve.front().driver > 2 * pi - 1e-9;
    const auto seam = closes && !curve.front().slope ? curve.back().slope : curve.front().slope;
    for (const int turn : {-1, 0, 1}) {
        if (turn != 0 && !follow.each_turn) continue;
        for (std::size_t i = 0; i < curve.size() - (closes && turn < 1 ? 1 : 0); ++i) {
            Key key{curve[i].driver + turn * 2 * pi, curve[i].answer, way};
            const bool at_seam = closes && (i == 0 || i + 1 == curve.size());
            if (const auto slope = at_seam ? seam : curve[i].slope) {
                key.interpolation = Interpolation::Own;
                key.out = Handle{*slope};
            }
            keys.push_back(key);
        }
    }
    return {compile_curve(keys), follow.each_turn};
}

double Response::operator()(double driver) const {
    if (keys.empty()) return driver;
    if (!each_turn) return sample_curve(keys, driver);
    const double middle = 0.5 * (keys.front().frame + keys.back().frame);
    return sample_curve(keys, middle + std::remainder(driver - middle, 2 * pi));
}

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
        if (follow.curve.empty())
            plan.add(FollowerStep{*driver, *driven, follow.gain, follow.offset}, std::move(links), by);
        else
            plan.add(CurveFollowerStep{*driver, *driven, follow.gain, follow.offset, Response::of(follow)},
                     std::move(links), by);
        return;
    }
    links.needs_asked(*driver);
    LateFollowerStep late{*driver, *driven, follow.gain, follow.offset, follow.delay_frames};
    if (!follow.curve.empty()) late.response = Response::of(follow);
    if (const Track* track = plan.clip().track(follow.driver)) {
        late.keys = compile_curve(track->keys, track->before, track->after);
        late.before = track->before;
        late.after = track->after;
    }
    late.added = added_curves(plan.document(), added_clips(plan.document(), plan.clip()), follow.driver);
    if (const auto channel = find_channel(plan.document(), follow.driver)) late.held = channel->value;
    plan.add(std::move(late), std::move(links), by);
}

}  // namespace pivrak
