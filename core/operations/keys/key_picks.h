#pragma once

#include <vector>

#include "core/operations/arguments.h"
#include "core/operations/registry.h"

namespace pivrak {

/// Keys of one channel, by their frames, rising.
struct PickedKeys {
    ChannelRef channel;
    std::vector<double> frames;
    bool has(double frame) const;
};

/// The arguments that pick keys: `keys` one by one, or all of parts' and elements' channels between two
/// frames; and the clip. Others go behind them.
std::vector<ArgumentSpec> picking_keys(std::vector<ArgumentSpec> others);

/// What they pick; at least one key. Errors: `key.none`, `clip.unknown`, `channel.none`.
Result<std::vector<PickedKeys>> picked_keys(const Clip& clip, const Arguments& arguments);

/// The channels that have keys among those named; of all when none is. Errors: as above.
Result<std::vector<ChannelRef>> keyed_channels(const Clip& clip, const Arguments& arguments);

std::size_t count_of(const std::vector<PickedKeys>& picked);

/// The first and the last frame of what is picked.
Limits frames_of(const std::vector<PickedKeys>& picked);

/// A clip after an edit of its keys; what happened, in words.
Outcome with_clip(const Document& document, Clip clip, std::string words);

}  // namespace pivrak
