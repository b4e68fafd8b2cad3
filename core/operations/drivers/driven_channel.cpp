#include "core/operations/drivers/driven_channel.h"

#include <fmt/format.h>

#include "core/io/project/project_json.h"
#include "core/operations/channel_access.h"

namespace pivrak {

ArgumentSpec driven_channel_argument(std::string name, std::string summary) {
    ArgumentSpec spec = channel_argument();
    spec.name = std::move(name);
    spec.summary = std::move(summary);
    spec.fallback = {};
    return spec;
}

Result<ChannelRef> channel_at(const Document& document, PartId part, const nlohmann::json& word) {
    const Part& found = *document.parts.find(part);
    if (word.is_string()) {
        const auto kind = channel_kind_from(word.get<std::string>());
        if (kind && found.has(*kind)) return ChannelRef{part, *kind};
        return Error{"channel.none",
                     fmt::format("'{}' has no channel '{}'", found.name, word.get<std::string>()),
                     found.name};
    }
    const auto all = found.channels();
    if (all.empty())
        return Error{"channel.fixed",
                     fmt::format("'{}' is fixed to what carries it; give it a joint first", found.name),
                     found.name};
    return ChannelRef{part, all.front()};
}

Result<void> make_drivable(Document& document, ChannelRef channel) {
    const SharedTable<Coupling> couplings = document.couplings;
    for (const Coupling& coupling : couplings)
        if (coupling.driven() == channel && (coupling.as<Follow>() || coupling.as<Formula>()))
            document.couplings.erase(coupling.id);
    return check_free_channel(Drivers(document), channel);
}

}  // namespace pivrak
