#include "core/operations/linkages/linkage_maker.h"

#include <fmt/format.h>

#include <algorithm>

#include "core/base/words.h"
#include "core/model/element_channels.h"
#include "core/operations/named_elements.h"
#include "core/rig/driven_by.h"
#include "core/rig/linkages/linkage_loops.h"
#include "core/rig/linkages/mobility.h"

namespace pivrak {
namespace {

bool has_keys(const Document& document, ChannelRef channel) {
    return std::any_of(document.clips.begin(), document.clips.end(), [&](const Clip& clip) {
        const Track* track = clip.track(channel);
        return track && !track->keys.empty();
    });
}

/// What something else than linkages moves.
std::vector<ChannelRef> driven_channels(const Document& document, const std::vector<ChannelRef>& channels) {
    const Drivers drivers(document);
    std::vector<ChannelRef> driven;
    for (const ChannelRef channel : channels)
        if (drivers.other_name(channel) || drivers.is_reached(channel)) driven.push_back(channel);
    return driven;
}

bool share_a_joint(const Document& document, const Linkage& linkage, const LinkageLoops& loops) {
    const auto own = linkage_loops(document, linkage.closures);
    return own && std::any_of(own->joints.begin(), own->joints.end(), [&](PartId joint) {
               return std::find(loops.joints.begin(), loops.joints.end(), joint) != loops.joints.end();
           });
}

}  // namespace

Closure closure_at(const Document& document, PartId a, PartId b, const ClosingPlace& at) {
    const Frame world_a = world_from_rest(document, a), world_b = world_from_rest(document, b);
    const Frame a_from_world = world_a.inverse(), b_from_world = world_b.inverse();
    return {at.closes,
            a,
            b,
            a_from_world.point(at.place),
            b_from_world.point(at.place),
            a_from_world.direction(at.axis).normalized(),
            b_from_world.direction(at.axis).normalized(),
            (world_b.rotation.conjugate() * world_a.rotation).normalized()};
}

Result<void> choose_inputs(const Document& document, Linkage& linkage,
                           const std::vector<ChannelRef>& preferred, Prefer when) {
    PIVRAK_TRY(built, build_linkage(document, linkage.closures, [](ChannelRef) { return false; }));
    const std::vector<ChannelRef>& channels = built.channels;
    const auto driven = driven_channels(document, channels);
    std::vector<ChannelRef> wanted = driven;
    const auto prefer = [&](Prefer now) {
        if (when == now) wanted.insert(wanted.end(), preferred.begin(), preferred.end());
    };
    prefer(Prefer::BeforeKeys);
    for (const ChannelRef channel : channels)
        if (has_keys(document, channel)) wanted.push_back(channel);
    prefer(Prefer::AfterKeys);
    for (const LinkageInput& input : linkage.inputs) wanted.push_back(input.channel);
    wanted.insert(wanted.end(), channels.begin(), channels.end());
    std::vector<std::uint32_t> columns;
    for (const ChannelRef channel : wanted) {
        const auto at = std::find(channels.begin(), channels.end(), channel);
        if (at != channels.end()) columns.push_back(static_cast<std::uint32_t>(at - channels.begin()));
    }
    const auto chosen =
        inputs_for(built.solver.model(), built.rest, locked_columns(document, channels), columns);
    linkage.inputs.clear();
    for (const std::uint32_t column : chosen) linkage.inputs.push_back({channels[column]});
    if (driven.size() == channels.size())
        return Error{
            "linkage.driven",
            fmt::format("all joints of '{}' are driven already: none is left to follow", linkage.name),
            linkage.name};
    return {};
}

Result<LinkageId> add_closure(Document& document, const Closure& closure, const std::string& name) {
    PIVRAK_TRY(loops, linkage_loops(document, {closure}));
    Linkage linkage;
    const SharedTable<Linkage> present = document.linkages;
    for (const Linkage& other : present) {
        if (!share_a_joint(document, other, loops)) continue;
        if (linkage.id)
            document.linkages.erase(other.id);
        else
            linkage.id = other.id, linkage.name = other.name;
        linkage.closures.insert(linkage.closures.end(), other.closures.begin(), other.closures.end());
        linkage.inputs.insert(linkage.inputs.end(), other.inputs.begin(), other.inputs.end());
    }
    linkage.closures.push_back(closure);
    if (!linkage.id) {
        linkage.id = document.new_id<LinkageId>();
        linkage.name = free_entry_name(document.linkages, name);
    }
    PIVRAK_CHECK(choose_inputs(document, linkage, {}));
    document.linkages.set(linkage);
    return linkage.id;
}

Result<std::string> mobility_words(const Document& document, const Linkage& linkage) {
    PIVRAK_TRY(built, build_linkage(document, linkage.closures, [](ChannelRef) { return false; }));
    const Mobility can = mobility(built.solver.model(), built.rest, locked_columns(document, built.channels));
    if (can.ways == 0) return std::string("cannot move: its joints leave it no way");
    std::string keyed;
    for (const LinkageInput& input : linkage.inputs)
        keyed += (keyed.empty() ? "'" : ", '") + channel_name(document, input.channel) + "'";
    return fmt::format("moves {}{}",
                       can.ways == 1 ? "one way" : counted(static_cast<std::size_t>(can.ways), "way"),
                       keyed.empty() ? "" : ", led by " + keyed);
}

}  // namespace pivrak
