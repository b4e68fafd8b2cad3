#include "core/operations/channel_access.h"

#include <fmt/format.h>

namespace pivrak {

Result<void> check_free_channel(const Document& document, ChannelRef channel) {
    const Part& part = *document.parts.find(channel.part);
    if (part.joint.kind != JointKind::Hinge)
        return Error{"channel.fixed",
                     fmt::format("'{}' is fixed to what carries it; make it a hinge first", part.name),
                     part.name};
    if (const Coupling* coupling = coupling_driving(document, channel))
        return Error{"channel.driven",
                     fmt::format("'{}' is driven by '{}'; turn that one", part.name,
                                 document.parts.find(coupling->gear.driver.part)->name),
                     part.name};
    return {};
}

}  // namespace pivrak
