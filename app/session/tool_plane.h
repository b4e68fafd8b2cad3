#pragma once

#include "core/geometry/mesh/cutting.h"

namespace pivrak {

/// A plane being placed for a cut: the direction it has by itself, and how far it has been tilted and turned
/// from there. Its normal is `base * turn about z * tilt about y * (1, 0, 0)`.
struct ToolPlane {
    Vec3 point{0, 0, 0};
    Quat base = Quat(1, 0, 0, 0);
    double tilt_rad = 0, turn_rad = 0;

    Quat rotation() const { return base * turn_about_axis(2, turn_rad) * turn_about_axis(1, tilt_rad); }
    Plane plane() const { return {point, rotation() * Vec3::UnitX()}; }
    /// Unit vector along the sheet: 0 the axis it tilts about, 1 the other one.
    Vec3 side(int k) const { return rotation() * Vec3::Unit(1 + k); }
    double offset() const { return plane().normal.dot(point); }
};

/// A plane square to an axis of the world (0 x, 1 y, 2 z), tilting about the next axis and turning about the
/// one after.
inline ToolPlane plane_across(int axis, const Vec3& point) {
    Mat3 base;
    for (int k = 0; k < 3; ++k) base.col(k) = Vec3::Unit((axis + k) % 3);
    return {point, Quat(base)};
}

/// A plane along a face with this normal (unit).
inline ToolPlane plane_along(const Vec3& normal, const Vec3& point) {
    return {point, Quat::FromTwoVectors(Vec3::UnitX(), normal)};
}

}  // namespace pivrak
