#pragma once

#include <cstdint>
#include <vector>

#include "core/geometry/mesh/mesh.h"

namespace pivrak {

/// Edges to be drawn as lines, two vertex numbers each: where two faces meet at more than `angle_rad`, and
/// where a surface ends. Vertices at the same position count as one, so hard edges that are split for
/// their normals are found. Three or more faces on one edge always give a line.
std::vector<std::uint32_t> crease_edges(const Mesh& mesh, double angle_rad = 30 * rad_per_deg);

/// Normals for a mesh that has none: faces that share a corner and meet at less than `angle_rad` are
/// smoothed together, weighted by their angle at the corner. Gives a mesh with vertices split where needed.
Mesh with_normals(const Mesh& mesh, double angle_rad = 30 * rad_per_deg);

}  // namespace pivrak
