#pragma once

#include "core/model/document.h"

namespace pivrak {

/// Whether a person may move a channel: its part is a hinge and no coupling moves it.
/// Errors: `channel.fixed`, `channel.driven` (the driver is named).
Result<void> check_free_channel(const Document& document, ChannelRef channel);

}  // namespace pivrak
