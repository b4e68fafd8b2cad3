#pragma once

#include "core/model/document.h"
#include "core/rig/chains/chain_loop.h"

namespace pivrak {

/// A chain in its plane at rest. Pre: its datum and wheels exist.
ChainLoop chain_loop(const Document& document, const Chain& chain);

/// How a frame stands about the plane's z [rad]: where the axis after `axis` points.
double turn_in_plane(const Frame& plane_from_world, const Frame& world_from_part, int axis);

/// Where link `i` rests in the chain's plane: its pivot on one pin, x to the next one.
Frame plane_from_link(std::span<const Vec2> pins, std::size_t i);

/// What a person may read of a chain at rest.
struct ChainFacts {
    bool possible = false;
    std::size_t blocked = 0;
    double smooth_m = 0;      ///< round pitch circles and straight runs; of an open run to its drum
    double needed_m = 0;      ///< by links, in their most demanding position
    double links_needed = 0;  ///< of one pitch, before they are whole
    double slack_m = 0;       ///< of all links against `needed_m`; below zero: missing
    double sag_m = 0;         ///< of the run that hangs
    double wound_rad = 0;     ///< of an open run: what is on its drum
};
ChainFacts chain_facts(const ChainLoop& loop);

}  // namespace pivrak
