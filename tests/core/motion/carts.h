// What rolls, steers and is towed, along a clip.
#pragma once

#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>
#include <random>

#include "core/checks/travel/slip_check.h"
#include "core/motion/evaluator.h"
#include "core/rig/vehicles/towed_heading.h"
#include "tests/support/cart.h"

namespace pivrak {
namespace {

using nlohmann::json;

using test::Cart;
constexpr double radius = Cart::radius;

inline double turn_at(const Evaluator& evaluator, Pose& pose, PartId part, double frame) {
    evaluator.evaluate(frame, pose);
    return pose.channels[*evaluator.channel_slot({part, ChannelKind::Turn})];
}

struct Dragged {
    double drag_m = 0, way_m = 0;
};
template <class Down>
inline Dragged dragged(const Document& document, PartId wheel, Down down) {
    const auto evaluator = Evaluator::compile(document);
    EXPECT_TRUE(evaluator.ok());
    Pose pose = evaluator->make_pose();
    const std::size_t slot = *evaluator->part_slot(wheel);
    Dragged out;
    Vec3 drag(0, 0, 0);
    const int steps = 96 * 200;
    for (int i = 0; i < steps; ++i) {
        const double a = 96.0 * i / steps, b = 96.0 * (i + 1) / steps;
        evaluator->evaluate(a, pose);
        const Frame before = pose.world_from_part[slot];
        evaluator->evaluate(b, pose);
        const Frame after = pose.world_from_part[slot];
        // The place of the tyre that touches half way between the two moments.
        const Vec3 touch = radius * down(0.5 * (a + b));
        const Frame middle{before.rotation.slerp(0.5, after.rotation),
                           0.5 * (before.translation + after.translation)};
        const Vec3 own = middle.inverse().direction(touch);
        drag += after.point(own) - before.point(own);
        out.drag_m = std::max(out.drag_m, drag.norm());
        out.way_m += (after.translation - before.translation).norm();
    }
    return out;
}

}  // namespace
}  // namespace pivrak
