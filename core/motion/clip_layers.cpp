#include "core/motion/clip_layers.h"

#include <algorithm>
#include <cmath>

#include "core/model/element_channels.h"

namespace pivrak {

double LayerTime::at(double frame) const {
    const double gone = (frame - starts) * pace;
    if (!loop) return first + std::clamp(gone, 0.0, length);
    return first + gone - std::floor(gone / length) * length;
}

double LayerTimes::share() const {
    double share = 1;
    for (const LayerTime& time : times) share *= time.share;
    return share;
}

double LayerTimes::at(double frame) const {
    for (const LayerTime& time : times) frame = time.at(frame);
    return frame;
}

namespace {

void add_layers(const Document& document, const Clip& clip, const LayerTimes& above,
                std::vector<AddedClip>& added) {
    for (const ClipLayer& layer : clip.layers) {
        const Clip* other = document.clips.find(layer.clip);
        if (!other) continue;
        LayerTimes inside = above;
        inside.times.push_back({layer.share, layer.from_frame,
                                frame_rate_of(document, *other) / frame_rate_of(document, clip),
                                other->first_frame, other->last_frame - other->first_frame, other->loop});
        added.push_back({other, inside});
        add_layers(document, *other, inside, added);
    }
}

}  // namespace

std::vector<AddedClip> added_clips(const Document& document, const Clip& clip) {
    std::vector<AddedClip> added;
    add_layers(document, clip, {}, added);
    return added;
}

std::vector<AddedCurve> added_curves(const Document& document, const std::vector<AddedClip>& clips,
                                     ChannelRef channel) {
    std::vector<AddedCurve> curves;
    const auto known = find_channel(document, channel);
    const double still = known ? known->value : rest_of(channel.kind);
    for (const AddedClip& one : clips)
        if (const Track* track = one.clip->track(channel); track && !track->keys.empty())
            curves.push_back({compile_curve(track->keys, track->before, track->after), track->before,
                              track->after, still, one.times});
    return curves;
}

}  // namespace pivrak
