// Parts moved at rest by gauges.
#include <algorithm>

#include "app/session/session.h"
#include "core/model/rig_parts.h"

namespace pivrak {

void Session::setPlacing(bool on) {
    if (on == placing_) return;
    const Change change(*this);
    has_changed_ = true;
    placing_ = on;
    emit placingChanged();
    emit poseChanged();
}

Frame Session::carriedAtRest(PartId id) const {
    const Part* part = document().parts.find(id);
    if (!part || !part->parent) return {};
    return worldFromPart(part->parent) * world_from_rest(document(), part->parent).inverse();
}

void Session::holdPlaced(const Frame& moved) {
    const Document& document = this->document();
    std::vector<std::pair<PartId, Frame>> carried;
    const Tree tree(document);
    for (const PartId id : selection()) {
        const bool is_top = std::none_of(selection().begin(), selection().end(), [&](PartId other) {
            return other != id && is_below(document, id, other);
        });
        if (!is_top) continue;
        const Frame at = carriedAtRest(id);
        for (const PartId below : tree.branch(id)) carried.emplace_back(below, at * moved * at.inverse());
    }
    posing_.carry(std::move(carried));
    updatePose();
}

}  // namespace pivrak
