#pragma once

#include <vector>

#include "core/elements/follow/follow.h"
#include "core/motion/clip_layers.h"
#include "core/motion/curve.h"
#include "core/motion/step_list.h"

namespace pivrak {

struct FollowerStep {
    static constexpr StepRank rank = StepRank::Channels;
    static constexpr bool stateful = false;
    std::uint32_t driver, driven;
    double gain, offset;

    void run(RunContext& context) const { context.set(driven, offset + gain * context.channels[driver]); }
};

/// What a response curve answers.
struct Response {
    std::vector<CurveKey> keys;  ///< by the driver; none for the driver's own value
    bool each_turn = false;

    static Response of(const Follow& follow);
    double operator()(double driver) const;
};

struct CurveFollowerStep {
    static constexpr StepRank rank = StepRank::Channels;
    static constexpr bool stateful = false;
    std::uint32_t driver, driven;
    double gain, offset;
    Response response;

    void run(RunContext& context) const {
        context.set(driven, offset + gain * response(context.channels[driver]));
    }
};

/// One that follows later reads the driver's keys at an earlier frame.
struct LateFollowerStep {
    static constexpr StepRank rank = StepRank::Channels;
    static constexpr bool stateful = false;
    /// The driver comes to rest at its last key, this one later.
    static constexpr bool goes_on = true;
    std::uint32_t driver, driven;
    double gain, offset, delay_frames;
    std::vector<CurveKey> keys = {};  ///< of the driver; none where a hand holds it
    Response response = {};
    Beyond before = Beyond::Hold, after = Beyond::Hold;
    std::vector<AddedCurve> added = {};  ///< by clips that are layers
    double held = 0;                     ///< to which they are added where it has no keys

    double led(const RunContext& context) const {
        if (keys.empty() && added.empty()) return context.asked[driver];
        const Limits& limits = context.limits[driver];
        const double earlier = context.moment - delay_frames;
        double led = limits.clamp(keys.empty() ? held : sample_curve(keys, before, after, earlier));
        for (const AddedCurve& curve : added) led = limits.clamp(led + curve(earlier));
        return led;
    }
    void run(RunContext& context) const { context.set(driven, offset + gain * response(led(context))); }
};

}  // namespace pivrak
