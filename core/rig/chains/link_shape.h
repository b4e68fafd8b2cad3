#pragma once

#include <array>
#include <optional>

#include "core/rig/chains/chain_layout.h"

namespace pivrak {

/// How a link part lies in a chain: its frame in the world, the pivot on the first of its two pins, x to the
/// other one, z along the chain's normal.
struct LinkPlace {
    Frame world_from_link;
    std::size_t nearest = 0;  ///< the link of the chain that lies nearest to it
    bool on_chain = false;    ///< it lies on the chain already, so the line of pins is where the chain has it
};

/// What is known of a link's pins: where they are in the world [m], or how far they stand from the face that
/// looks to the wheels.
struct LinkPins {
    std::optional<std::array<Vec3, 2>> places;
    std::optional<double> inner_m;
};

/// Reads how a link part lies. Pins are taken as given, or found: the link's long side
/// goes along the nearest link of the chain, pins stand half a pitch from its middle, and on the chain's own
/// line where it lies on it. `pins_of_chain` are those of the chain at rest, in its plane.
LinkPlace link_place(const Document& document, PartId link, const Chain& chain,
                     std::span<const Vec2> pins_of_chain, const LinkPins& pins = {});

}  // namespace pivrak
