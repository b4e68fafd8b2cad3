#include "core/rig/gears/gear_pair.h"

#include <gtest/gtest.h>

#include "core/motion/evaluator.h"
#include "tests/support/documents.h"
#include "tests/support/interference.h"

namespace pivrak {
namespace {

constexpr double module_m = 0.008;

TEST(CentreDistance, IgnoresWhereAlongTheAxesThePivotsAre) {
    EXPECT_NEAR(centre_distance({Vec3(0, 0, 0), Vec3::UnitZ(), 17}, {Vec3(0.272, 0, 5), Vec3::UnitZ(), 51}),
                0.272, 1e-15);
}

// Source: ISO 54:1996, table of modules, series I and II (and 6.5) [mm].
TEST(StandardModule, IsEveryOneOfTheTableAndNothingElse) {
    for (const double module : {1.0,  1.125, 1.25, 1.375, 1.5,  1.75, 2.0,  2.25, 2.5,  2.75, 3.0,  3.5,
                                4.0,  4.5,   5.0,  5.5,   6.0,  6.5,  7.0,  8.0,  9.0,  10.0, 11.0, 12.0,
                                14.0, 16.0,  18.0, 20.0,  22.0, 25.0, 28.0, 32.0, 36.0, 40.0, 45.0, 50.0}) {
        EXPECT_DOUBLE_EQ(standard_module(1e-3 * module * 1.004), 1e-3 * module);
        EXPECT_DOUBLE_EQ(standard_module(1e-3 * module * 0.996), 1e-3 * module);
    }
    for (const double other : {2.1, 3.2, 4.2, 7.5, 13.0})
        EXPECT_DOUBLE_EQ(standard_module(1e-3 * other), 1e-3 * other);
}

/// Two gears as a modeller leaves them: teeth at any angle, pivots fitted, axes perhaps opposite.
struct Pair {
    Document document = empty_document();
    PartId driver, driven;
};

/// Flanks as fine as it takes for their facets not to cut into each other themselves.
Mesh fine_gear(const GearShape& shape, bool ring) {
    const Loop teeth = involute_outline(shape, 21, ring),
               rim = circle(shape.teeth * shape.module / 2 + 4 * shape.module, 96);
    return test::to_mesh(ring ? extrude(rim, {teeth}, -shape.width / 2, shape.width / 2)
                              : extrude(teeth, {}, -shape.width / 2, shape.width / 2));
}

/// With `ring` the driven one is a ring round the driver.
Pair placed_pair(int driver_teeth, int driven_teeth, double driver_phase, double driven_phase,
                 double direction_rad, bool opposite, const Frame& world, bool ring = false) {
    Pair pair;
    GearShape a{driver_teeth, 8, 40, 12}, b{driven_teeth, 8, 30, 12};
    a.first_tooth_rad = driver_phase;
    b.first_tooth_rad = driven_phase;
    // The demo's backlash is taken away: what is measured here is the phase.
    a.thinning = b.thinning = 0;
    const double distance = module_m * (ring ? driver_teeth - driven_teeth : driver_teeth + driven_teeth) / 2;
    const Frame at{Quat(1, 0, 0, 0), distance * Vec3(std::cos(direction_rad), std::sin(direction_rad), 0)};
    const Frame turned{turn_about_axis(0, opposite ? pi : 0), Vec3(0, 0, 0)};
    pair.driver = test::add_shaped(pair.document, "driver", fine_gear(a, false), {}, world);
    pair.driven = test::add_shaped(pair.document, "driven", fine_gear(b, ring), {}, world * at * turned);
    test::make_hinge(pair.document, pair.driver, 2);
    test::make_hinge(pair.document, pair.driven, 2);
    return pair;
}

/// How deep the rim of one gear stands in the other, by FCL's distance from each rim point inside it to its
/// surface. Rim points are taken half way along the width, where only flanks, tips and roots are near.
double deepest_point(const Mesh& rim, const Frame& world_from_rim, const test::ClosedBody& other,
                     const Frame& world_from_other, double reach, double from = 0) {
    const Frame other_from_rim = world_from_other.inverse() * world_from_rim;
    double deepest = 0;
    for (const Vec3f& v : rim.positions) {
        const Vec3 p = other_from_rim.point(Vec3(v.x(), v.y(), 0));
        const double radius = p.head<2>().norm();
        if (radius <= reach && radius >= from) deepest = std::max(deepest, other.depth(p));
    }
    return deepest;
}

/// The largest interference over one full turn of the driver, or of what is held, in modules.
double interference_modules(const Document& document, PartId driver, PartId driven, int steps,
                            double ring_tip_m = 0, PartId held = {}) {
    const auto evaluator = Evaluator::compile(document);
    EXPECT_TRUE(evaluator.ok());
    Pose pose = evaluator->make_pose();
    const auto mesh = [&](PartId id) { return document.shapes.find(document.parts.find(id)->shape)->mesh; };
    const auto a = mesh(driver), b = mesh(driven);
    const test::ClosedBody a_body(*a), b_body(*b);
    const double a_tip = 0.5 * mesh_bounds(*a).longest(), b_tip = 0.5 * mesh_bounds(*b).longest();
    double worst = 0;
    for (int i = 0; i < steps; ++i) {
        evaluator->evaluate(0, pose,
                            HeldChannel{*evaluator->channel_slot({held ? held : driver, ChannelKind::Turn}),
                                        2 * pi * i / steps});
        const Frame& fa = pose.world_from_part[*evaluator->part_slot(driver)];
        const Frame& fb = pose.world_from_part[*evaluator->part_slot(driven)];
        worst = std::max({worst, deepest_point(*a, fa, b_body, fb, b_tip * 1.01, ring_tip_m),
                          deepest_point(*b, fb, a_body, fa, a_tip * 1.01)});
    }
    return worst / module_m;
}

TEST(GearPair, MeshedTeethDoNotCutIntoEachOther) {
    struct Case {
        const char* name;
        int driver, driven;
        double driver_phase, driven_phase, direction;
        bool opposite;
        Frame world;
    };
    const auto poses = test::world_poses();
    for (const Case& c : {Case{"17 and 51, as the demo's", 17, 51, 0.083, 0.041, 0.21, false, poses[0]},
                          Case{"24 and 31, anywhere", 24, 31, 0.4, 1.3, -2.2, false, poses[1]},
                          Case{"axes against each other", 20, 33, 0.1, 0.7, 1.1, true, poses[2]}}) {
        SCOPED_TRACE(c.name);
        Pair pair =
            placed_pair(c.driver, c.driven, c.driver_phase, c.driven_phase, c.direction, c.opposite, c.world);
        const Document coupled =
            test::run(pair.document, {{"op", "coupling.gear"}, {"driver", "driver"}, {"driven", "driven"}});
        const GearPair& gear = *coupled.couplings.begin()->as<GearPair>();
        EXPECT_EQ(gear.driver_teeth, c.driver) << "counted on the shape";
        EXPECT_EQ(gear.driven_teeth, c.driven);
        EXPECT_TRUE(gear.phase_measured);
        EXPECT_LE(interference_modules(coupled, pair.driver, pair.driven, 13), 0.02);
    }
}

TEST(GearPair, AGearInsideARingDoesNotCutIntoIt) {
    const auto poses = test::world_poses();
    for (const auto& [pinion, ring, direction, pose] :
         {std::tuple{21, 60, 0.21, poses[0]}, std::tuple{24, 71, -2.0, poses[1]}}) {
        SCOPED_TRACE(ring);
        Pair pair = placed_pair(pinion, ring, 0.083, 0.041, direction, false, pose, true);
        const Document coupled =
            test::run(pair.document, {{"op", "coupling.gear"}, {"driver", "driver"}, {"driven", "driven"}});
        const GearPair& gear = *coupled.couplings.begin()->as<GearPair>();
        EXPECT_EQ(gear.kind, PairKind::Inside) << "told by the ring's teeth";
        EXPECT_EQ(gear.driven_teeth, ring);
        EXPECT_TRUE(gear.phase_measured);
        const double ring_tip = 0.5 * module_m * (ring - 2);
        EXPECT_LE(interference_modules(coupled, pair.driver, pair.driven, 7, 0.995 * ring_tip), 0.02);
        const GearPairMeasure m = measure_gear_pair(coupled, gear);
        EXPECT_NEAR(m.fitting_m, 0.5 * module_m * (ring - pinion), 1e-9) << "ISO 21771, inside pairs";
    }
}

TEST(GearPair, PlanetsCutNeitherIntoTheirSunNorIntoTheRing) {
    Document d = empty_document();
    const auto shape = [](int teeth, double phase) {
        GearShape g{teeth, 8, 30, 0};
        g.first_tooth_rad = phase;
        g.thinning = 0;
        return g;
    };
    const PartId sun = test::add_shaped(d, "sun", fine_gear(shape(18, 0.31), false)),
                 ring = test::add_shaped(d, "ring", fine_gear(shape(60, 0.02), true)),
                 carrier = test::add_part(d, "carrier");
    const PartId planet = test::add_shaped(d, "planet", fine_gear(shape(21, 0.17), false), carrier,
                                           {Quat(1, 0, 0, 0), Vec3(module_m * 39 / 2, 0, 0)});
    for (const PartId part : {sun, ring, carrier, planet}) test::make_hinge(d, part, 2);
    d = test::run(d, {{"op", "joint.set"}, {"parts", {"ring"}}, {"channel", "turn"}, {"locked", true}});
    const Document set = test::run(d, {{"op", "coupling.planets"},
                                       {"planets", {"planet"}},
                                       {"sun", "sun"},
                                       {"ring", "ring"},
                                       {"count", 3}});
    // One turn of the sun takes each planet over many teeth of the ring.
    const double ring_tip = 0.5 * module_m * 58;
    for (const char* name : {"planet", "planet 3"}) {
        const PartId one = test::named(set, name);
        EXPECT_LE(interference_modules(set, one, ring, 3, 0.995 * ring_tip, sun), 0.02) << name;
        EXPECT_LE(interference_modules(set, sun, one, 5), 0.02) << name;
    }
}

TEST(GearPair, TheShaftIsMovedToFit) {
    Pair pair = placed_pair(17, 51, 0.083, 0.041, 0.21, false, Frame{});
    Part driven = *pair.document.parts.find(pair.driven);
    driven.parent_from_rest.translation *= 1.03;
    pair.document.parts.set(driven);
    const Document off =
        test::run(pair.document, {{"op", "coupling.gear"}, {"driver", "driver"}, {"driven", "driven"}});
    const Document fitted =
        test::run(off, {{"op", "coupling.fit_centres"}, {"driver", "driver"}, {"driven", "driven"}});
    EXPECT_NEAR(measure_gear_pair(fitted, *fitted.couplings.begin()->as<GearPair>()).centre_distance_m, 0.272,
                1e-9)
        << "ISO 21771 and ISO 54: module 8 mm x 34";
    EXPECT_LE(interference_modules(fitted, pair.driver, pair.driven, 5), 0.02);
}

TEST(GearPair, TheMeasureOfInterferenceSeesAWrongPhase) {
    Pair pair = placed_pair(17, 51, 0.083, 0.041, 0.21, false, Frame{});
    const double right =
        test::run(pair.document, {{"op", "coupling.gear"}, {"driver", "driver"}, {"driven", "driven"}})
            .couplings.begin()
            ->as<GearPair>()
            ->phase;
    const Document wrong = test::run(
        pair.document,
        {{"op", "coupling.gear"}, {"driver", "driver"}, {"driven", "driven"}, {"phase", right + pi / 51}});
    EXPECT_GT(interference_modules(wrong, pair.driver, pair.driven, 7), 0.3);
}

TEST(GearPair, MeasuresModuleAndCentres) {
    Pair pair = placed_pair(17, 51, 0, 0, 0, false, Frame{});
    const GearPairMeasure m = measure_gear_pair(
        pair.document,
        {{pair.driver, ChannelKind::Turn}, {pair.driven, ChannelKind::Turn}, 17, 51, 0, false});
    EXPECT_NEAR(m.centre_distance_m, 0.272, 1e-12) << "ISO 21771: module (z1 + z2) / 2 = 8 mm x 34";
    EXPECT_NEAR(m.module_m, 0.008, 1e-12);
    EXPECT_NEAR(m.tip_module_m, 0.008, 1e-8);
    EXPECT_NEAR(m.axis_angle_rad, 0, 1e-12);
}

TEST(GearPair, TeethOnAPartFixedBelowTheHingeCount) {
    Pair pair = placed_pair(17, 51, 0.2, 0.1, 0.5, false, Frame{});
    Document d = pair.document;
    const PartId shaft = test::add_shaped(d, "shaft", test::to_mesh(pivrak::shaft(10, -60, 60, 1, 32)));
    test::make_hinge(d, shaft);
    Part gear = *d.parts.find(pair.driver);
    gear.joint = {};
    gear.parent = shaft;
    d.parts.set(gear);
    EXPECT_EQ(teeth_of(d, shaft), 17);
    const Document coupled =
        test::run(d, {{"op", "coupling.gear"}, {"driver", "shaft"}, {"driven", "driven"}});
    EXPECT_TRUE(coupled.couplings.begin()->as<GearPair>()->phase_measured);
}

TEST(GearPair, ShapesWithoutTeethLeaveThePhaseAtZeroAndSaySo) {
    Document d = empty_document();
    const PartId a = test::add_shaped(d, "a", test::to_mesh(pivrak::shaft(10, 0, 20, 1, 32)));
    const PartId b = test::add_shaped(d, "b", test::to_mesh(pivrak::shaft(30, 0, 20, 1, 32)), {},
                                      {Quat(1, 0, 0, 0), Vec3(0.04, 0, 0)});
    test::make_hinge(d, a);
    test::make_hinge(d, b);
    EXPECT_EQ(test::refusal(d, {{"op", "coupling.gear"}, {"driver", "a"}, {"driven", "b"}}).code,
              "gear.teeth");
    const Document coupled = test::run(d, {{"op", "coupling.gear"},
                                           {"driver", "a"},
                                           {"driven", "b"},
                                           {"driver_teeth", 10},
                                           {"driven_teeth", 30}});
    EXPECT_FALSE(coupled.couplings.begin()->as<GearPair>()->phase_measured);
    EXPECT_EQ(coupled.couplings.begin()->as<GearPair>()->phase, 0);
}

}  // namespace
}  // namespace pivrak
