#pragma once

#include "core/operations/arguments.h"

namespace pivrak {

/// The argument that names the channel of each part that is driven from now on; the joint's own when left
/// out.
ArgumentSpec driven_channel_argument(std::string name, std::string summary);

/// A channel of a part or an element by its word; the first of its own, or of its joint's, when there is no
/// word. Errors: `channel.none`, `channel.fixed`.
Result<ChannelRef> channel_at(const Document& document, OwnerId owner, const nlohmann::json& word);

/// Whether it is a follow, a formula or a sway: what a person gave one channel as its driver.
bool is_driver(const Coupling& coupling);

/// Frees a channel of what it follows or is given by a formula, and sees whether it can be driven then.
/// Errors: `channel.*` (what drives it is named).
Result<void> make_drivable(Document& document, ChannelRef channel);

}  // namespace pivrak
