#pragma once

#include <cstdint>
#include <optional>

#include "core/base/id.h"

namespace pivrak {

/// The numbers a joint leaves free: shifts [m], and turns [rad] that are not wrapped but counted in full
/// turns. Hinges and slides have one along the joint's axis; balls and free parts one for each own axis.
/// Two are not a joint's: `Along` says how far a rider is along its path [m], and `Travel` how far a chain
/// has gone round [m].
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
    Travel
};

/// Whether a channel is an angle; all others are lengths.
constexpr bool is_turn(ChannelKind kind) {
    return kind == ChannelKind::Turn || (kind >= ChannelKind::TurnX && kind <= ChannelKind::TurnZ);
}

/// One channel of one part, by stable id.
struct ChannelRef {
    PartId part;
    ChannelKind kind = ChannelKind::Turn;
    auto operator<=>(const ChannelRef&) const = default;
};

/// Allowed range of a channel, both ends included.
struct Limits {
    double min = 0, max = 0;
    bool operator==(const Limits&) const = default;
    double clamp(double value) const { return value < min ? min : value > max ? max : value; }
};

/// A channel as set by hand. Keys and couplings take precedence over `value`; limits hold for all of them.
struct Channel {
    double value = 0;
    std::optional<Limits> limits;
    bool locked = false;  ///< stands at `value`; neither hands, keys nor couplings move it
    bool operator==(const Channel&) const = default;
};

}  // namespace pivrak
