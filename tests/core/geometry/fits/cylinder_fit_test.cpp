#include "core/geometry/fits/cylinder_fit.h"

#include <gtest/gtest.h>

#include <array>
#include <map>
#include <random>

#include "core/geometry/mesh/topology.h"
#include "tests/support/minpack_cylinder.h"
#include "tests/support/shapes.h"

namespace pivrak {
namespace {

/// Distance of a point from a line.
double off_axis(const CylinderFit& fit, const Vec3& p) {
    const Vec3 from = p - fit.axis_point;
    return (from - from.dot(fit.axis_direction) * fit.axis_direction).norm();
}

double tilt(const CylinderFit& fit, const Vec3& axis) {
    return std::atan2(fit.axis_direction.cross(axis).norm(), std::abs(fit.axis_direction.dot(axis)));
}

Solid stepped_shaft() {
    return revolve({{0, -200}, {27, -200}, {30, -197}, {30, -50}, {38, -46}, {38, 160}, {0, 160}}, 40);
}

Solid gear_with_holes() {
    GearShape data{51, 8, 80, 42, 78, 14, 30, 6, 34};
    data.first_tooth_rad = 0.041;
    return gear(data);
}

Solid keyed_disc() {
    // A round disc with a flat cut off one side: not symmetric about its axis.
    Loop loop;
    for (int i = 0; i < 100; ++i) {
        const double a = 0.5 + (2 * pi - 1.0) * i / 99;
        loop.push_back(60 * Vec2(std::cos(a), std::sin(a)));
    }
    return extrude(loop, {circle(20, 48)}, -15, 15);
}

struct Case {
    const char* name;
    Solid solid;
    double radius_mm;
};

std::vector<Case> round_cases() {
    return {{"plain cylinder", shaft(25, -40, 40, 1, 32), 25},
            {"thin disc", shaft(200, -2, 2, 0.2, 64), 200},
            {"stepped shaft", stepped_shaft(), 38},
            {"pinion", gear({17, 8, 92, 30}), 30},
            {"gear with hub and holes", gear_with_holes(), 0},
            {"disc with a flat", keyed_disc(), 60},
            {"hexagon nut", extrude(circle(20, 6), {circle(10, 36)}, 0, 16), 0}};
}

TEST(FitCylinder, FindsTheAxisOfRoundPartsInAnyPose) {
    for (const Case& c : round_cases())
        for (const Frame& world : test::world_poses()) {
            SCOPED_TRACE(c.name);
            const Frame placed{world.rotation, 0.1 * world.translation};
            const auto fit = fit_cylinder(transformed(test::to_mesh(c.solid), placed));
            ASSERT_TRUE(fit.ok()) << fit.error().message;
            EXPECT_LT(tilt(*fit, placed.axis(2)), 0.001 * rad_per_deg);
            EXPECT_LT(off_axis(*fit, placed.translation), 2e-6) << "2 micrometres";
            EXPECT_LT(fit->residual_m, 1e-6);
            if (c.radius_mm > 0) {
                EXPECT_NEAR(fit->radius_m, c.radius_mm * 1e-3, 2e-6);
            }
        }
}

TEST(FitCylinder, ReportsLengthAndOuterRadius) {
    const auto fit = fit_cylinder(test::to_mesh(stepped_shaft()));
    ASSERT_TRUE(fit.ok());
    EXPECT_NEAR(fit->length_m, 0.360, 1e-6);
    EXPECT_NEAR(fit->outer_radius_m, 0.038, 1e-6);
}

TEST(FitCylinder, DirectionSignIsDecided) {
    const auto fit = fit_cylinder(test::to_mesh(shaft(25, -40, 40, 1, 32).turn(0, pi)));
    ASSERT_TRUE(fit.ok());
    EXPECT_GT(fit->axis_direction.z(), 0.999);
}

TEST(FitCylinder, KeepsItsAxisUnderNoise) {
    // Noise of known size on every vertex: the axis of n vertices is found to about noise / sqrt(n).
    Mesh mesh = test::to_mesh(shaft(50, -100, 100, 0, 128));
    std::mt19937 random(3);
    std::normal_distribution<float> noise(0, 2e-5f);
    std::map<std::array<float, 3>, Vec3f> moved;
    for (Vec3f& p : mesh.positions) {
        const auto [known, added] = moved.try_emplace({p.x(), p.y(), p.z()}, Vec3f::Zero());
        // One after the other: in which order arguments are worked out is the compiler's.
        for (int k = 0; added && k < 3; ++k) known->second[k] = p[k] + noise(random);
        p = known->second;
    }
    const auto fit = fit_cylinder(mesh);
    ASSERT_TRUE(fit.ok()) << fit.error().message;
    EXPECT_LT(off_axis(*fit, Vec3::Zero()), 1e-5);
    EXPECT_LT(tilt(*fit, Vec3::UnitZ()), 0.02 * rad_per_deg);
    EXPECT_GT(fit->residual_m, 1e-6);
    EXPECT_LT(fit->residual_m, 6e-5);
    // Another's solver on every corner of the side: none is left out because noise turned its face.
    std::vector<Vec3> places;
    const auto normals = face_normals(mesh);
    for (std::size_t t = 0; t < mesh.triangle_count(); ++t)
        for (int k = 0; k < 3 && std::abs(normals[t].z()) < 0.5; ++k) places.push_back(mesh.corner(t, k));
    const auto theirs = test::minpack_cylinder(places, Vec3(0.001, 0.002, 0), Vec3(0.02, -0.01, 1), 0.048);
    EXPECT_NEAR(fit->radius_m, theirs.radius_m, 1e-7);
    EXPECT_NEAR(fit->residual_m, theirs.residual_m, 0.01 * theirs.residual_m);
    EXPECT_LT(tilt(*fit, theirs.direction), 2e-6);
    EXPECT_LT(off_axis(*fit, theirs.point), 2e-7);
}

TEST(FitCylinder, RefusesWhatIsNotRound) {
    struct Refused {
        const char* name;
        Mesh mesh;
        const char* code;
    };
    Mesh flat;
    flat.positions = {{0, 0, 0}, {1, 0, 0}, {0, 1, 0}};
    flat.indices = {0, 1, 2};
    Mesh degenerate = flat;
    degenerate.positions[2] = {2, 0, 0};
    for (const Refused& c :
         {Refused{"cube", test::box({0, 0, 0}, {1, 1, 1}), "fit.not_round"},
          Refused{"long box", test::box({0, 0, 0}, {4, 1, 0.5}), "fit.not_round"},
          Refused{"one triangle", flat, "fit.not_round"},
          Refused{"triangle without area", degenerate, "fit.empty"}, Refused{"nothing", Mesh{}, "fit.empty"},
          Refused{"plate with bolt holes",
                  test::to_mesh(extrude(rectangle(400, 300, 10), hole_ring(4, 120, 8, 24), 0, 20)),
                  "fit.not_round"}}) {
        SCOPED_TRACE(c.name);
        const auto fit = fit_cylinder(c.mesh);
        ASSERT_FALSE(fit.ok());
        EXPECT_EQ(fit.error().code, c.code);
    }
}

}  // namespace
}  // namespace pivrak
