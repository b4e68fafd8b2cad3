#pragma once

#include <optional>

#include "core/geometry/frame.h"
#include "core/geometry/mesh/mesh.h"

namespace pivrak {

/// Which ways the surface of a mesh looks.
struct Facing {
    /// Unit, square to each other, by how much area looks along them: `most` and `least` at the ends. The
    /// largest component of `most` is positive.
    Vec3 least, between, most;
    Vec3 middle;      ///< of the surface, by area [m]
    double area = 0;  ///< [m²]
};

/// The eigenvectors of the normals' covariance by area. None for a mesh without area.
std::optional<Facing> facing(const Mesh& mesh);

}  // namespace pivrak
