#include "core/io/delivery/delivered_tree.h"

namespace pivrak {
namespace {

/// At rest, but as large as it is set by hand: a file without a clip has that size too.
Frame at_size(const Part& part) {
    Frame frame = part.parent_from_rest;
    frame.size = part.joint.channel(ChannelKind::Size).value;
    return frame;
}

}  // namespace

DeliveredTree::DeliveredTree(const Document& document, bool with_controls) {
    for (const PartId id : Tree(document).all()) {
        const Part* part = document.parts.find(id);
        if (part->is_control() && !with_controls) continue;
        Entry entry{id, part->parent, at_size(*part)};
        while (entry.parent && !place_.contains(entry.parent)) {
            const Part& left_out = *document.parts.find(entry.parent);
            entry.parent_from_rest = (at_size(left_out) * entry.parent_from_rest).normalized();
            entry.parent = left_out.parent;
        }
        place_[id] = entries_.size();
        entries_.push_back(entry);
    }
}

const DeliveredTree::Entry* DeliveredTree::find(PartId id) const {
    const auto found = place_.find(id);
    return found == place_.end() ? nullptr : &entries_[found->second];
}

std::string DeliveredTree::path(const Document& document, PartId id) const {
    std::string path = document.parts.find(id)->name;
    for (const Entry* entry = find(id); entry && entry->parent; entry = find(entry->parent))
        path = document.parts.find(entry->parent)->name + "/" + path;
    return path;
}

}  // namespace pivrak
