#pragma once

#include "core/geometry/types.h"

namespace pivrak {

/// A rigid frame: rotation then translation [m]. `world_from_part * part_from_shape` composes, and the
/// inner names meet. The rotation is a unit quaternion, so no scale or shear can hide in it.
struct Frame {
    Quat rotation = Quat(1, 0, 0, 0);
    Vec3 translation = Vec3(0, 0, 0);

    Vec3 point(const Vec3& p) const { return rotation * p + translation; }
    Vec3 direction(const Vec3& d) const { return rotation * d; }
    Vec3 axis(int index) const { return rotation * Vec3::Unit(index); }

    Frame operator*(const Frame& inner) const {
        return {rotation * inner.rotation, rotation * inner.translation + translation};
    }
    Frame inverse() const {
        const Quat back = rotation.conjugate();
        return {back, -(back * translation)};
    }
    /// The same frame with its quaternion brought back to unit length.
    Frame normalized() const { return {rotation.normalized(), translation}; }

    Mat4 matrix() const;

    bool operator==(const Frame& other) const {
        return rotation.coeffs() == other.rotation.coeffs() && translation == other.translation;
    }
};

/// Angle [rad], 0 to pi, of the turn that takes one rotation to the other. Exact for small angles too.
double angle_between(const Quat& a, const Quat& b);

/// A turn about one of the frame's own axes (0 x, 1 y, 2 z).
Quat turn_about_axis(int axis, double angle_rad);

/// The frame nearest to `start` whose axis `axis` (0 x, 1 y, 2 z) points along `direction` and whose origin
/// is `origin`. The turn is the smallest there is, so the other axes move as little as possible; for a
/// direction exactly opposite the turn is a half turn about the frame's next axis.
Frame aimed_frame(const Frame& start, int axis, const Vec3& direction, const Vec3& origin);

/// Some unit vector at a right angle to a unit vector.
Vec3 any_perpendicular(const Vec3& unit);

}  // namespace pivrak
