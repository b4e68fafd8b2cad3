#include "core/checks/pivots/spin_check.h"

#include <gtest/gtest.h>

#include "tests/support/documents.h"

namespace pivrak {
namespace {

/// A round part whose pivot is off its own axis (z) by an offset and a tilt.
PartId add_round(Document& d, const Mesh& mesh, double offset, double tilt) {
    const PartId id = test::add_shaped(d, "round", mesh, {}, test::world_poses()[1]);
    Part part = *d.parts.find(id);
    part.part_from_shape = Frame{turn_about_axis(1, tilt), Vec3(offset, 0, 0)};
    d.parts.set(part);
    test::make_hinge(d, id, 2);
    return id;
}

Mesh plain_shaft() {
    return test::to_mesh(pivrak::shaft(40, -100, 100, 0, 48));
}

/// Source: ISO 1101, circular radial run-out: a cylinder whose axis is off the datum by e runs out by 2 e in
/// every section; tilted, it is off by e + z tan(tilt) at z along the axis.
TEST(SpinCheck, RunOutIsTwiceTheOffset) {
    for (const double offset : {0.0, 1e-5, 3e-4, 2e-3}) {
        Document d = empty_document();
        const auto check = spin_check(d, add_round(d, plain_shaft(), offset, 0));
        ASSERT_TRUE(check.ok()) << check.error().message;
        EXPECT_NEAR(check->run_out_m, 2 * offset, 2e-4 * offset + 2e-7);
        EXPECT_NEAR(check->offset_m, offset, 1e-7);
        EXPECT_NEAR(check->tilt_rad, 0, 1e-6);
        EXPECT_NEAR(check->radius_m, 0.04, 1e-6);
        EXPECT_EQ(check->is_true(), offset < 5e-5);
    }
}

TEST(SpinCheck, ATiltRunsOutMostAtTheEnds) {
    for (const double tilt_deg : {0.05, 0.5, 2.0}) {
        Document d = empty_document();
        const double tilt = tilt_deg * rad_per_deg;
        const auto check = spin_check(d, add_round(d, plain_shaft(), 2e-4, tilt));
        ASSERT_TRUE(check.ok()) << check.error().message;
        EXPECT_NEAR(check->tilt_rad * deg_per_rad, tilt_deg, 1e-4);
        const double end = 2 * (2e-4 + 0.1 * std::tan(tilt));
        EXPECT_NEAR(check->run_out_m, end, 0.03 * end + 2e-7);
    }
}

TEST(SpinCheck, GearsWheelsAndTyresAreMeasuredOnTheirRoundSurfaces) {
    for (const auto& [name, mesh] :
         {std::pair("gear", test::to_mesh(gear({31, 4, 20, 9, 30, 4, 8, 5, 9}))),
          std::pair("wheel", test::to_mesh(wheel({300, 200, 180, 30, 24, 15, 5})))})
        for (const double offset : {0.0, 5e-4}) {
            SCOPED_TRACE(name);
            Document d = empty_document();
            const auto own = round_axis(mesh);
            ASSERT_TRUE(own.ok()) << own.error().message;
            const PartId id = test::add_shaped(d, name, mesh);
            Part part = *d.parts.find(id);
            // Own axis to z, then off by the offset.
            part.part_from_shape = Frame{Quat::FromTwoVectors(own->direction, Vec3::UnitZ()), Vec3(0, 0, 0)};
            part.part_from_shape.translation =
                Vec3(offset, 0, 0) - part.part_from_shape.rotation * own->point;
            d.parts.set(part);
            test::make_hinge(d, id, 2);
            const auto check = spin_check(d, id);
            ASSERT_TRUE(check.ok()) << check.error().message;
            EXPECT_NEAR(check->run_out_m, 2 * offset, 0.02 * offset + 3e-6);
            EXPECT_GT(check->samples.size(), 20u);
        }
}

/// Blades on a hub with a bore; each tip is a straight edge of three points, so its ends stand a little
/// further out.
Mesh rotor(int blades) {
    Loop outline;
    for (int k = 0; k < blades; ++k) {
        const double a = 2 * pi * k / blades;
        const auto at = [&](double x, double y) {
            outline.push_back(Vec2(x * std::cos(a) - y * std::sin(a), x * std::sin(a) + y * std::cos(a)));
        };
        at(60, -4);
        at(100, -4);
        at(100, 0);
        at(100, 4);
        at(60, 4);
    }
    return test::to_mesh(extrude(outline, {circle(40, 60)}, -5, 5));
}

TEST(SpinCheck, BladesWithAnExactPivotRunTrue) {
    for (const int blades : {3, 4, 5}) {
        Document d = empty_document();
        const PartId id = add_round(d, rotor(blades), 0, 0);
        const auto check = spin_check(d, id);
        ASSERT_TRUE(check.ok()) << check.error().message;
        EXPECT_LT(check->run_out_m, 1e-6) << blades;
        EXPECT_TRUE(check->is_true());
        Document off = empty_document();
        EXPECT_NEAR(spin_check(off, add_round(off, rotor(blades), 3e-4, 0))->run_out_m, 6e-4, 2e-5) << blades;
    }
}

TEST(SpinCheck, CentringThePivotMakesItTrue) {
    Document d = empty_document();
    const PartId id = add_round(d, plain_shaft(), 2e-3, 0.01);
    EXPECT_FALSE(spin_check(d, id)->is_true());
    const Document after = test::run(d, {{"op", "pivot.fit_cylinder"}, {"parts", {id.value}}, {"axis", "z"}});
    EXPECT_TRUE(spin_check(after, id)->is_true());
}

TEST(SpinCheck, RefusesWhatIsNotRound) {
    Document d = empty_document();
    const PartId box = test::add_shaped(d, "box", with_normals(test::box({0, 0, 0}, {1, 2, 3})));
    EXPECT_EQ(spin_check(d, box).error().code, "fit.not_round");
    EXPECT_EQ(spin_check(d, test::add_part(d, "datum")).error().code, "part.no_shape");
}

}  // namespace
}  // namespace pivrak
