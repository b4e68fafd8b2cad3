#pragma once

#include <array>

#include "core/geometry/types.h"

namespace pivrak {

using Triangle = std::array<Vec3, 3>;

/// How far two triangles are apart, and the places where they are nearest.
struct TriangleGap {
    double distance = 0;  ///< [m]; 0 where they touch or cut through each other
    Vec3 on_first{0, 0, 0}, on_second{0, 0, 0};
};

/// Exact but for rounding: the least of all distances between corners and faces and between edges, or nothing
/// where an edge goes through the other's face. Triangles without area count as their edges.
/// Source: Ericson, Real-Time Collision Detection (2005), 5.1.9 for edges, 5.1.5 for corners.
TriangleGap triangle_gap(const Triangle& first, const Triangle& second);

}  // namespace pivrak
