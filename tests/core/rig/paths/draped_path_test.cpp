#include "core/rig/paths/draped_path.h"

#include <gtest/gtest.h>

#include <cmath>
#include <random>

#include "core/rig/rig_facts.h"
#include "tests/support/documents.h"

namespace pivrak {
namespace {

/// The spline's value at a knot: (before + 4 at + after) / 6.
Vec3 at_knot(const std::vector<Vec3>& c, std::size_t i, bool closed) {
    const std::size_t n = c.size();
    const Vec3 before = i > 0 ? c[i - 1] : closed ? c[n - 1] : Vec3(2 * c[0] - c[1]);
    const Vec3 after = i + 1 < n ? c[i + 1] : closed ? c[0] : Vec3(2 * c[n - 1] - c[n - 2]);
    return (before + 4 * c[i] + after) / 6;
}

TEST(ControlsThrough, TheSplineRunsThroughEveryPlace) {
    std::mt19937 random(2);
    std::uniform_real_distribution<double> share(-3, 3);
    for (const bool closed : {false, true})
        for (const std::size_t n : {3u, 4u, 7u, 50u}) {
            std::vector<Vec3> places;
            for (std::size_t i = 0; i < n; ++i)
                places.emplace_back(share(random), share(random), share(random));
            const auto controls = controls_through(places, closed);
            ASSERT_EQ(controls.size(), n);
            for (std::size_t i = 0; i < n; ++i)
                EXPECT_LT((at_knot(controls, i, closed) - places[i]).norm(), 1e-12)
                    << n << " " << closed << " " << i;
        }
    const std::vector<Vec3> two{{0, 0, 0}, {1, 2, 3}};
    EXPECT_EQ(controls_through(two, false), two);
}

Mesh strip(double length, double from_x = 0) {
    Mesh mesh;
    const int cells = 80;
    for (int i = 0; i <= cells; ++i)
        for (const double y : {-1.0, 1.0}) {
            const double x = from_x + length * i / cells;
            mesh.positions.push_back(Vec3(x, y, 0.2 * std::sin(4 * x)).cast<float>());
        }
    for (std::uint32_t i = 0; i < cells; ++i)
        mesh.indices.insert(mesh.indices.end(), {2 * i, 2 * i + 2, 2 * i + 3, 2 * i, 2 * i + 3, 2 * i + 1});
    return mesh;
}

Path line(double ease, double height = 0) {
    Path path;
    path.form = PathForm::Polyline;
    path.points = {{{0.5, 0, 0}}, {{9.5, 0, 0}}};
    path.drape = Drape{PartId{1}, height, ease};
    return path;
}

TEST(Drape, EasingFlattensBumpsAndTellsWhatItBuries) {
    const GroundMap ground(strip(10), Frame{});
    double last = 1e9;
    for (const double ease : {0.0, 0.5, 1.0, 3.0}) {
        const auto draped = drape(line(ease), Frame{}, ground);
        ASSERT_TRUE(draped.ok());
        double high = 0;
        for (double s = 0; s < draped->curve.length(); s += 0.05)
            high = std::max(high, draped->curve.place(s).z());
        EXPECT_LT(high, last) << ease;
        last = high;
        // What is flattened stands apart from the ground by as much.
        EXPECT_NEAR(draped->burial_m, 0.2 - high, 0.05) << ease;
        EXPECT_EQ(draped->missing_m, 0);
    }
    EXPECT_LT(last, 0.03) << "over three metres nothing of waves of 1.6 m is left";
}

TEST(Drape, ItsHeightIsAboveTheGroundAndItsFrameDoesNotMatter) {
    const Frame turned{turn_about_axis(2, 0.8), Vec3(3, -2, 1)};
    const GroundMap ground(strip(10), turned);
    const auto draped = drape(line(0.3, 0.4), turned, ground);
    ASSERT_TRUE(draped.ok());
    for (double s = 0.1; s < draped->curve.length(); s += 0.37) {
        const Vec3 at = turned.point(draped->curve.place(s));
        EXPECT_NEAR(at.z() - 0.4 - *ground.height(at.x(), at.y()), 0, 0.03);
    }
}

TEST(Drape, WhereThereIsNoGroundItKeepsItsHeight) {
    const GroundMap ground(strip(5), Frame{});
    const auto draped = drape(line(0.2), Frame{}, ground);
    EXPECT_NEAR(draped->missing_m, 4.5, 0.1);
    EXPECT_NEAR(draped->curve.place(draped->curve.length()).z(), 0, 1e-9);
}

TEST(RigFacts, WhatChangedIsMeasuredAnewAndNothingElse) {
    Document d = empty_document();
    const PartId ground = test::add_shaped(d, "ground", strip(10));
    Path path = line(0.2);
    path.id = d.new_id<PathId>();
    path.drape->ground = ground;
    d.paths.set(path);
    RigFacts facts;
    const auto once = *facts.path(d, path), again = *facts.path(d, path);
    EXPECT_EQ(once, again) << "the same measure, not an equal one";
    Part moved = *d.parts.find(ground);
    moved.parent_from_rest.translation.z() = 0.5;
    d.parts.set(moved);
    const auto higher = *facts.path(d, path);
    EXPECT_NE(once, higher);
    EXPECT_NEAR(higher->curve.place(1).z() - once->curve.place(1).z(), 0.5, 1e-6);
    path.drape->ground = test::add_part(d, "nothing");
    EXPECT_EQ(facts.path(d, path).error().code, "path.ground");
}

TEST(WheelSize, TheTreadIsWhereItIsWidest) {
    Document d = empty_document();
    // A wheel of radius 300 mm whose tread is 100 mm wide, on a hub that sticks out to one side, and a disc
    // that is fixed to it.
    Solid tyre = pivrak::shaft(300, -50, 50, 0, 128);
    tyre.lay_along(1);
    Solid hub = pivrak::shaft(80, -20, 260, 0, 32);
    hub.lay_along(1);
    const PartId wheel = test::add_shaped(d, "wheel", test::joined(test::to_mesh(tyre), test::to_mesh(hub)));
    test::make_hinge(d, wheel, 1);
    const PartId disc =
        test::add_shaped(d, "disc", test::to_mesh(pivrak::shaft(310, -5, 5, 0, 64).lay_along(1)), wheel,
                         {Quat(1, 0, 0, 0), Vec3(0, 0.2, 0)});
    const Tree tree(d);
    const WheelSize size = measure_wheel(wheel_shapes(d, tree, wheel));
    EXPECT_NEAR(size.radius_m, 0.31, 1e-6) << "what is fixed to it touches first";
    EXPECT_NEAR(size.half_width_m, 0.005, 1e-6);
    EXPECT_NEAR(std::abs(size.middle_m), 0.2, 1e-6);
    test::make_hinge(d, disc, 1);
    const WheelSize alone = measure_wheel(wheel_shapes(d, Tree(d), wheel));
    EXPECT_NEAR(alone.radius_m, 0.3, 1e-6) << "what turns by itself is no part of it";
    EXPECT_NEAR(alone.half_width_m, 0.05, 1e-6);
    EXPECT_EQ(measure_wheel({}).radius_m, 0);
}

}  // namespace
}  // namespace pivrak
