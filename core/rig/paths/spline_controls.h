#pragma once

#include <cstddef>

#include "core/elements/path/path.h"

namespace pivrak {

/// The control point of a smooth path at any number: closed ones go round, and beyond the ends of open ones
/// they go on straight, so that the path begins and ends at its outer points. Pre: two points at least.
inline Vec3 spline_control(const Path& path, std::ptrdiff_t i) {
    const auto& p = path.points;
    const auto n = static_cast<std::ptrdiff_t>(p.size());
    if (path.closed) return p[static_cast<std::size_t>((i % n + n) % n)].place;
    if (i < 0) return 2 * p[0].place - p[1].place;
    if (i >= n) return 2 * p[p.size() - 1].place - p[p.size() - 2].place;
    return p[static_cast<std::size_t>(i)].place;
}

}  // namespace pivrak
