#pragma once

#include <functional>
#include <optional>
#include <string>
#include <vector>

#include "core/model/document.h"

namespace pivrak {

// Channels are parts' or elements'. Here both are asked alike.

/// Whether a part or an element of that id is there.
bool has_owner(const Document& document, OwnerId owner);

/// An element by its name. Errors: `element.unknown`, `element.ambiguous`.
Result<OwnerId> find_element(const Document& document, std::string_view name);

/// What an owner is called: a part or an element by its name, a coupling by the channel that it drives.
std::string owner_name(const Document& document, OwnerId owner);

/// The part at which a channel is found by who looks for it: its own, or where its element is at home. None
/// for an element that has no such place.
PartId home_of(const Document& document, OwnerId owner);

/// A channel as set by hand; none where its owner has no such.
std::optional<Channel> find_channel(const Document& document, ChannelRef channel);

/// A value within the limits of a channel; as it is where there are none.
double within_limits(const Document& document, ChannelRef channel, double value);

/// Pre: `find_channel` finds it.
void put_channel(Document& document, ChannelRef channel, const Channel& value);

/// `act` for every channel of elements, in the order of tables and ids.
void each_own_channel(const Document& document, const std::function<void(ChannelRef, const Channel&)>& act);

/// The channels of a part, then those of elements at home there.
std::vector<ChannelRef> channels_at(const Document& document, PartId part);

/// The channels of any owner.
std::vector<ChannelRef> channels_of(const Document& document, OwnerId owner);

/// Whether a coupling takes or drives a channel whose owner is not there.
bool names_missing_owner(const Document& document);

struct Ownerless {
    std::size_t tracks = 0, couplings = 0;
};
/// Takes out keys of owners that are gone, and couplings that name channels of such.
Ownerless drop_ownerless(Document& document);

}  // namespace pivrak
