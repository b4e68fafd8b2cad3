#include "core/checks/pivots/swing_check.h"

#include <gtest/gtest.h>

#include "core/geometry/mesh/solid.h"
#include "tests/support/documents.h"

namespace pivrak {
namespace {

PartId hinge(Document& d, const Mesh& mesh, const Frame& rest) {
    const PartId id = test::add_shaped(d, "door", with_normals(mesh), {}, rest);
    test::make_hinge(d, id, 2);
    return id;
}

Mesh moved(const Mesh& mesh, const Frame& frame) {
    return with_normals(transformed(mesh, frame));
}

SwingCheck swing(const Document& d, PartId part, double from_deg, double to_deg) {
    const auto check = swing_check(d, part, {.from = from_deg * rad_per_deg, .to = to_deg * rad_per_deg});
    EXPECT_TRUE(check.ok()) << (check ? "" : check.error().message);
    return check ? *check : SwingCheck{};
}

/// Closed form: the far edge (1, 0.05) of a door reaches a wall at y = 0.5 when
/// sin(turn + atan 0.05) * hypot(1, 0.05) = 0.5.
TEST(SwingCheck, ADoorMeetsAWallWhereGeometrySays) {
    for (const Frame& pose : test::world_poses()) {
        Document d = empty_document();
        const PartId door = hinge(d, test::box({0, -0.05, 0}, {1, 0.05, 2}), pose);
        const PartId wall = test::add_shaped(d, "wall", moved(test::box({-2, 0.5, -1}, {2, 0.6, 3}), pose));
        const SwingCheck check = swing(d, door, -20, 90);
        const double expected = std::asin(0.5 / std::hypot(1, 0.05)) - std::atan(0.05);
        ASSERT_TRUE(check.above.has_value());
        EXPECT_NEAR(check.above->value * deg_per_rad, expected * deg_per_rad, 0.01);
        EXPECT_LE(check.above->value, expected + 1e-5) << "the last free value";
        EXPECT_EQ(check.above->neighbour, wall);
        EXPECT_NEAR(pose.inverse().point(check.above->place).y(), 0.5, 1e-3);
        EXPECT_FALSE(check.below.has_value());
        for (const auto& sample : check.curve) {
            // Distance of the nearest of the two far edges from the wall, or nothing once it is reached.
            const double far = std::hypot(1, 0.05) * std::sin(sample.value + std::atan(0.05)),
                         near = std::hypot(1, 0.05) * std::sin(sample.value - std::atan(0.05)),
                         hub = 0.05 * std::cos(sample.value);
            const double gap = 0.5 - std::max({far, near, hub});
            if (sample.value < expected) {
                EXPECT_NEAR(sample.clearance_m, gap, 1e-6) << sample.value * deg_per_rad;
            }
        }
    }
}

/// Closed form: two pegs of radius r at distances a and b from the axis, a turn t apart, are
/// sqrt(a² + b² - 2 a b cos t) - 2 r apart.
TEST(SwingCheck, PegsHaveTheClearanceOfTheirCircles) {
    Document d = empty_document();
    const auto peg = [](double x) {
        Mesh mesh = test::to_mesh(pivrak::shaft(20, -50, 50, 0, 360));
        for (Vec3f& p : mesh.positions) p.x() += static_cast<float>(x);
        return mesh;
    };
    const PartId arm = hinge(d, peg(0.5), {});
    test::add_shaped(d, "peg", moved(peg(0.47), {turn_about_axis(2, 60 * rad_per_deg), Vec3(0, 0, 0)}));
    const SwingCheck check = swing(d, arm, 0, 120);
    const double a = 0.5, b = 0.47, r = 0.02;
    for (const auto& sample : check.curve) {
        const double gap = std::sqrt(a * a + b * b - 2 * a * b * std::cos(sample.value - pi / 3)) - 2 * r;
        // 360 sides leave up to r (1 - cos 0.5°) at each peg.
        if (gap > 0) {
            EXPECT_NEAR(sample.clearance_m, gap, 2 * r * (1 - std::cos(pi / 360)) + 1e-7);
        }
    }
    const double contact = pi / 3 - std::acos((a * a + b * b - 4 * r * r) / (2 * a * b));
    ASSERT_TRUE(check.above.has_value());
    EXPECT_NEAR(check.above->value * deg_per_rad, contact * deg_per_rad, 0.01);
}

/// A fin so thin that steps of the curve jump over it.
TEST(SwingCheck, TheCurveReachesBothEndsOfItsRange) {
    Document d = empty_document();
    const PartId arm = hinge(d, test::box({0, -0.05, 0}, {1, 0.05, 0.1}), {});
    test::add_shaped(d, "post", test::box({-3, -3, 0}, {-2.9, -2.9, 1}));
    const SwingCheck check = swing(d, arm, -30, 75);
    ASSERT_FALSE(check.curve.empty());
    EXPECT_NEAR(check.curve.front().value * deg_per_rad, -30, 1e-9);
    EXPECT_NEAR(check.curve.back().value * deg_per_rad, 75, 1e-9);
}

TEST(SwingCheck, NothingIsMissedBetweenSteps) {
    Document d = empty_document();
    const PartId arm = hinge(d, test::box({0.4, -0.0005, 0}, {0.5, 0.0005, 0.1}), {});
    test::add_shaped(d, "fin",
                     moved(test::box({0.45, -0.0005, 0.05}, {0.6, 0.0005, 0.2}),
                           {turn_about_axis(2, 33.3 * rad_per_deg), Vec3(0, 0, 0)}));
    const SwingCheck check = swing(d, arm, -90, 90);
    ASSERT_TRUE(check.above.has_value());
    EXPECT_LT(check.above->value * deg_per_rad, 33.3);
    EXPECT_GT(check.above->value * deg_per_rad, 33.0);
    EXPECT_FALSE(check.below.has_value());
}

/// A pin that turns in its sleeve with half a millimetre all round must not slow the search, nor be a
/// contact.
TEST(SwingCheck, CloseFitsRoundTheAxisAreFree) {
    Document d = empty_document();
    const PartId door = hinge(d, test::box({0.02, -0.01, 0}, {1, 0.01, 1}), {});
    test::add_shaped(d, "pin", test::to_mesh(pivrak::shaft(8, 0, 1000, 0, 48)), door);
    test::add_shaped(d, "sleeve", test::to_mesh(extrude(circle(15, 48), {circle(8.5, 48)}, 0, 100)));
    const PartId stop = test::add_shaped(d, "stop", with_normals(test::box({-1, 0.3, 0}, {-0.5, 0.4, 1})));
    const SwingCheck check = swing(d, door, 0, 170);
    ASSERT_TRUE(check.above.has_value());
    EXPECT_EQ(check.above->neighbour, stop);
    EXPECT_TRUE(check.touching.empty());
}

TEST(SwingCheck, WhatTouchesAtRestIsListedAndLeftOut) {
    Document d = empty_document();
    const PartId door = hinge(d, test::box({0, -0.05, 0}, {1, 0.05, 2}), {});
    const PartId post = test::add_shaped(d, "post", with_normals(test::box({-0.1, -0.1, 0}, {0.02, 0.1, 2})));
    const SwingCheck check = swing(d, door, 0, 90);
    EXPECT_EQ(check.touching, std::vector<PartId>{post});
    EXPECT_FALSE(check.above.has_value());
}

/// A box with a rim and its lid, hinged along the rear edge at the rim's height. The hinge is along z here.
struct LidOnBox {
    Document d = empty_document();
    PartId box, lid;

    explicit LidOnBox(const Frame& pose) {
        // Along x from the hinge, the lid lies above y = 0; the box has walls of 20 mm, open above.
        Mesh walls = test::box({0, -0.5, 0}, {0.02, 0, 1});
        for (const Mesh& wall : {test::box({0.98, -0.5, 0}, {1, 0, 1}), test::box({0, -0.5, 0}, {1, 0, 0.02}),
                                 test::box({0, -0.5, 0.98}, {1, 0, 1})})
            walls = test::joined(walls, wall);
        box = test::add_shaped(d, "box", moved(walls, pose));
        lid = hinge(d, test::box({0, 0, 0}, {1, 0.03, 1}), pose);
    }
};

TEST(SwingCheck, ALidThatLiesOnItsBoxCannotGoDownAndGoesUpUntilItIsOver) {
    for (const Frame& pose : test::world_poses()) {
        const LidOnBox model(pose);
        const SwingCheck check = swing(model.d, model.lid, -30, 300);
        EXPECT_EQ(check.resting, std::vector<PartId>{model.box});
        EXPECT_TRUE(check.touching.empty());
        ASSERT_TRUE(check.below.has_value()) << "it turns into its box at once";
        EXPECT_EQ(check.below->value, 0);
        EXPECT_EQ(check.below->neighbour, model.box);
        // Opened by half a turn its rear side lies flat on the rear wall, x = 0; beyond, its upper edge goes
        // in.
        ASSERT_TRUE(check.above.has_value()) << "it meets the rear wall";
        EXPECT_NEAR(check.above->value * deg_per_rad, 180, 0.5);
        EXPECT_EQ(check.above->neighbour, model.box);
    }
}

TEST(SwingCheck, ALidThatHasItsLimitAtRestMeetsNothing) {
    const LidOnBox model(Frame{});
    const SwingCheck check = swing(model.d, model.lid, 0, 110);
    EXPECT_FALSE(check.below.has_value());
    EXPECT_FALSE(check.above.has_value());
}

/// A drawer on its floor goes along it freely, and not into it.
TEST(SwingCheck, WhatSlidesAlongWhatItLiesOnIsFree) {
    Document d = empty_document();
    const PartId drawer = test::add_shaped(d, "drawer", with_normals(test::box({0, 0, 0}, {1, 0.5, 0.2})));
    test::add_shaped(d, "floor", with_normals(test::box({-2, -1, -0.1}, {3, 2, 0})));
    const PartId stop = test::add_shaped(d, "stop", with_normals(test::box({1.5, 0, 0.05}, {1.6, 0.5, 0.1})));
    Part part = *d.parts.find(drawer);
    part.joint.kind = JointKind::Slide;
    part.joint.axis = 0;
    d.parts.set(part);
    auto check = swing_check(d, drawer, {.from = -1, .to = 1, .steps = 10, .tolerance = 1e-5});
    ASSERT_TRUE(check.ok());
    EXPECT_FALSE(check->below.has_value());
    ASSERT_TRUE(check->above.has_value());
    EXPECT_EQ(check->above->neighbour, stop);
    EXPECT_NEAR(check->above->value, 0.5, 2e-5);
    part.joint.axis = 2;
    d.parts.set(part);
    check = swing_check(d, drawer, {.from = -1, .to = 1, .steps = 10, .tolerance = 1e-5});
    ASSERT_TRUE(check.ok());
    ASSERT_TRUE(check->below.has_value());
    EXPECT_EQ(check->below->value, 0) << "down into the floor";
    EXPECT_FALSE(check->above.has_value());
}

TEST(SwingCheck, ASlideIsMeasuredInMetres) {
    Document d = empty_document();
    const PartId door = test::add_shaped(d, "sliding door", with_normals(test::box({0, 0, 0}, {1, 0.1, 2})),
                                         {}, test::world_poses()[1]);
    Part part = *d.parts.find(door);
    part.joint.kind = JointKind::Slide;
    part.joint.axis = 0;
    d.parts.set(part);
    test::add_shaped(d, "frame", moved(test::box({1.4, 0, 0}, {1.6, 0.1, 2}), test::world_poses()[1]));
    const auto check = swing_check(d, door, {.from = -0.2, .to = 1, .steps = 12, .tolerance = 1e-5});
    ASSERT_TRUE(check.ok());
    ASSERT_TRUE(check->above.has_value());
    EXPECT_NEAR(check->above->value, 0.4, 2e-5);
    EXPECT_NEAR(check->curve.front().clearance_m, 0.6, 1e-6);
}

TEST(SwingCheck, RefusesWhatCannotSwing) {
    Document d = empty_document();
    const PartId fixed = test::add_shaped(d, "fixed", with_normals(test::box({0, 0, 0}, {1, 1, 1})));
    EXPECT_EQ(swing_check(d, fixed, {.from = 0, .to = 1}).error().code, "swing.fixed");
    const PartId door = hinge(d, test::box({0, 0, 0}, {1, 1, 1}), {});
    EXPECT_EQ(swing_check(d, door, {.from = 1, .to = 0}).error().code, "swing.range");
    EXPECT_EQ(swing_check(d, door, {.from = 0, .to = std::nan("")}).error().code, "swing.range");
    const PartId bare = test::add_part(d, "bare");
    test::make_hinge(d, bare);
    EXPECT_EQ(swing_check(d, bare, {.from = 0, .to = 1}).error().code, "swing.no_shape");
    const Progress stop([](double, std::string_view) { return false; });
    EXPECT_EQ(swing_check(d, door, {.from = 0, .to = 1}, stop).error().code, "swing.cancelled");
}

}  // namespace
}  // namespace pivrak
