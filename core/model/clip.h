#pragma once

#include <algorithm>
#include <string>
#include <vector>

#include "core/model/channel.h"

namespace pivrak {

/// How the value runs from a key to the next one.
enum class Interpolation : std::uint8_t { Linear, Smooth };

struct Key {
    double frame = 0;
    double value = 0;
    Interpolation interpolation = Interpolation::Smooth;
    bool operator==(const Key&) const = default;
};

/// The keys of one channel, in rising order of frames, no two on one frame.
struct Track {
    ChannelRef channel;
    std::vector<Key> keys;
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

/// A named stretch of animation. Tracks are in rising order of their channel.
struct Clip {
    ClipId id;
    std::string name;
    double first_frame = 0, last_frame = 120;
    bool loop = true;
    std::vector<Track> tracks;
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
        if (at == tracks.end() || at->channel != channel) at = tracks.insert(at, Track{channel, {}});
        return *at;
    }
};

}  // namespace pivrak
