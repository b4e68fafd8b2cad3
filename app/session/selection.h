#pragma once

#include <algorithm>
#include <unordered_set>
#include <vector>

#include "core/base/id.h"

namespace pivrak {

/// Parts picked, the last one at the end.
class Selection {
public:
    const std::vector<PartId>& parts() const { return parts_; }
    PartId primary() const { return parts_.empty() ? PartId{} : parts_.back(); }
    bool contains(PartId part) const { return known_.contains(part); }

    /// Whether that changes anything.
    bool set(std::vector<PartId> parts) {
        if (parts == parts_) return false;
        parts_ = std::move(parts);
        known_ = {parts_.begin(), parts_.end()};
        return true;
    }
    /// Leaves out what `goes` names; whether anything did.
    template <class Goes>
    bool drop_if(Goes goes) {
        std::vector<PartId> kept = parts_;
        std::erase_if(kept, goes);
        return set(std::move(kept));
    }

private:
    std::vector<PartId> parts_;
    std::unordered_set<PartId> known_;
};

}  // namespace pivrak
