#pragma once

#include <algorithm>
#include <vector>

#include "core/geometry/types.h"

namespace pivrak {

/// The widest gap between neighbouring directions round a circle [rad]. Pre: at least one, within one turn.
inline double widest_angle_gap(std::vector<double> angles) {
    std::sort(angles.begin(), angles.end());
    double gap = 2 * pi - (angles.back() - angles.front());
    for (std::size_t i = 1; i < angles.size(); ++i) gap = std::max(gap, angles[i] - angles[i - 1]);
    return gap;
}

}  // namespace pivrak
