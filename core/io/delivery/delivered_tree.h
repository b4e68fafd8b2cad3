#pragma once

#include <unordered_map>
#include <vector>

#include "core/model/document.h"

namespace pivrak {

/// The parts of a delivery, parents before children. Controls are left out unless asked for: what they carry
/// hangs under the nearest carrier that is delivered, and has their motion and size in its own.
class DeliveredTree {
public:
    struct Entry {
        PartId id, parent;
        Frame parent_from_rest;
    };
    DeliveredTree(const Document& document, bool with_controls);

    const std::vector<Entry>& entries() const { return entries_; }
    /// Null for what is not delivered.
    const Entry* find(PartId id) const;
    /// Names from the root to the part, divided by slashes.
    std::string path(const Document& document, PartId id) const;

private:
    std::vector<Entry> entries_;
    std::unordered_map<PartId, std::size_t> place_;
};

}  // namespace pivrak
