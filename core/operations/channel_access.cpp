#include "core/operations/channel_access.h"

#include <fmt/format.h>

#include "core/io/project/project_json.h"
#include "core/operations/travel/path_access.h"
#include "core/rig/driven_by.h"
#include "core/rig/rig_facts.h"

namespace pivrak {
namespace {

/// What a person has to know who moves a channel that nothing but its surroundings moves.
std::optional<std::string_view> why_not_by_hand(const Document& document, ChannelRef channel) {
    const Coupling* coupling = coupling_driving(document, channel);
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

}  // namespace

Result<void> check_free_channel(const Document& document, ChannelRef channel) {
    const Part* found = document.parts.find(channel.part);
    if (!found) return Error{"part.unknown", "there is no part to move", ""};
    const Part& part = *found;
    if (channel.kind == ChannelKind::Along && !part.ride)
        return Error{"channel.none", fmt::format("'{}' rides no path", part.name), part.name};
    if (channel.kind == ChannelKind::Travel && !part.chain)
        return Error{"channel.none", fmt::format("'{}' carries no chain", part.name), part.name};
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
    if (const auto words = why_not_by_hand(document, channel))
        return Error{"channel.driven", fmt::format("'{}' {}", part.name, *words), part.name};
    if (train_handle(document, channel)) return {};
    if (const auto driver = driver_name(document, channel))
        return Error{"channel.driven",
                     fmt::format("'{}' is driven by '{}'; move that one", part.name, *driver), part.name};
    return {};
}

ArgumentSpec channel_argument() {
    return {
        "channel",
        ArgumentKind::Choice,
        "which number of the joint",
        false,
        "turn",
        {"turn", "shift", "shift_x", "shift_y", "shift_z", "turn_x", "turn_y", "turn_z", "along", "travel"}};
}

ChannelKind channel_of(const Arguments& arguments) {
    return *channel_kind_from(arguments.text("channel"));
}

Result<double> channel_value(const Document& document, const Arguments& a, ChannelRef channel) {
    const nlohmann::json& given = a.values().at("value");
    const Part* part = document.parts.find(channel.part);
    if (channel.kind == ChannelKind::Along && given.is_string() &&
        given.get<std::string>().find('%') != std::string::npos && part && part->ride) {
        const Path* path = document.paths.find(part->ride->path);
        if (!path) return Error{"ride.no_path", fmt::format("'{}' rides no path", part->name), part->name};
        RigFacts facts;
        PIVRAK_TRY(laid, facts.path(document, *path));
        return typed_along(given.get<std::string>(), laid->curve.length(), document.settings.length_unit);
    }
    return a.value("value", is_turn(channel.kind) ? Dimension::Angle : Dimension::Length,
                   document.settings.length_unit);
}

std::string format_channel(ChannelKind kind, double value) {
    return is_turn(kind) ? format_angle(value) : format_length(value);
}

}  // namespace pivrak
