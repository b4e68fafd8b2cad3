#pragma once

#include "core/base/result.h"
#include "core/model/document.h"

namespace pivrak {

/// How teeth of a pair stand in each other while they run.
struct MeshInterference {
    double deepest_m = 0;    ///< the deepest that a corner or an edge of one stands in the other
    double driver_at = 0;    ///< at that turn [rad], or shift [m], of the driver
    Vec3 place{0, 0, 0};     ///< and where, in the world with the pair at rest
    std::size_t looked = 0;  ///< positions of the driver that were looked at
};

/// Turns a pair once round its driver (a rack's pinion once round), against what carries both, at the pair's
/// own ratio and phase, and measures at `steps` positions how deep the shapes that move with one stand in
/// those of the other: by corners and middles of edges, to the nearest surface. Closed surfaces only mean
/// something. Errors: `gear.no_shape` when one shows none. Pre: the pair's parts exist, steps >= 1.
Result<MeshInterference> mesh_interference(const Document& document, const GearPair& pair, int steps = 120);

}  // namespace pivrak
