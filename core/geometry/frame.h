#pragma once

#include "core/geometry/types.h"

namespace pivrak {

/// A frame: one size for all axes, then rotation, then translation [m]. `world_from_part * part_from_shape`
/// composes, and the inner names meet. The rotation is a unit quaternion and the size a number above zero, so
/// no shear and no uneven scale can hide in it. Frames at rest are rigid, of size 1; only a channel of its
/// own gives a part another.
struct Frame {
    Quat rotation = Quat(1, 0, 0, 0);
    Vec3 translation = Vec3(0, 0, 0);
    double size = 1;

    Vec3 point(const Vec3& p) const { return rotation * (size * p) + translation; }
    /// Turned, its length unchanged.
    Vec3 direction(const Vec3& d) const { return rotation * d; }
    Vec3 axis(int index) const { return rotation * Vec3::Unit(index); }

    Frame operator*(const Frame& inner) const {
        return {rotation * inner.rotation, rotation * (size * inner.translation) + translation,
                size * inner.size};
    }
    Frame inverse() const {
        const Quat back = rotation.conjugate();
        return {back, -(back * translation) / size, 1 / size};
    }
    /// The same frame with its quaternion brought back to unit length.
    Frame normalized() const { return {rotation.normalized(), translation, size}; }
    /// Place and turn alone.
    Frame rigid() const { return {rotation, translation}; }

    Mat4 matrix() const;

    bool operator==(const Frame& other) const {
        return rotation.coeffs() == other.rotation.coeffs() && translation == other.translation &&
               size == other.size;
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
