#pragma once

#include <vector>

#include "core/geometry/types.h"

namespace pivrak {

/// How copies of one thing stand in space.
struct Series {
    enum class Kind { Loose, Line, Round } kind = Kind::Loose;
    std::vector<std::size_t> order;  ///< numbers of the places, first to last
    Vec3 direction{1, 0, 0};         ///< of the line, or of the axis
    Vec3 centre{0, 0, 0};            ///< of the circle
    double step = 0;                 ///< along the line [m], or round the axis [rad], when it is even; else 0
};

/// Puts places in order: along a line, round an axis, or, where they form neither, from front to rear, then
/// left to right. Places lie on the line or circle within 1 % of its size. A line runs towards its largest
/// component (forward, left or up); round an axis the order starts nearest forward (or up) and runs
/// counter-clockwise about the axis, which points forward, left or up.
Series order_series(const std::vector<Vec3>& places);

}  // namespace pivrak
