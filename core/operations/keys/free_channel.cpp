#include "core/operations/keys/free_channel.h"

#include <fmt/format.h>

#include <algorithm>

#include "core/model/element_channels.h"
#include "core/rig/driven_by.h"
#include "core/rig/linkages/linkage_loops.h"
#include "core/rig/reach/reach_row.h"

namespace pivrak {
namespace {

bool holds(const std::vector<ChannelRef>& channels, ChannelRef channel) {
    return std::ranges::find(channels, channel) != channels.end();
}

void free_of_couplings(Document& document, ChannelRef channel, std::vector<std::string>& said) {
    const SharedTable<Coupling> couplings = document.couplings;
    for (Coupling coupling : couplings) {
        if (coupling.driven() != channel && !coupling.drives(channel)) continue;
        const bool was_off = coupling.is_off();
        bool can_be_off = false;
        std::visit(
            [&](auto& kind) {
                if constexpr (requires { kind.off; }) kind.off = can_be_off = true;
            },
            coupling.what);
        if (was_off) continue;
        said.push_back(fmt::format("what moves '{}' is {}", channel_name(document, channel),
                                   can_be_off ? "off" : "removed"));
        if (can_be_off)
            document.couplings.set(std::move(coupling));
        else
            document.couplings.erase(coupling.id);
    }
}

/// Elements with a switch of their own.
template <class Element, class Moves>
void switch_off(SharedTable<Element>& table, std::vector<std::string>& said, Moves moves) {
    const SharedTable<Element> all = table;
    for (Element element : all) {
        if (element.off || !moves(element)) continue;
        element.off = true;
        said.push_back(fmt::format("'{}' is off", element.name));
        table.set(std::move(element));
    }
}

}  // namespace

Result<std::vector<std::string>> free_channel(Document& document, ChannelRef channel) {
    std::vector<std::string> said;
    free_of_couplings(document, channel, said);
    const Part* part = document.parts.find(channel.part());
    const JointKind joint = part ? part->joint.kind : JointKind::Fixed;
    switch_off(document.constraints, said, [&](const Constraint& constraint) {
        return constraint.part == channel.part() && constraint.moves(joint, channel.kind);
    });
    switch_off(document.reaches, said, [&](const Reach& reach) {
        const auto row = reach_row(document, reach);
        return row && holds(row->channels, channel);
    });
    switch_off(document.linkages, said, [&](const Linkage& linkage) {
        const auto loops = linkage_loops(document, linkage.closures);
        return loops && !linkage.is_input(channel) && holds(loops->channels, channel);
    });
    if (const auto driver = driver_name(document, channel))
        return Error{"channel.driven",
                     fmt::format("'{}' moves '{}' and cannot be switched off: key what moves that", *driver,
                                 channel_name(document, channel)),
                     channel_name(document, channel)};
    return said;
}

}  // namespace pivrak
