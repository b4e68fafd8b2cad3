#pragma once

#include <compare>
#include <cstdint>
#include <functional>
#include <limits>
#include <optional>

#include "core/base/id.h"

namespace pivrak {

/// The numbers a joint leaves free: shifts [m], and turns [rad] that are not wrapped but counted in full
/// turns. Hinges and slides have one along the joint's axis; balls and free parts one for each own axis.
/// Three are a part's, but not its joint's: `Along` says how far a rider is along its path [m], `Travel` how
/// far a chain has gone round [m], and `Size` how many times as large as at rest a part is, with all it
/// carries: lengths below it count in that measure. The others belong to elements of the rig: `Slack` is what
/// a tensioner leaves a chain to hang [m], `Blend` the share from 0 to 1 by which an element moves what it
/// drives, `Stretch` how many times as long as at rest a row of joints has become to reach its goal. What is
/// measured is a `Length` [m], an `Angle` [rad], a `Count`, a `Bend` [1/m], or a `Speed` [m/s].
enum class ChannelKind : std::uint8_t {
    Turn,
    Shift,
    ShiftX,
    ShiftY,
    ShiftZ,
    TurnX,
    TurnY,
    TurnZ,
    Along,
    Travel,
    Size,
    Slack,
    Blend,
    Stretch,
    Length,
    Angle,
    Count,
    Bend,
    Speed
};

/// Whether a channel is an angle. All others are lengths, but those that `has_no_unit`, bends and speeds.
constexpr bool is_turn(ChannelKind kind) {
    return kind == ChannelKind::Turn || kind == ChannelKind::Angle ||
           (kind >= ChannelKind::TurnX && kind <= ChannelKind::TurnZ);
}

constexpr bool has_no_unit(ChannelKind kind) {
    return kind == ChannelKind::Size || kind == ChannelKind::Blend || kind == ChannelKind::Stretch ||
           kind == ChannelKind::Count;
}

/// Whether a channel may be a part's; all others are an element's.
constexpr bool is_of_part(ChannelKind kind) {
    return kind < ChannelKind::Slack;
}

/// Whose a channel is: a part, or an element of the rig. Ids are unique over all kinds.
struct OwnerId {
    std::uint64_t value = 0;

    OwnerId() = default;
    template <class Tag>
    OwnerId(Id<Tag> id) : value(id.value) {}

    explicit operator bool() const { return value != 0; }
    auto operator<=>(const OwnerId&) const = default;
};

/// One channel, by stable id.
struct ChannelRef {
    OwnerId owner;
    ChannelKind kind = ChannelKind::Turn;
    auto operator<=>(const ChannelRef&) const = default;

    /// The part whose it is; of an element's channel one that no document has.
    PartId part() const { return PartId{owner.value}; }
};

/// Allowed range of a channel, both ends included.
struct Limits {
    double min = 0, max = 0;
    bool operator==(const Limits&) const = default;
    double clamp(double value) const { return value < min ? min : value > max ? max : value; }
};

/// What a channel is at rest.
constexpr double rest_of(ChannelKind kind) {
    return kind == ChannelKind::Size || kind == ChannelKind::Stretch ? 1 : 0;
}

/// What its kind lets a channel be, whatever its limits: no slack is below nothing, no share outside 0 to 1,
/// no size beyond a thousand times.
constexpr Limits range_of(ChannelKind kind) {
    constexpr double without_end = std::numeric_limits<double>::infinity();
    if (kind == ChannelKind::Size) return {0.001, 1000};
    if (kind == ChannelKind::Slack) return {0, without_end};
    if (kind == ChannelKind::Blend) return {0, 1};
    if (kind == ChannelKind::Stretch) return {1, 1000};
    return {-without_end, without_end};
}

/// A channel as set by hand. Keys and couplings take precedence over `value`; limits hold for all of them.
struct Channel {
    double value = 0;
    std::optional<Limits> limits;
    bool locked = false;  ///< stands at `value`; neither hands, keys nor couplings move it
    bool operator==(const Channel&) const = default;
};

}  // namespace pivrak

template <>
struct std::hash<pivrak::OwnerId> {
    std::size_t operator()(const pivrak::OwnerId& id) const noexcept {
        return std::hash<std::uint64_t>{}(id.value);
    }
};

template <>
struct std::hash<pivrak::ChannelRef> {
    std::size_t operator()(const pivrak::ChannelRef& channel) const noexcept {
        return std::hash<std::uint64_t>{}(channel.owner.value * 31 +
                                          static_cast<std::uint64_t>(channel.kind));
    }
};
