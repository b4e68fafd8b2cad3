#include "core/rig/linkages/closure_rows.h"

#include <algorithm>

namespace pivrak {
namespace {

/// The rotation's vector, axis times twice the sine of half its angle.
Vec3 small_turn(const Quat& turn) {
    return (turn.w() < 0 ? -2.0 : 2.0) * turn.vec();
}

/// Two bodies as they stand, and how fast a motion moves one of them.
struct Standing {
    Frame a, b;
    Vec3 axis_a, axis_b;
};

struct Speed {
    Vec3 turn{0, 0, 0}, shift{0, 0, 0};  ///< of the body's origin
};

Speed speed_of(const MotionTree& tree, const MotionFrames& frames, std::uint32_t motion, const Vec3& origin) {
    const Vec3& direction = frames.direction[motion];
    if (!tree.axes()[motion].turns) return {Vec3(0, 0, 0), direction};
    return {direction, direction.cross(origin - frames.point[motion])};
}

}  // namespace

void ClosureRows::fill(const MotionTree& tree, const MotionFrames& frames, double size_m, Eigen::Index first,
                       Eigen::VectorXd& rows, Eigen::MatrixXd& derivatives) const {
    const Standing now{frames.body(a), frames.body(b), frames.body(a).direction(axis_a),
                       frames.body(b).direction(axis_b)};
    const Vec3 apart = now.a.translation - now.b.translation;
    if (closes == Closes::Slider)
        rows.segment<3>(first) = apart.cross(now.axis_b);
    else if (closes == Closes::Turn)
        rows.segment<3>(first) = size_m * small_turn(now.a.rotation * (now.b.rotation * turn).conjugate());
    else
        rows.segment<3>(first) = apart;
    if (closes == Closes::Pin) rows.segment<3>(first + 3) = size_m * now.axis_a.cross(now.axis_b);
    for (const Mover& mover : movers) {
        const Speed speed =
            speed_of(tree, frames, mover.motion, mover.of_a ? now.a.translation : now.b.translation);
        const double sign = mover.of_a ? 1 : -1;
        auto column = derivatives.col(tree.axes()[mover.motion].column);
        if (closes == Closes::Slider) {
            column.segment<3>(first) += sign * speed.shift.cross(now.axis_b);
            if (!mover.of_a) column.segment<3>(first) += apart.cross(speed.turn.cross(now.axis_b));
        } else if (closes == Closes::Turn) {
            column.segment<3>(first) += sign * size_m * speed.turn;
        } else {
            column.segment<3>(first) += sign * speed.shift;
        }
        if (closes != Closes::Pin) continue;
        column.segment<3>(first + 3) +=
            size_m * (mover.of_a ? Vec3(speed.turn.cross(now.axis_a).cross(now.axis_b))
                                 : Vec3(now.axis_a.cross(speed.turn.cross(now.axis_b))));
    }
}

ClosureRows closure_rows(const Closure& closure, const MotionTree& tree, const MotionBody& a,
                         const MotionBody& b) {
    const auto moved_to = [](MotionBody body, const Vec3& place) {
        body.frame.translation = body.frame.point(place);
        return body;
    };
    ClosureRows rows{closure.closes,
                     moved_to(a, closure.place_a),
                     moved_to(b, closure.place_b),
                     closure.axis_a,
                     closure.axis_b,
                     closure.turn,
                     {}};
    const auto above_a = tree.above(a), above_b = tree.above(b);
    // What moves both alike changes nothing between them.
    const std::size_t common = static_cast<std::size_t>(
        std::mismatch(above_a.begin(), above_a.end(), above_b.begin(), above_b.end()).first -
        above_a.begin());
    for (std::size_t i = common; i < above_a.size(); ++i) rows.movers.push_back({above_a[i], true});
    for (std::size_t i = common; i < above_b.size(); ++i) rows.movers.push_back({above_b[i], false});
    return rows;
}

}  // namespace pivrak
