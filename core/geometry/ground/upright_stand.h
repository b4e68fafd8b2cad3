#pragma once

#include <array>
#include <optional>

#include "core/geometry/ground/ground_map.h"

namespace pivrak {

/// How far a cylinder must be moved at right angles to its axle until it cuts into no triangle. Seen across
/// the axle it is a circle: the lift that a point asks for is concave along the way forward and linear
/// across it. So a triangle asks for the most where its slope is the circle's, at one end of the tread, and
/// never for more than its plane does within the box about it. Triangles that ask for less than what is
/// already found are not cut at all. In whatever order they come, the outcome is the same to the last bit.
class UprightStand {
public:
    /// `up` as `GroundMap::stand` has it.
    UprightStand(const GroundWheel& wheel, const Vec3& up);

    /// False where `up` is no way for such a wheel.
    bool can_move() const { return share_ >= 1e-6; }
    /// Half sizes of the rectangle, seen from above, that can matter [m]: as far as it reaches sideways, and
    /// as far as it shifts sideways when it is moved up or down by three radii.
    Vec2 reach() const;
    /// Whether what lies in a box could ask for as much as what is found so far.
    bool may_meet(const Vec3f& low, const Vec3f& high) const {
        const Vec3 middle = 0.5 * (low + high).cast<double>() - hub_,
                   half = 0.5 * (high - low).cast<double>();
        const double ahead = std::abs(forward_.dot(middle)) - forward_size_.dot(half);
        if (ahead > radius_ || std::abs(axle_.dot(middle)) > half_ + axle_size_.dot(half)) return false;
        // No place of it lies further below than the round does where it is nearest.
        const double below = lift_ - slack_ - up_.dot(middle) - up_size_.dot(half);
        return below <= 0 ||
               (below <= radius_ && (ahead <= 0 || below * below + ahead * ahead <= radius_ * radius_));
    }
    void triangle(const Vec3 at[3]);
    /// None when no triangle lies in the way.
    std::optional<GroundContact> contact();

private:
    using Triangle = std::array<Vec3, 3>;
    /// A triangle, as the wheel sees it, that may ask for up to so much.
    struct Waiting {
        Triangle at;
        double most;
    };
    /// Forward, along the axle, up.
    Vec3 own(const Vec3& v) const { return {forward_.dot(v), axle_.dot(v), up_.dot(v)}; }
    double round(double forward) const;
    void cut_waiting();
    void cut(const Triangle& triangle);
    void edge(const Vec3& from, const Vec3& to);
    void point(const Vec3& place);

    Vec3 hub_, axle_, forward_, up_;
    Vec3 axle_size_, forward_size_, up_size_;  ///< without signs
    double radius_, half_;
    double slack_;  ///< below what is found so far, so that what is as good is looked at too
    double share_;  ///< of a movement along the way asked for that goes along `up_`
    double lift_ = -1e300;
    Vec3 touch_{0, 0, 0};
    std::array<Waiting, 16> waiting_;
    std::size_t count_ = 0;
};

}  // namespace pivrak
