#include "core/operations/keys/retime.h"

namespace pivrak {

void scale_frames(Clip& clip, double factor) {
    clip.first_frame *= factor;
    clip.last_frame *= factor;
    for (Track& track : clip.tracks)
        for (Key& key : track.keys) {
            key.frame *= factor;
            for (auto* handle : {&key.in, &key.out})
                if (*handle) (*handle)->slope /= factor;
        }
    for (Marker& marker : clip.markers) marker.frame *= factor;
    for (ClipLayer& layer : clip.layers) layer.from_frame *= factor;
}

void scale_frames(Document& document, double factor) {
    const SharedTable<Clip> clips = document.clips;
    for (Clip clip : clips) {
        if (clip.rate) continue;
        scale_frames(clip, factor);
        document.clips.set(std::move(clip));
    }
    const SharedTable<Coupling> couplings = document.couplings;
    for (Coupling coupling : couplings) {
        std::visit(
            [&](auto& kind) {
                if constexpr (requires { kind.delay_frames; }) kind.delay_frames *= factor;
            },
            coupling.what);
        document.couplings.set(std::move(coupling));
    }
}

}  // namespace pivrak
