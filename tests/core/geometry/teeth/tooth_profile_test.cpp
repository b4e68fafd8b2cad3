#include "core/geometry/teeth/tooth_profile.h"

#include <gtest/gtest.h>

#include "tests/support/shapes.h"

namespace pivrak {
namespace {

Mesh gear_mesh(int teeth, double first_tooth_rad, int holes = 0) {
    GearShape data{teeth, 4, 20, 4};
    data.first_tooth_rad = first_tooth_rad;
    if (holes > 0) {
        data.hub_radius = 0.15 * 4 * teeth;
        data.web = 8;
        data.holes = holes;
        data.hole_radius = 0.05 * 4 * teeth;
    }
    return test::to_mesh(gear(data));
}

TEST(ToothProfile, FindsTheMiddleOfATooth) {
    for (const int teeth : {8, 17, 51, 120})
        for (const double share : {0.0, 0.2, 0.5, 0.9}) {
            const double pitch = 2 * pi / teeth, first = share * pitch;
            const ToothProfile profile = tooth_profile(gear_mesh(teeth, first), Frame{}, teeth);
            SCOPED_TRACE(teeth);
            EXPECT_GT(profile.strength, 0.5);
            EXPECT_NEAR(std::remainder(profile.phase_rad - first, pitch), 0, 1e-5 * pitch);
            EXPECT_NEAR(profile.tip_radius_m, 4e-3 * (teeth + 2) / 2, 1e-6)
                << "tip circle, ISO 53: module (z + 2) / 2";
        }
}

TEST(ToothProfile, IsMeasuredInTheFrameOfTheAxis) {
    const Frame axis_from_mesh{turn_about_axis(2, 0.3), Vec3(0, 0, 0)};
    const double pitch = 2 * pi / 17;
    const double plain = tooth_profile(gear_mesh(17, 0.05), Frame{}, 17).phase_rad;
    const double turned = tooth_profile(gear_mesh(17, 0.05), axis_from_mesh, 17).phase_rad;
    EXPECT_NEAR(std::remainder(turned - plain - 0.3, pitch), 0, 1e-6);
}

TEST(ToothProfile, AWrongCountIsWeak) {
    EXPECT_LT(tooth_profile(gear_mesh(17, 0), Frame{}, 18).strength, 0.1);
    EXPECT_LT(tooth_profile(gear_mesh(51, 0), Frame{}, 50).strength, 0.1);
}

}  // namespace
}  // namespace pivrak
