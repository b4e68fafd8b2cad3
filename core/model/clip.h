#pragma once

#include <algorithm>
#include <optional>
#include <string>
#include <vector>

#include "core/model/channel.h"
#include "core/model/control.h"

namespace pivrak {

/// How the value runs from a key to the next one: straight; bent, with slopes that never go beyond the keys
/// beside it; as it is until the next key; bent and level at the key; bent by slopes of its own.
enum class Interpolation : std::uint8_t { Linear, Smooth, Stepped, Flat, Own };

/// No tangent reaches further, in shares of the way to the next key.
constexpr double most_weight = 4;

/// A tangent of a key's own.
struct Handle {
    double slope = 0;         ///< [rad or m a frame]
    double weight = 1.0 / 3;  ///< share of the way to the key beside it that it reaches, above 0 up to 1;
                              ///< further where a longer run was divided
    bool operator==(const Handle&) const = default;
};

struct Key {
    double frame = 0;
    double value = 0;
    Interpolation interpolation = Interpolation::Smooth;
    /// Instead of the slope with which its kind is reached and, of `Own`, left. An own one without `in` is
    /// reached with the slope of `out`: joined.
    std::optional<Handle> in = {}, out = {};
    bool operator==(const Key&) const = default;

    void scale_value(double factor) {
        value *= factor;
        if (in) in->slope *= factor;
        if (out) out->slope *= factor;
    }
};

/// What a channel does beyond its first, or last, key: it stays; goes straight on; does what is between them
/// again; the same, each time from where it got to; there and back.
enum class Beyond : std::uint8_t { Hold, Straight, Repeat, AddUp, Swing };

/// The keys of one channel, in rising order of frames, no two on one frame.
struct Track {
    ChannelRef channel;
    std::vector<Key> keys;
    Beyond before = Beyond::Hold, after = Beyond::Hold;
    bool operator==(const Track&) const = default;

    /// The key on exactly this frame, or null.
    const Key* key_at(double frame) const {
        const auto at = std::lower_bound(keys.begin(), keys.end(), frame,
                                         [](const Key& key, double f) { return key.frame < f; });
        return at != keys.end() && at->frame == frame ? &*at : nullptr;
    }
};

/// As long as a clip may be, and as far from frame zero [frames]: more is a slip of the hand, or damage.
constexpr double most_clip_frames = 1e6, farthest_frame = 1e7;

/// A named frame of a clip.
struct Marker {
    double frame = 0;
    std::string name;
    bool operator==(const Marker&) const = default;
};

/// Another clip whose motion is added: what its channels do beyond where they stand without keys, so many
/// times.
struct ClipLayer {
    ClipId clip;
    double share = 1;       ///< 1 adds all of it
    double from_frame = 0;  ///< of the clip that it is added to: where its first frame plays
    bool operator==(const ClipLayer&) const = default;
};

/// A named stretch of animation. Tracks are in rising order of their channel. Of one that loops, the last
/// frame stands where the first one does, and is not played again.
struct Clip {
    ClipId id;
    std::string name;
    double first_frame = 0, last_frame = 120;
    bool loop = true;
    std::vector<Track> tracks;
    std::optional<double> rate = {};  ///< frames a second, instead of the project's
    int place = 0;                    ///< in the list; of one place by their ids
    std::optional<ControlColor> color = {};
    std::vector<Marker> markers = {};  ///< in rising order of frames, no two on one frame
    std::vector<ClipLayer> layers = {};
    bool operator==(const Clip&) const = default;

    const Track* track(ChannelRef channel) const {
        const auto at = std::lower_bound(tracks.begin(), tracks.end(), channel,
                                         [](const Track& t, ChannelRef c) { return t.channel < c; });
        return at != tracks.end() && at->channel == channel ? &*at : nullptr;
    }
    /// The track of a channel, added empty at its place when missing.
    Track& track_or_new(ChannelRef channel) {
        auto at = std::lower_bound(tracks.begin(), tracks.end(), channel,
                                   [](const Track& t, ChannelRef c) { return t.channel < c; });
        if (at == tracks.end() || at->channel != channel) at = tracks.insert(at, Track{channel});
        return *at;
    }
};

}  // namespace pivrak
