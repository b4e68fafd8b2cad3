// Coils are known by their wire, and keep its thickness when they are drawn out. Sizes are those they were
// meshed with.
#include "core/rig/springs/long_shape.h"

#include <gtest/gtest.h>

#include "tests/support/coils.h"
#include "tests/support/shapes.h"

namespace pivrak {
namespace {

using test::coil_mesh;
using test::CoilSizes;

TEST(LongShape, ACoilIsMeasuredAsItWasMadeWhereverItStands) {
    for (const Frame& frame : test::world_poses())
        for (const CoilSizes& sizes : {CoilSizes{}, CoilSizes{.turns = 2, .radius_m = 0.2, .length_m = 0.1},
                                       CoilSizes{.turns = 9.5, .wire_m = 0.003, .left = true},
                                       CoilSizes{.turns = 8, .ends_turns = 1.25}}) {
            SCOPED_TRACE(sizes.turns);
            const auto shape = long_shape(coil_mesh(sizes, frame));
            ASSERT_TRUE(shape.has_value());
            ASSERT_TRUE(shape->coil.has_value());
            EXPECT_NEAR(shape->coil->turns, sizes.turns, 0.05);
            EXPECT_NEAR(shape->coil->radius_m, sizes.radius_m, 0.01 * sizes.radius_m);
            EXPECT_NEAR(shape->coil->wire_m, sizes.wire_m, 0.12 * sizes.wire_m);
            EXPECT_NEAR(shape->length_m(), sizes.length_m, 0.02 * sizes.length_m);
            // A screw's hand is not changed by turning it about, nor by which end is called the first.
            EXPECT_EQ(shape->coil->left_handed, sizes.left);
            EXPECT_NEAR(std::abs(shape->way().dot(frame.axis(2))), 1, 1e-3);
        }
}

/// Rings of vertices stand across the wire: none of them may be squeezed.
TEST(LongShape, AWireKeepsItsThicknessAndItsEndsGoAllTheWay) {
    for (const double ends : {0.0, 1.0}) {
        const CoilSizes sizes{.turns = 7, .ends_turns = ends};
        const Mesh mesh = coil_mesh(sizes);
        const auto shape = long_shape(mesh);
        ASSERT_TRUE(shape && shape->coil);
        for (const double by : {-0.08, 0.05, 0.3}) {
            const Mesh drawn = drawn_out(mesh, *shape, by);
            double thinnest = 1e9, thickest = 0;
            const auto sides = static_cast<std::size_t>(sizes.sides);
            for (std::size_t i = 0; i < drawn.positions.size(); ++i) {
                const std::size_t opposite = i / sides * sides + (i % sides + sides / 2) % sides;
                const double across = (drawn.positions[i] - drawn.positions[opposite]).norm();
                thinnest = std::min(thinnest, across), thickest = std::max(thickest, across);
            }
            EXPECT_GT(thinnest, 0.97 * sizes.wire_m) << by;
            EXPECT_LT(thickest, 1.03 * sizes.wire_m) << by;
            const Bounds before = mesh_bounds(mesh), after = mesh_bounds(drawn);
            EXPECT_NEAR(after.size().z() - before.size().z(), by, 2e-3 * std::abs(by));
            EXPECT_NEAR(after.size().x(), before.size().x(), 1e-4);
        }
    }
    // Drawn out as if it were solid, a wire does get thicker: that is what the other way spares it.
    const CoilSizes sizes;
    const Mesh mesh = coil_mesh(sizes), drawn = drawn_out(mesh, *long_shape(mesh, true), 0.2);
    double thickest = 0;
    for (std::size_t i = 0; i + 6 < 12; ++i)
        thickest =
            std::max(thickest, double((drawn.positions[120 + i] - drawn.positions[120 + i + 6]).norm()));
    EXPECT_GT(thickest, 1.5 * sizes.wire_m);
}

TEST(LongShape, WhatIsNoWireIsDrawnOutEvenly) {
    const Mesh rod = test::box({-0.02, -0.03, 0}, {0.02, 0.03, 1.5});
    const auto shape = long_shape(rod);
    ASSERT_TRUE(shape.has_value());
    EXPECT_FALSE(shape->coil.has_value());
    EXPECT_NEAR(shape->length_m(), 1.5, 1e-6);
    const Bounds drawn = mesh_bounds(drawn_out(rod, *shape, -0.5));
    EXPECT_NEAR(drawn.size().z(), 1.0, 1e-6);
    EXPECT_NEAR(drawn.size().y(), 0.06, 1e-7);
    // A ring winds once and comes back to itself; two rings are no one wire.
    EXPECT_FALSE(long_shape(coil_mesh({.turns = 1, .length_m = 0.02}))->coil.has_value());
    Mesh two = test::joined(coil_mesh({}), coil_mesh({}, {Quat(1, 0, 0, 0), Vec3(0, 0, 1)}));
    EXPECT_FALSE(long_shape(two)->coil.has_value());
    EXPECT_FALSE(long_shape(Mesh{}).has_value());
}

}  // namespace
}  // namespace pivrak
