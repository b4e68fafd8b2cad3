#pragma once

#include <map>
#include <string>
#include <vector>

#include "core/model/document.h"

namespace pivrak {

/// One channel moves another: who, whom, and by what.
struct DriveEdge {
    ChannelRef from, to;
    std::string label;  ///< `17 : 51`, `pitch 25.40 mm`, `r 1.200 m`, `pulls`
    bool operator==(const DriveEdge&) const = default;
};

/// Who moves whom in a rig: every channel that moves another or is moved, in the order of their parts, and
/// what goes from one to the other. Gears and chains point the way power takes with that clip's keys.
struct DriveMap {
    std::vector<ChannelRef> channels;
    std::vector<DriveEdge> edges;
    /// Channels that stand for others too, and which: what does the same as they do.
    std::map<ChannelRef, std::vector<ChannelRef>> folded = {};
    bool operator==(const DriveMap&) const = default;
};

DriveMap drive_map(const Document& document, const Clip& clip);

/// Channels of one kind that the same moves in the same way, and that move the same, become one where there
/// are so many of them at least.
DriveMap folded(const DriveMap& map, std::size_t least);

/// What `of` moves, directly or through others, and what moves it.
DriveMap around(const DriveMap& map, const std::vector<PartId>& of);

}  // namespace pivrak
