#pragma once

#include <vector>

#include "core/geometry/mesh/mesh.h"

namespace pivrak {

/// A round surface of a part: a bore, a pin, an eye. In the frame of its mesh.
struct Barrel {
    Vec3 middle;     ///< on the axis, half way along the surface [m]
    Vec3 direction;  ///< unit; its largest component is positive
    double radius_m = 0, length_m = 0;
};

/// Every smooth region of a mesh that is a cylinder, or a part of one of at least a third round, widest
/// first.
std::vector<Barrel> barrels(const Mesh& mesh);

}  // namespace pivrak
