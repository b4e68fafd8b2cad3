#pragma once

#include <nlohmann/json.hpp>
#include <optional>
#include <vector>

#include "core/geometry/mesh/mesh.h"

namespace pivrak {

/// A way of dividing a shape that can be written down and done again on a newer version of it, in the
/// coordinates of its node [m]:
/// `{"by": "pieces", "weld": m}`, `{"by": "material"}`, `{"by": "crease", "angle": rad, "weld": m}`,
/// `{"by": "group"}`, `{"by": "plane", "point": [], "normal": [], "cap": true, "material": id}`,
/// `{"by": "faces"}` for faces picked by hand.
using Division = nlohmann::json;

/// One step of how a piece came about, as kept in `Origin::cuts`.
/// \param label number of the piece among those of the division; \param box its bounds
nlohmann::json cut_step(const Division& division, std::uint32_t label, const Bounds& box);

/// A piece of a lump as it was: its steps, at least one, and its surface in the node's coordinates; none for
/// a piece that has been joined with others since.
struct OldPiece {
    nlohmann::json cuts;
    std::shared_ptr<const Mesh> surface;
};

/// A piece of the newer lump, in the same coordinates, with its steps.
struct NewPiece {
    Mesh mesh;
    nlohmann::json cuts;
};

struct RedoneCuts {
    std::vector<std::optional<NewPiece>> pieces;  ///< of each old one; none where nothing fits
    std::vector<NewPiece> unused;                 ///< what no old piece was found for
};

/// Divides a newer lump as its old pieces were divided, step by step. Unconnected pieces and their like are
/// found again by place and size: the middle within half the old size, the size within a half of it; planes
/// cut at their old place; picked faces are those nearest to the old piece's surface.
RedoneCuts redo_cuts(const Mesh& lump, const std::vector<OldPiece>& pieces);

}  // namespace pivrak
