#pragma once

#include <string>
#include <vector>

#include "core/model/document.h"

namespace pivrak {

/// Switches off what moves a channel, or takes it out where it cannot be switched off, so that keys move it.
/// Says what happened, for a person. Errors: `channel.driven` for what can be neither (it is named).
Result<std::vector<std::string>> free_channel(Document& document, ChannelRef channel);

}  // namespace pivrak
