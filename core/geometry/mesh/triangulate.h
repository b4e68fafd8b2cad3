#pragma once

#include <array>
#include <cstdint>
#include <vector>

#include "core/geometry/types.h"

namespace pivrak {

/// A closed loop in a plane; the last point is joined to the first.
using Loop = std::vector<Vec2>;

/// Twice the area inside a loop; positive when it runs counter-clockwise.
double doubled_area(const Loop& loop);

/// Fills the region between loops with triangles, counter-clockwise, without adding a point. Loops may run
/// either way; a loop inside another is a hole, one inside a hole is filled again, and so on. Answers numbers
/// of points, counted through all loops in their order. Every point of a simple region is used, those in the
/// middle of a straight side too, so that what is fitted to the sides has no gaps.
/// Loops must not cross; where they do, the answer covers about as much, and never fails to end.
/// Source: triangulation by cutting ears, holes joined by bridges (Meisters 1975; Eberly 1998).
std::vector<std::array<std::uint32_t, 3>> triangulate(const std::vector<Loop>& loops);

}  // namespace pivrak
