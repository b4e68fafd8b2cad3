// Riders, strings of carriages, rolling and steering as operations: what they measure, refuse and say.
#pragma once

#include <gtest/gtest.h>

#include <fmt/format.h>

#include <cmath>

#include "core/checks/findings.h"
#include "core/motion/evaluator.h"
#include "core/rig/driven_by.h"
#include "core/rig/paths/path_curve.h"
#include "core/rig/paths/ride_frame.h"
#include "tests/support/documents.h"

namespace pivrak {
namespace {

using nlohmann::json;
using test::named;

/// A carriage of 4 m by 1 m and a ring of radius 20 m.
inline Document yard() {
    Document d = empty_document();
    test::add_shaped(d, "car", test::box({-2, -0.5, 0}, {2, 0.5, 1}));
    return test::run(
        d, {{"op", "path.add"}, {"form", "circle"}, {"name", "ring"}, {"centre", {0, 0, 0}}, {"radius", 20}});
}

inline const Ride& ride_of(const Document& d, const std::string& part) {
    return *d.parts.find(named(d, part))->ride;
}

inline Frame world_of(const Document& d, const std::string& part, double frame = 0) {
    const auto evaluator = Evaluator::compile(d);
    EXPECT_TRUE(evaluator.ok());
    Pose pose = evaluator->make_pose();
    evaluator->evaluate(frame, pose);
    return pose.world_from_part[*evaluator->part_slot(named(d, part))];
}

inline bool a_place_exists(const RiddenPath& path, const Ride& ride, const Vec3& coupler, double ahead) {
    const auto off = [&](double along) {
        return (coupler_place(ride_frame(path, ride, along), ride, ride.coupler_front_m) - coupler).norm() -
               ride.gap_m;
    };
    double before = off(ahead - 9);
    for (double along = ahead - 9; along < ahead; along += 4e-3) {
        const double now = off(along);
        if (before >= 0 && now < 0) return true;
        before = now;
    }
    return false;
}

}  // namespace
}  // namespace pivrak
