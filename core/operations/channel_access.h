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

/// A channel's value with its unit.
std::string format_channel(ChannelKind kind, double value);

}  // namespace pivrak
