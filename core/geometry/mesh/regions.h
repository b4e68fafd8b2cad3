#pragma once

#include "core/geometry/mesh/pieces.h"
#include "core/geometry/mesh/topology.h"

namespace pivrak {

/// Which triangles of a mesh are picked.
using FaceMask = std::vector<bool>;

/// The mask with every unconnected piece filled that has a picked face.
FaceMask grow_to_pieces(const Mesh& mesh, const FaceMask& picked, const PieceOptions& options = {});

/// The mask spread over neighbours whose faces meet at no more than `angle_rad`: smooth surfaces for some
/// degrees, flat ones for a small angle.
FaceMask grow_within_angle(const Mesh& mesh, const MeshTopology& topology, const FaceMask& picked,
                           double angle_rad);

/// The mask with every face of the materials that are picked somewhere.
FaceMask grow_to_material(const Mesh& mesh, const FaceMask& picked);

/// One ring more: faces that share a point with a picked one.
FaceMask grow_ring(const Mesh& mesh, const MeshTopology& topology, const FaceMask& picked);
/// One ring less: faces that share a point with one that is not picked go.
FaceMask shrink_ring(const Mesh& mesh, const MeshTopology& topology, const FaceMask& picked);

/// Every face whose area is that of a picked one, to a hundredth.
FaceMask grow_same_size(const Mesh& mesh, const FaceMask& picked);

/// A label for each region bounded by edges at which faces meet at more than `angle_rad`.
TriangleLabels label_by_crease(const Mesh& mesh, double angle_rad, double weld_m = 0);

/// A label for each group named in the file, in their order; faces without one share a label.
TriangleLabels label_by_group(const Mesh& mesh);

/// Two labels: picked faces 1, all others 0. With all or none picked there is one label.
TriangleLabels label_by_mask(const FaceMask& picked);

}  // namespace pivrak
