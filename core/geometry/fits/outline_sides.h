#pragma once

#include "core/geometry/mesh/mesh.h"

namespace pivrak {

/// The sides of a part's outline, seen along an axis.
struct OutlineSides {
    int count = 0;         ///< corners at the outer radius, in directions of their own
    bool regular = false;  ///< evenly spaced
    bool alone =
        false;  ///< no side of the part looks another way: nothing about it is rounder than its outline
};

/// Corners within 1 % of the outer radius, told apart by a degree. A wheel of six sides is one all through,
/// while a hexagon nut has a rounder hole.
OutlineSides outline_sides(const Mesh& mesh, const Vec3& axis_point, const Vec3& axis_direction);

}  // namespace pivrak
