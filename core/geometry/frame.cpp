#include "core/geometry/frame.h"

#include <cmath>

namespace pivrak {

Mat4 Frame::matrix() const {
    Mat4 m = Mat4::Identity();
    m.topLeftCorner<3, 3>() = size * rotation.toRotationMatrix();
    m.topRightCorner<3, 1>() = translation;
    return m;
}

double angle_between(const Quat& a, const Quat& b) {
    const Quat turn = a.conjugate() * b;
    return 2.0 * std::atan2(turn.vec().norm(), std::abs(turn.w()));
}

Quat turn_about_axis(int axis, double angle_rad) {
    const double half = 0.5 * angle_rad;
    Quat turn(std::cos(half), 0, 0, 0);
    turn.coeffs()[axis] = std::sin(half);
    return turn;
}

Frame aimed_frame(const Frame& start, int axis, const Vec3& direction, const Vec3& origin) {
    const Vec3 from = start.axis(axis);
    const Vec3 to = direction.normalized();
    Quat turn;
    if (from.dot(to) < -1.0 + 1e-12)
        turn = Quat(0, start.axis((axis + 1) % 3).x(), start.axis((axis + 1) % 3).y(),
                    start.axis((axis + 1) % 3).z());
    else
        turn = Quat::FromTwoVectors(from, to);
    return Frame{(turn * start.rotation).normalized(), origin};
}

Vec3 any_perpendicular(const Vec3& unit) {
    int smallest = 0;
    unit.cwiseAbs().minCoeff(&smallest);
    return unit.cross(Vec3::Unit(smallest)).normalized();
}

}  // namespace pivrak
