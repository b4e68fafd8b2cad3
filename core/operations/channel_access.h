#pragma once

#include "core/model/document.h"
#include "core/operations/arguments.h"
#include "core/rig/driven_by.h"

namespace pivrak {

/// Whether a person may move a channel of the document that the drivers are of: the joint of its part has it,
/// and no coupling moves it. Errors: `part.unknown`, `channel.fixed`, `channel.none`, `channel.locked`,
/// `channel.driven` (the driver is named).
Result<void> check_free_channel(const Drivers& drivers, ChannelRef channel);

/// Whether a kind of channel can have a value at all, limits aside. Errors: `channel.range`.
Result<void> check_in_range(ChannelKind kind, double value);

/// The argument that names a channel of the parts, and the channel it names.
ArgumentSpec channel_argument();
ChannelKind channel_of(const Arguments& arguments);

/// The argument that names elements whose channels are meant.
ArgumentSpec elements_argument();
/// The parts and elements that are named.
std::vector<OwnerId> owners_asked(const Arguments& arguments);
/// The channel of each part and element that is named. Errors: `argument.missing` when none is.
Result<std::vector<ChannelRef>> channels_asked(const Arguments& arguments);

/// A step on one channel, its owner named by id.
nlohmann::json channel_step(std::string_view operation, ChannelRef channel);

/// The value asked for a channel, with its unit; of a rider also as a share of its path (`25 %`).
/// Errors: `quantity.*`, those of measuring the path.
Result<double> channel_value(const Document& document, const Arguments& arguments, ChannelRef channel);

}  // namespace pivrak
