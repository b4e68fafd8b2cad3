#include "core/rig/paths/ride_frame.h"

#include <gtest/gtest.h>

#include <cmath>

#include "tests/support/shapes.h"

namespace pivrak {
namespace {

Path ring(double radius) {
    Path path;
    path.form = PathForm::Ellipse;
    path.points = {{{0, 0, 0}}, {{radius, 0, 0}}, {{0, radius, 0}}};
    return path;
}

Path hills() {
    Path path;
    path.form = PathForm::Smooth;
    path.points = {{{0, 0, 0}}, {{5, 2, 1}}, {{9, -1, 3}}, {{14, 3, -1}}, {{20, 0, 0}}};
    return path;
}

TEST(RideFrame, LeadsWithTheAxisAskedForAndKeepsTheOtherUp) {
    const auto curve = PathCurve::make(hills());
    for (const Frame& pose : test::world_poses())
        for (int lead = 0; lead < 3; ++lead)
            for (int up = 0; up < 3; ++up) {
                if (lead == up) continue;
                Ride ride;
                ride.axis = lead;
                ride.up_axis = up;
                ride.against = lead == 1;
                ride.upright = Upright::Path;
                const Frame frame = ride_frame({*curve, {}, pose}, ride, 7.3);
                const PathSample sample = curve->at(7.3);
                EXPECT_LT((frame.translation - pose.point(sample.place)).norm(), 1e-9);
                const Vec3 way = pose.direction(sample.tangent);
                EXPECT_NEAR(frame.axis(lead).dot(way), lead == 1 ? -1 : 1, 1e-9);
                EXPECT_NEAR(frame.axis(up).dot(pose.direction(sample.up)), 1, 1e-9);
                EXPECT_NEAR(frame.rotation.norm(), 1, 1e-12);
            }
}

// Common textbook figure: a bend of radius r taken at v needs a lean of atan(v^2 / (r g)).
TEST(RideFrame, LeansIntoABendAsItsSpeedAsks) {
    const auto curve = PathCurve::make(ring(50));
    Ride ride;
    ride.upright = Upright::Bank;
    ride.bank_speed_m_s = 15;
    const Frame frame = ride_frame({*curve, {}, {}}, ride, 12);
    const Vec3 inwards = -frame.translation.normalized();
    EXPECT_NEAR(std::atan2(frame.axis(2).dot(inwards), frame.axis(2).z()),
                std::atan(15.0 * 15 / (50 * 9.80665)), 1e-9);
    ride.bank_gain = 0;
    EXPECT_NEAR(ride_frame({*curve, {}, {}}, ride, 12).axis(2).z(), 1, 1e-9);
}

TEST(RideFrame, PlumbStaysLevelOnTheSteepestRope) {
    const auto curve = PathCurve::make(hills());
    Ride ride;
    ride.upright = Upright::Plumb;
    ride.height_m = -0.5;
    for (double s = 0; s < curve->length(); s += 0.5) {
        const Frame frame = ride_frame({*curve, {}, {}}, ride, s);
        EXPECT_NEAR(frame.axis(2).z(), 1, 1e-12);
        EXPECT_GT(frame.axis(0).dot(curve->at(s).tangent), 0);
        EXPECT_LT((frame.translation - curve->place(s) + Vec3(0, 0, 0.5)).norm(), 1e-9);
    }
}

TEST(RideFrame, BothPointsThatCarryItLieOnThePath) {
    const auto curve = PathCurve::make(hills());
    Ride ride;
    ride.front_m = 1.1;
    ride.rear_m = 0.6;
    for (double s = 2; s < 18; s += 0.7) {
        const Frame frame = ride_frame({*curve, {}, {}}, ride, s);
        for (const double at : {1.1, -0.6}) {
            const Vec3 place = frame.translation + at * frame.axis(0);
            EXPECT_LT((curve->place(curve->nearest(place)) - place).norm(), 1e-8) << s << " " << at;
        }
    }
}

TEST(RideFrame, CouplersKeepTheirStraightGapInBends) {
    for (const Path& path : {ring(8), hills()}) {
        const auto curve = PathCurve::make(path);
        Ride ride;
        ride.front_m = ride.rear_m = 0.8;
        ride.coupler_front_m = ride.coupler_rear_m = 1.2;
        ride.gap_m = 0.3;
        for (double s = 8; s < 18; s += 1.3) {
            const RiddenPath ridden{*curve, {}, {}};
            const Frame ahead = ride_frame(ridden, ride, s);
            const Vec3 coupler = coupler_place(ahead, ride, -1.2);
            const double along = coupled_along(ridden, ride, coupler, s - 2.7, s);
            const Frame behind = ride_frame(ridden, ride, along);
            EXPECT_NEAR((coupler_place(behind, ride, 1.2) - coupler).norm(), 0.3, 1e-9) << s;
            EXPECT_LT(along, s - 2);
        }
    }
}

TEST(RideFrame, RollsRunFromOneToTheNext) {
    const std::vector<PathRoll> rolls{{1, 0.2}, {3, 0.6}};
    EXPECT_NEAR(roll_at(rolls, 2, 10, false), 0.4, 1e-12);
    EXPECT_EQ(roll_at(rolls, 0, 10, false), 0.2);
    EXPECT_EQ(roll_at(rolls, 9, 10, false), 0.6);
    EXPECT_NEAR(roll_at(rolls, 7, 10, true), 0.4, 1e-12) << "half way round to the first one";
    EXPECT_NEAR(roll_at(rolls, -3, 10, true), 0.4, 1e-12);
    EXPECT_EQ(roll_at({}, 3, 10, true), 0);
    const auto curve = PathCurve::make(hills());
    Ride ride;
    const std::vector<PathRoll> right{{0, pi / 2}};
    const Frame rolled = ride_frame({*curve, right, {}}, ride, 4),
                level = ride_frame({*curve, {}, {}}, ride, 4);
    EXPECT_LT((rolled.axis(2) + level.axis(1)).norm(), 1e-9) << "to the right";
}

}  // namespace
}  // namespace pivrak
