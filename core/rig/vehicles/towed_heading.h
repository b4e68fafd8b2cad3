#pragma once

#include "core/geometry/types.h"

namespace pivrak {

/// The heading [rad] of a bar of length `bar_m` whose front end is pulled, or pushed, straight from one
/// place to another, while its rear end only rolls the way the bar heads. Exact for a straight pull, however
/// long. Source: the tractrix (C. Huygens, 1693): tan(a / 2) shrinks by exp(-way / bar), where a is the angle
/// between bar and pull.
double towed_heading(double heading_rad, const Vec2& from, const Vec2& to, double bar_m);

/// The angle nearest to `near_rad` that differs from `angle_rad` by whole turns.
double unwrapped(double angle_rad, double near_rad);

}  // namespace pivrak
