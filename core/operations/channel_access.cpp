#include "core/operations/channel_access.h"

#include <fmt/format.h>

#include <cmath>

#include "core/io/project/project_json.h"
#include "core/model/element_channels.h"
#include "core/operations/travel/path_access.h"
#include "core/rig/rig_facts.h"

namespace pivrak {
namespace {

/// What a person has to know who moves a channel that nothing but its surroundings moves.
std::optional<std::string_view> why_not_by_hand(const Drivers& drivers, ChannelRef channel) {
    const Coupling* coupling = drivers.coupling(channel);
    if (!coupling || coupling->driver()) return std::nullopt;
    return std::visit(
        [](const auto& kind) -> std::optional<std::string_view> {
            if constexpr (requires { kind.by_hand_words; })
                return kind.by_hand_words;
            else
                return std::nullopt;
        },
        coupling->what);
}

/// Of an element's channel.
Result<void> check_free_own(const Drivers& drivers, ChannelRef channel) {
    const Document& document = drivers.document();
    if (!has_owner(document, channel.owner)) return Error{"part.unknown", "there is no part to move", ""};
    const std::string name = owner_name(document, channel.owner);
    const auto found = find_channel(document, channel);
    if (!found)
        return Error{"channel.none", fmt::format("'{}' has no {}", name, channel_word(channel.kind)), name};
    if (found->locked)
        return Error{"channel.locked",
                     fmt::format("the {} of '{}' is locked", channel_word(channel.kind), name), name};
    if (const auto driver = drivers.name(channel))
        return Error{"channel.driven",
                     document.measures.contains(MeasureId{channel.owner.value})
                         ? fmt::format("'{}' is measured; move what it is measured on", name)
                         : fmt::format("'{}' is driven by '{}'; move that one", name, *driver),
                     name};
    return {};
}

}  // namespace

Result<void> check_free_channel(const Drivers& drivers, ChannelRef channel) {
    const Document& document = drivers.document();
    const Part* found = document.parts.find(channel.part());
    if (!found) return check_free_own(drivers, channel);
    const Part& part = *found;
    if (channel.kind == ChannelKind::Along && !part.ride)
        return Error{"channel.none", fmt::format("'{}' rides no path", part.name), part.name};
    if (channel.kind == ChannelKind::Travel && !part.chain)
        return Error{"channel.none", fmt::format("'{}' carries no chain", part.name), part.name};
    if (channel.kind == ChannelKind::Size && !part.joint.size)
        return Error{"channel.none",
                     fmt::format("'{}' has no size that changes; let it grow and shrink first", part.name),
                     part.name};
    if (part.joint.kind == JointKind::Fixed && !part.has(channel.kind))
        return Error{"channel.fixed",
                     fmt::format("'{}' is fixed to what carries it; make it a hinge first", part.name),
                     part.name};
    if (!part.has(channel.kind))
        return Error{"channel.none",
                     fmt::format("the {} joint of '{}' has no {}", word(part.joint.kind), part.name,
                                 channel_word(channel.kind)),
                     part.name};
    if (part.joint.channel(channel.kind).locked)
        return Error{"channel.locked",
                     fmt::format("the {} of '{}' is locked; unlock it in its joint",
                                 channel_word(channel.kind), part.name),
                     part.name};
    if (const auto words = why_not_by_hand(drivers, channel))
        return Error{"channel.driven", fmt::format("'{}' {}", part.name, *words), part.name};
    if (drivers.handle(channel)) return {};
    if (const auto driver = drivers.name(channel))
        return Error{"channel.driven",
                     fmt::format("'{}' is driven by '{}'; move that one", part.name, *driver), part.name};
    return {};
}

Result<void> check_in_range(ChannelKind kind, double value) {
    const Limits range = range_of(kind);
    if (range.clamp(value) == value) return {};
    const std::string_view name = channel_word(kind);
    return Error{"channel.range",
                 std::isinf(range.max)
                     ? fmt::format("no {} is below zero", name)
                     : fmt::format("a {} lies between {:g} and {:g}", name, range.min, range.max),
                 "value"};
}

ArgumentSpec channel_argument() {
    return {"channel",
            ArgumentKind::Choice,
            "which number of the joint, or of an element",
            false,
            "turn",
            {"turn", "shift", "shift_x", "shift_y", "shift_z", "turn_x", "turn_y", "turn_z", "along",
             "travel", "size", "slack", "blend", "stretch", "length", "angle", "count", "bend", "speed"}};
}

ChannelKind channel_of(const Arguments& arguments) {
    return *channel_kind_from(arguments.text("channel"));
}

ArgumentSpec elements_argument() {
    return {"elements",
            ArgumentKind::Elements,
            "chains and other elements of the rig whose own channel is meant",
            false,
            {},
            {}};
}

std::vector<OwnerId> owners_asked(const Arguments& a) {
    std::vector<OwnerId> owners;
    if (a.has("parts"))
        for (const PartId part : a.parts("parts")) owners.push_back(part);
    if (a.has("elements"))
        for (const OwnerId element : a.elements("elements")) owners.push_back(element);
    return owners;
}

Result<std::vector<ChannelRef>> channels_asked(const Arguments& a) {
    std::vector<ChannelRef> channels;
    for (const OwnerId owner : owners_asked(a)) channels.push_back({owner, channel_of(a)});
    if (channels.empty())
        return Error{"argument.missing", "'parts' or 'elements' is needed: whose channel it is", "parts"};
    return channels;
}

nlohmann::json channel_step(std::string_view operation, ChannelRef channel) {
    return {{"op", operation},
            {is_of_part(channel.kind) ? "parts" : "elements", {channel.owner.value}},
            {"channel", word(channel.kind)}};
}

Result<double> channel_value(const Document& document, const Arguments& a, ChannelRef channel) {
    const nlohmann::json& given = a.values().at("value");
    const Part* part = document.parts.find(channel.part());
    if (channel.kind == ChannelKind::Along && given.is_string() &&
        given.get<std::string>().find('%') != std::string::npos && part && part->ride) {
        const Path* path = document.paths.find(part->ride->path);
        if (!path) return Error{"ride.no_path", fmt::format("'{}' rides no path", part->name), part->name};
        RigFacts facts;
        PIVRAK_TRY(laid, facts.path(document, *path));
        return typed_along(given.get<std::string>(), laid->curve.length(), document.settings.length_unit);
    }
    PIVRAK_TRY(value, a.value("value", dimension_of(channel.kind), document.settings.length_unit));
    PIVRAK_CHECK(check_in_range(channel.kind, value));
    return value;
}

}  // namespace pivrak
