#include "core/geometry/teeth/crossed_gear_shapes.h"

#include <gtest/gtest.h>

#include <cmath>

#include "core/geometry/mesh/mesh_edit.h"
#include "core/geometry/mesh/mesh_faults.h"
#include "core/geometry/teeth/tooth_profile.h"
#include "tests/support/shapes.h"

namespace pivrak {
namespace {

double volume_mm3(const Solid& solid) {
    return enclosed_volume(test::to_mesh(solid)) * 1e9;
}

TEST(CrossedGearShapes, AreClosedAndFacesLookOut) {
    const WormShape right{2, 4, 22, 60}, left{3, 4, 30, 60, true};
    const BevelShape bevel{18, 27, 4, 15};
    GearShape gear{24, 4, 20, 6};
    for (const Solid& solid : {rack({12, 4, 20}), worm(right), worm(left), bevel_gear(bevel),
                               helical_gear(gear, 20 * rad_per_deg), helical_gear(gear, -20 * rad_per_deg)}) {
        EXPECT_TRUE(mesh_faults(test::to_mesh(solid)).clean());
        EXPECT_GT(volume_mm3(solid), 0);
    }
}

TEST(CrossedGearShapes, RackHasThePitchAndHeightOfTheBasicRack) {
    const Mesh mesh = test::to_mesh(rack({10, 5, 20, 8, 0}));
    const Bounds bounds = mesh_bounds(mesh);
    EXPECT_NEAR(bounds.size().x(), 10 * pi * 5e-3, 1e-6) << "ten pitches of pi m";
    // Source: ISO 53, addendum m, dedendum 1.25 m; and the base below.
    EXPECT_NEAR(bounds.max.z(), 5e-3, 1e-6);
    EXPECT_NEAR(bounds.min.z(), -(1.25 * 5 + 8) * 1e-3, 1e-6);
    // Half of the pitch line is tooth: the volume above the roots is that of teeth half a pitch wide there.
    const double tooth = 2.25 * 5 * (pi * 5 / 2 + std::tan(20 * rad_per_deg) * (1.25 - 1) * 5);
    EXPECT_NEAR(volume_mm3(rack({10, 5, 20, 8, 0})), 20 * (10 * pi * 5 * 8 + 10 * tooth), 1);
}

TEST(CrossedGearShapes, WormAdvancesByItsLead) {
    const WormShape shape{2, 4, 22, 90, false, 0};
    const Mesh mesh = test::to_mesh(worm(shape));
    EXPECT_NEAR(tip_radius(mesh, {}), 0.026, 1e-6) << "a module above the pitch cylinder";
    const double pitch = pi * 4e-3, lead = 2 * pitch;
    // The middle of a thread stands above x at z = 0, and half a turn on by half a lead, that is a pitch.
    const ToothProfile here = thread_profile(mesh, {}, lead, 2);
    EXPECT_GT(here.strength, 0.5);
    // Its ends cut a thread unevenly: two thousandths of a pitch.
    EXPECT_NEAR(std::remainder(here.phase_rad, 2 * pi), 0, 0.012);
    const ToothProfile quarter = thread_profile(mesh, {turn_about_axis(2, pi / 4), Vec3(0, 0, 0)}, lead, 2);
    // Turned by 45 degrees, threads of that lead stand an eighth of it lower: a quarter of the pitch.
    EXPECT_NEAR(std::remainder(quarter.phase_rad + pi / 2, 2 * pi), 0, 0.012);
}

TEST(CrossedGearShapes, ThreadsAreCountedWithTheirHand) {
    for (const int starts : {1, 2, 4})
        for (const bool left : {false, true}) {
            SCOPED_TRACE(testing::Message() << starts << left);
            const Mesh mesh = test::to_mesh(worm({starts, 4, 30, 90, left}));
            const ThreadCount found = count_threads(mesh, {}, pi * 4e-3, 6);
            EXPECT_EQ(found.starts, left ? -starts : starts);
            EXPECT_GT(found.strength, 0.5);
        }
    EXPECT_LT(count_threads(test::to_mesh(shaft(20, -40, 40, 2, 48)), {}, pi * 4e-3, 6).strength, 0.3);
}

TEST(CrossedGearShapes, BevelConesAreThoseOfTheStandard) {
    // Source: ISO 23509:2016, at right angles tan d1 = z1 / z2; cones add up to the shafts' angle.
    EXPECT_NEAR((BevelShape{18, 27, 4, 15}).pitch_cone_rad(), std::atan(18.0 / 27), 1e-12);
    for (const double angle : {40 * rad_per_deg, pi / 2, 130 * rad_per_deg}) {
        const BevelShape a{16, 31, 4, 10, angle}, b{31, 16, 4, 10, angle};
        EXPECT_NEAR(a.pitch_cone_rad() + b.pitch_cone_rad(), angle, 1e-12);
        EXPECT_NEAR(a.outer_cone_distance(), b.outer_cone_distance(), 1e-9) << "one apex, one outer sphere";
    }
}

TEST(CrossedGearShapes, BevelTeethPointToTheApex) {
    const BevelShape shape{20, 20, 5, 20, pi / 2, 0};
    const Mesh mesh = test::to_mesh(bevel_gear(shape));
    const double along = 1e-3 * shape.outer_cone_distance() * std::cos(shape.pitch_cone_rad());
    // In the apex's frame every corner lies on one of two spheres.
    const Frame apex_from_mesh{Quat::Identity(), Vec3(0, 0, along)};
    for (const Vec3f& p : mesh.positions) {
        const double distance = 1e3 * apex_from_mesh.point(p.cast<double>()).norm();
        const double near = shape.outer_cone_distance() - 20, far = shape.outer_cone_distance();
        EXPECT_LT(std::min(std::abs(distance - near), std::abs(distance - far)), 1e-3);
    }
    const ToothProfile profile = cone_tooth_profile(mesh, apex_from_mesh, 20, shape.pitch_cone_rad());
    EXPECT_GT(profile.strength, 0.3);
    EXPECT_NEAR(std::remainder(profile.phase_rad, 2 * pi / 20), 0, 1e-5) << "a tooth above x";
}

TEST(CrossedGearShapes, HelicalTeethWindByTheirAngle) {
    GearShape shape{30, 4, 24, 6};
    shape.thinning = 0;
    const double helix = 15 * rad_per_deg;
    const Mesh mesh = test::to_mesh(helical_gear(shape, helix));
    // At the pitch circle of 60 mm an end stands tan(15) x 12 mm round from the middle.
    const double turn = std::tan(helix) * 12 / 60;
    double best = 1e300;
    for (const Vec3f& v : mesh.positions) {
        const Vec3 p = v.cast<double>();
        if (p.z() < 0.0119 || p.head<2>().norm() < 0.0639) continue;
        // Tips at that end: the middle of the tooth, and its corners evenly beside it.
        best = std::min(best, std::abs(std::remainder(std::atan2(p.y(), p.x()) - turn, 2 * pi / 30)));
    }
    EXPECT_LT(best, 1e-5);
    EXPECT_NEAR(std::remainder(tooth_profile(mesh, {}, 30).phase_rad, 2 * pi / 30), 0, 1e-4)
        << "in the middle it stands where a spur gear's would";
}

TEST(ToothProfileOfARack, TellsWhereItsTeethStand) {
    const double pitch = pi * 4e-3;
    const Mesh mesh = test::to_mesh(rack({15, 4, 20}));
    // The rack's teeth point along z; the frame asks for y.
    for (const double off : {0.0, 0.0021, -0.005}) {
        const Frame rack_from_mesh{turn_about_axis(0, -pi / 2), Vec3(off, 0, 0)};
        const ToothProfile profile = rack_tooth_profile(mesh, rack_from_mesh, pitch);
        EXPECT_GT(profile.strength, 0.3);
        EXPECT_NEAR(std::remainder(profile.phase_rad - 2 * pi * off / pitch, 2 * pi), 0, 1e-4);
    }
}

}  // namespace
}  // namespace pivrak
