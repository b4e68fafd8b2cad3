#pragma once

#include "core/geometry/types.h"

namespace pivrak {

/// The direction or its opposite, the one whose largest component is above zero: so that lines without a
/// sense of their own always get the same.
inline Vec3 mostly_positive(const Vec3& direction) {
    Eigen::Index largest = 0;
    direction.cwiseAbs().maxCoeff(&largest);
    return direction[largest] < 0 ? Vec3(-direction) : direction;
}

/// What of a vector stands square to an axis of length one.
inline Vec3 across_axis(const Vec3& v, const Vec3& axis) {
    return v - v.dot(axis) * axis;
}

}  // namespace pivrak
