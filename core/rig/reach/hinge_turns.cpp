#include "core/rig/reach/hinge_turns.h"

#include <algorithm>

namespace pivrak {

std::optional<TwoTurns> two_turns(const Vec3& axis, const Vec3& near, const Vec3& far, const Vec3& goal,
                                  double bent) {
    const double a = near.norm(), b = far.norm(), size = a + b;
    if (std::min(a, b) < 1e-9 * size || goal.norm() < 1e-9 * size) return std::nullopt;
    const double cosine = (goal.squaredNorm() - a * a - b * b) / (2 * a * b);
    const double wanted = std::copysign(std::acos(std::clamp(cosine, -1.0, 1.0)), bent);
    const double second = wanted - turn_about(axis, near, far);
    const Vec3 reach = near + turned(axis, second, far);
    if (reach.norm() < 1e-9 * size) return std::nullopt;
    return TwoTurns{turn_about(axis, reach, goal), second, std::abs(cosine) <= 1};
}

std::optional<double> inside(double value, const Limits& limits, double to) {
    std::optional<double> nearest;
    for (const double whole : {0.0, 2 * pi, -2 * pi}) {
        const double at = value + whole;
        if (at < limits.min || at > limits.max) continue;
        if (!nearest || std::abs(at - to) < std::abs(*nearest - to)) nearest = at;
    }
    return nearest;
}

}  // namespace pivrak
