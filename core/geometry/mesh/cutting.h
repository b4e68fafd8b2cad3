#pragma once

#include "core/geometry/mesh/mesh.h"

namespace pivrak {

/// A plane by a point on it and its unit normal.
struct Plane {
    Vec3 point{0, 0, 0}, normal{0, 0, 1};
    double height(const Vec3& p) const { return normal.dot(p - point); }
};

struct CutOptions {
    bool cap = true;           ///< close the halves where the plane went through
    MaterialId cap_material;   ///< of the caps; none: that of the faces beside them
    double on_plane_m = 1e-6;  ///< vertices this near the plane lie on it, so that no slivers come
};

/// The two halves of a mesh. A half without a triangle is empty.
struct CutHalves {
    Mesh above, below;          ///< on the side the normal points to, and on the other
    std::size_t cap_loops = 0;  ///< closed borders that were capped, on one side
    std::size_t open_runs = 0;  ///< borders that did not close, where the surface had gaps; not capped
};

/// Cuts a mesh with a plane. Triangles that the plane crosses are divided, with normals, texture coordinates
/// and colours interpolated; a face that lies in the plane goes to the half it bounds. The caps lie flat in
/// the plane, share its points with the halves and carry texture coordinates in metres along it.
/// Every triangle of the mesh ends in one of the halves, area is kept, and for a closed mesh with caps so is
/// the volume, both within rounding. Bodies that reach into each other are capped each for itself.
CutHalves cut_mesh(const Mesh& mesh, const Plane& plane, const CutOptions& options = {});

}  // namespace pivrak
