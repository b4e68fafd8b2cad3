#pragma once

#include "core/model/document.h"
#include "core/operations/arguments.h"

namespace pivrak {

/// Whether a person may move a channel: the joint of its part has it, and no coupling moves it.
/// Errors: `part.unknown`, `channel.fixed`, `channel.none`, `channel.locked`, `channel.driven` (the driver is
/// named).
Result<void> check_free_channel(const Document& document, ChannelRef channel);

/// The argument that names a channel of the parts, and the channel it names.
ArgumentSpec channel_argument();
ChannelKind channel_of(const Arguments& arguments);

/// The value asked for a channel, with its unit; of a rider also as a share of its path (`25 %`).
/// Errors: `quantity.*`, those of measuring the path.
Result<double> channel_value(const Document& document, const Arguments& arguments, ChannelRef channel);

/// A channel's value with its unit.
std::string format_channel(ChannelKind kind, double value);

}  // namespace pivrak
