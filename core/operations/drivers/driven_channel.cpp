#include "core/operations/drivers/driven_channel.h"

#include <fmt/format.h>

#include "core/io/project/project_json.h"
#include "core/model/element_channels.h"
#include "core/operations/channel_access.h"

namespace pivrak {

ArgumentSpec driven_channel_argument(std::string name, std::string summary) {
    ArgumentSpec spec = channel_argument();
    spec.name = std::move(name);
    spec.summary = std::move(summary);
    spec.fallback = {};
    return spec;
}

Result<ChannelRef> channel_at(const Document& document, OwnerId owner, const nlohmann::json& word) {
    const std::string name = owner_name(document, owner);
    if (word.is_string()) {
        const auto kind = channel_kind_from(word.get<std::string>());
        if (kind && find_channel(document, {owner, *kind})) return ChannelRef{owner, *kind};
        return Error{"channel.none", fmt::format("'{}' has no channel '{}'", name, word.get<std::string>()),
                     name};
    }
    const auto all = channels_of(document, owner);
    if (!all.empty()) return all.front();
    if (!document.parts.contains(PartId{owner.value}))
        return Error{"channel.none", fmt::format("'{}' has no channel", name), name};
    return Error{"channel.fixed",
                 fmt::format("'{}' is fixed to what carries it; give it a joint first", name), name};
}

bool is_driver(const Coupling& coupling) {
    return coupling.as<Follow>() || coupling.as<Formula>() || coupling.as<Sway>();
}

Result<void> make_drivable(Document& document, ChannelRef channel) {
    const SharedTable<Coupling> couplings = document.couplings;
    for (const Coupling& coupling : couplings)
        if (coupling.driven() == channel && is_driver(coupling)) document.couplings.erase(coupling.id);
    return check_free_channel(Drivers(document), channel);
}

}  // namespace pivrak
