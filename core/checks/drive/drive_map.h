#pragma once

#include <functional>
#include <map>
#include <set>
#include <string>
#include <vector>

#include "core/model/document.h"

namespace pivrak {

/// One channel moves another: who, whom, and by what.
struct DriveEdge {
    ChannelRef from, to;
    std::string label;  ///< `17 : 51`, `pitch 25.40 mm`, `r 1.200 m`, `pulls`
    OwnerId by = {};  ///< the coupling or element it is drawn for; none for what parts carry, and for several
    bool off = false;  ///< it is switched off
    bool operator==(const DriveEdge&) const = default;
};

/// Who moves whom in a rig: every channel that moves another or is moved, in the order of their parts, and
/// what goes from one to the other. Gears and chains point the way power takes with that clip's keys.
struct DriveMap {
    std::vector<ChannelRef> channels;
    std::vector<DriveEdge> edges;
    /// Channels that stand for others too, and which: what does the same as they do.
    std::map<ChannelRef, std::vector<ChannelRef>> folded = {};
    /// What those are called that stand for a group.
    std::map<ChannelRef, std::string> titles = {};
    /// Shafts that two drive at once, or that block each other.
    std::set<ChannelRef> clashes = {};
    bool operator==(const DriveMap&) const = default;
};

DriveMap drive_map(const Document& document, const Clip& clip);

/// Channels of one kind that the same moves in the same way, and that move the same, become one where there
/// are so many of them at least.
DriveMap folded(const DriveMap& map, std::size_t least);

/// A group that is shown as one box.
struct MapGroup {
    std::uint64_t id = 0;
    std::string name;
};
/// Channels of one group become one box, which moves and is moved as they are by what is outside; what goes
/// on inside is not shown.
DriveMap grouped(const DriveMap& map, const std::function<std::optional<MapGroup>(ChannelRef)>& group_of);
/// By the branches of the tree where it first divides.
DriveMap by_branch(const DriveMap& map, const Document& document);
/// By sets; a part of several stands in the first, one of none for itself.
DriveMap by_set(const DriveMap& map, const Document& document);

/// What `of` moves, directly or through others, and what moves it.
DriveMap around(const DriveMap& map, const std::vector<PartId>& of);

}  // namespace pivrak
