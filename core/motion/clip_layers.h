#pragma once

#include <vector>

#include "core/model/document.h"
#include "core/motion/curve.h"

namespace pivrak {

/// When a layer's frames play in the clip that it is added to.
struct LayerTime {
    double share = 1;              ///< of its motion that is added
    double starts = 0;             ///< frame of the clip at which its first one plays
    double pace = 1;               ///< of its frames for each of the clip's
    double first = 0, length = 1;  ///< of its range [frames]
    bool loop = false;
    /// Its own frame; outside its range it stays at its ends, or begins again.
    double at(double frame) const;
};

/// Of layers within layers, from the clip that is evaluated down.
struct LayerTimes {
    std::vector<LayerTime> times;
    double share() const;
    double at(double frame) const;
};

/// A clip that is added to another one, directly or through others.
struct AddedClip {
    const Clip* clip;
    LayerTimes times;
};

/// All that is added to a clip. Pre: no layers run in a circle.
std::vector<AddedClip> added_clips(const Document& document, const Clip& clip);

/// What a layer's curve adds to what is asked of a channel.
struct AddedCurve {
    std::vector<CurveKey> keys;
    Beyond before = Beyond::Hold, after = Beyond::Hold;
    double rest = 0;
    LayerTimes times;
    double operator()(double frame) const {
        return times.share() * (sample_curve(keys, before, after, times.at(frame)) - rest);
    }
};

/// Of one channel: what each clip does with it beyond where it stands without keys.
std::vector<AddedCurve> added_curves(const Document& document, const std::vector<AddedClip>& clips,
                                     ChannelRef channel);

}  // namespace pivrak
