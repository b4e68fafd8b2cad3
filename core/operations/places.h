#pragma once

#include "core/base/result.h"
#include "core/model/document.h"

namespace pivrak {

/// A place in the world, at rest, written as one of
/// `[x, y, z]` (lengths), `{"part": P}` (its pivot), `{"part": P, "at": "middle" | "base" | "centroid"}`,
/// `{"part": P, "vertex": i}`, `{"part": P, "edge": [i, j]}` (its middle), `{"part": P, "face": i}` (the
/// centroid of the flat area round that triangle), `{"part": P, "rim": [i, j]}` (the centre of the round hole
/// or rim through that edge). Vertices and triangles count from 0 in the part's shape. Errors:
/// `place.syntax`, `place.range`, `place.no_rim`, `part.*`, `quantity.*`.
Result<Vec3> place_from(const Document& document, const nlohmann::json& place);

/// The same on one mesh, in its own coordinates: `vertex`, `edge`, `face` or `rim` of the place.
Result<Vec3> place_in_shape(const Mesh& mesh, const nlohmann::json& place);

/// Centre of mass of what a closed mesh encloses; of its surface when it is open.
Vec3 mesh_centroid(const Mesh& mesh);

/// The middle of the bounds, the middle of their lowest side in the world, or the centroid, in the world.
/// Errors: `part.no_shape`.
Result<Vec3> shape_place(const Document& document, PartId part, std::string_view at);

}  // namespace pivrak
