#pragma once

#include <optional>
#include <string>

#include "core/model/document.h"

namespace pivrak {

/// Who could not be without what a part's joint has now, if it were `joint` instead?
struct JointQuestion {
    const Document& document;
    PartId part;
    const Joint& joint;

    /// Whether that channel would be gone.
    bool lacks(ChannelRef channel) const {
        const bool of_joint = channel.kind < ChannelKind::Along || channel.kind == ChannelKind::Size;
        return channel.part() == part && !joint.has(channel.kind) && of_joint;
    }
    bool lacks_turn(PartId of) const { return lacks({of, ChannelKind::Turn}); }
    bool lacks_freedom(PartId of) const { return of == part && joint.kind != JointKind::Free; }
    /// In quotes.
    std::string name(PartId of) const {
        const Part* found = document.parts.find(of);
        return "'" + (found ? found->name : "missing part " + std::to_string(of.value)) + "'";
    }
};

// For every kind, defined in its folder: how the element that minds is called; none when it does not mind.
#define PIVRAK_TABLE(Type, table) \
    std::optional<std::string> joint_user(const Type& element, const JointQuestion& asked);
#define PIVRAK_COUPLING(Type) \
    std::optional<std::string> joint_user(const Type& element, const JointQuestion& asked);
#define PIVRAK_FACET(Type, facet) \
    std::optional<std::string> joint_user(const Type& element, const JointQuestion& asked);
#include "core/elements/kinds.def"

}  // namespace pivrak
