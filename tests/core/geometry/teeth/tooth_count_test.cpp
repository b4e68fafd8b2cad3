// Teeth counted on meshes whose vertices are a little off.
#include <gtest/gtest.h>

#include <random>

#include "core/geometry/mesh/solid.h"
#include "core/geometry/teeth/gear_shapes.h"
#include "core/geometry/teeth/tooth_count.h"

namespace pivrak {
namespace {

/// A module of 4 mm, vertices off by up to 2 % of it whatever the draw: a count is right, never half of it.
TEST(ToothCount, VerticesALittleOffChangeNoCount) {
    for (unsigned seed = 1; seed <= 10; ++seed) {
        std::mt19937 random(seed);
        const auto off = [&] { return static_cast<float>(8e-5 * (2 * random() * 0x1p-32 - 1)); };
        for (const int teeth : {12, 28, 56, 60, 72, 76, 84, 96, 100, 104, 144, 200}) {
            Mesh mesh = solid_mesh(gear({teeth, 4, 20, 3}), 1e-3);
            for (Vec3f& place : mesh.positions) {
                const float x = off(), y = off(), z = off();
                place += Vec3f(x, y, z);
            }
            const auto found = count_outside_teeth(mesh, Frame{});
            ASSERT_TRUE(found) << seed << ' ' << teeth;
            EXPECT_EQ(found->teeth, teeth) << seed;
        }
    }
}

}  // namespace
}  // namespace pivrak
