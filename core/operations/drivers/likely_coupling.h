#pragma once

#include <string>

#include "core/operations/registry.h"

namespace pivrak {

struct LikelyCoupling {
    nlohmann::json step;  ///< the operation that makes it
    std::string words;    ///< what that says of itself
};

/// How one channel most likely is meant to drive another: as gears where their teeth mesh, from end to end
/// where both have limits, else one for one. Errors: those of the operation that would make it,
/// `driver.element` (only a part's channel can be driven so).
Result<LikelyCoupling> likely_coupling(const Registry& registry, const Document& document, ChannelRef driver,
                                       ChannelRef driven);

}  // namespace pivrak
