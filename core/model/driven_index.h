#pragma once

#include <unordered_map>
#include <vector>

#include "core/model/document.h"

namespace pivrak {

/// Couplings by what they move, for who asks of many channels. Pre: the table outlives it.
class DrivenIndex {
public:
    explicit DrivenIndex(const SharedTable<Coupling>& couplings) {
        for (const Coupling& coupling : couplings) of_[coupling.driven().owner].push_back(&coupling);
    }
    /// As `coupling_driving`. What a coupling drives besides is of the same owner.
    const Coupling* find(ChannelRef channel) const {
        const auto found = of_.find(channel.owner);
        if (found == of_.end()) return nullptr;
        for (const Coupling* coupling : found->second)
            if (coupling->drives(channel)) return coupling;
        return nullptr;
    }

private:
    std::unordered_map<OwnerId, std::vector<const Coupling*>> of_;
};

}  // namespace pivrak
