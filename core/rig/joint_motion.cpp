#include "core/rig/joint_motion.h"

#include <algorithm>
#include <cmath>

namespace pivrak {
namespace {

double nearest_turn(double angle, double near) {
    return near + std::remainder(angle - near, 2 * pi);
}

}  // namespace

Vec3 turns_from_rotation(const Quat& rotation, const Vec3& near) {
    const Mat3 m = rotation.toRotationMatrix();
    const double sine = std::clamp(-m(2, 0), -1.0, 1.0);
    if (std::abs(sine) > 1 - 1e-12) {
        // x and z turn about one line: all of it goes to z.
        const double x = near.x(), quarter = std::copysign(pi / 2, sine);
        const Mat3 rest =
            m * turn_about_axis(0, -x).toRotationMatrix() * turn_about_axis(1, -quarter).toRotationMatrix();
        return {x, nearest_turn(quarter, near.y()),
                nearest_turn(std::atan2(rest(1, 0), rest(0, 0)), near.z())};
    }
    const double y = std::asin(sine);
    const auto answer = [&](double cosine_sign, double y_angle) {
        return Vec3(nearest_turn(std::atan2(cosine_sign * m(2, 1), cosine_sign * m(2, 2)), near.x()),
                    nearest_turn(y_angle, near.y()),
                    nearest_turn(std::atan2(cosine_sign * m(1, 0), cosine_sign * m(0, 0)), near.z()));
    };
    const Vec3 first = answer(1, y), second = answer(-1, pi - y);
    return (first - near).squaredNorm() <= (second - near).squaredNorm() ? first : second;
}

}  // namespace pivrak
