#pragma once

#include <optional>

#include "core/geometry/ground/ground_map.h"

namespace pivrak {

/// How far a cylinder that leans in any way must go straight up until it cuts into no triangle. The lift that
/// a point of the ground asks for is a concave function of the point, so over each triangle the most lies
/// where the cylinder has the triangle's slope, or on an edge, at one of a few places with closed forms.
class LeaningStand {
public:
    explicit LeaningStand(const GroundWheel& wheel);

    void triangle(const Vec3 at[3]);
    /// None when no triangle lies below or above it.
    std::optional<GroundContact> contact() const;

private:
    /// A vector seen from the wheel: along the axle, and two ways across it.
    Vec3 own(const Vec3& v) const { return {axle_.dot(v), u_.dot(v), v_.dot(v)}; }
    void face(const Vec3 at[3]);
    void edge(const Vec3& from, const Vec3& to);
    void point(const Vec3& own_place, const Vec3& place);
    void take(double lift, const Vec3& place);
    std::optional<double> lift_of(const Vec3& own_place) const;

    Vec3 hub_, axle_, u_, v_, up_;  ///< `up_` as seen from the wheel
    double radius_, half_;
    double lift_ = -1e300;
    Vec3 touch_{0, 0, 0};
};

}  // namespace pivrak
