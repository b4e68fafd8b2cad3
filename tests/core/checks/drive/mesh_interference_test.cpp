#include "core/checks/drive/mesh_interference.h"

#include <gtest/gtest.h>

#include "core/geometry/near/surface_finder.h"
#include "tests/support/documents.h"
#include "tests/support/encloses.h"

namespace pivrak {
namespace {

using test::run;

/// Two gears of module 8 as stand-ins, their shafts apart by that or by more.
Document two_gears(double more_m, double backlash_pitches = 0) {
    Document d = empty_document();
    for (const auto& [name, teeth, x] : {std::tuple("a", 17, 0.0), std::tuple("b", 31, 0.192 + more_m)})
        d = run(d, {{"op", "stand_in.add"},
                    {"kind", "gear"},
                    {"name", name},
                    {"teeth", teeth},
                    {"module", 0.008},
                    {"width", 0.05},
                    {"axis", "y"},
                    {"at", {x, 0, 0.5}}});
    d = run(d, {{"op", "joint.set"}, {"parts", {"a", "b"}}, {"kind", "hinge"}, {"axis", "x"}});
    d = run(d, {{"op", "coupling.gear"}, {"driver", "a"}, {"driven", "b"}});
    Coupling coupling = *d.couplings.begin();
    std::get<GearPair>(coupling.what).phase += backlash_pitches * 2 * pi / 31;
    d.couplings.set(coupling);
    return d;
}

double deepest(const Document& d) {
    const auto found = mesh_interference(d, *d.couplings.begin()->as<GearPair>(), 34);
    EXPECT_TRUE(found.ok());
    return found ? found->deepest_m : -1;
}

TEST(MeshInterference, IsNoneBetweenFlanksThatInterleave) {
    // Source: ISO 21771, involutes at their standard distance touch and do not cut; facets may by a little.
    EXPECT_LT(deepest(two_gears(0)), 0.02 * 0.008);
}

TEST(MeshInterference, ShowsShaftsThatAreTooNear) {
    // Pushed in by half a module, flanks come in by about 0.5 m sin 20 deg on each side.
    const double in = deepest(two_gears(-0.004));
    EXPECT_GT(in, 0.5 * 0.004 * std::sin(20 * rad_per_deg));
    EXPECT_LT(in, 0.004);
}

TEST(MeshInterference, ShowsATurnedPhase) {
    // A tenth of a pitch along the pitch circle, across the flank at 20 degrees.
    const double pitch = pi * 0.008;
    EXPECT_NEAR(deepest(two_gears(0, 0.1)), 0.1 * pitch * std::cos(20 * rad_per_deg), 0.25e-3);
}

TEST(MeshInterference, TellsWhereAndWhen) {
    const Document d = two_gears(0, 0.2);
    const auto found = mesh_interference(d, *d.couplings.begin()->as<GearPair>(), 17);
    ASSERT_TRUE(found.ok());
    EXPECT_EQ(found->looked, 17u);
    // Near the pitch point.
    EXPECT_LT((found->place - Vec3(0.068, found->place.y(), 0.5)).norm(), 0.02);
}

/// Every corner of one shape and every middle of its edges against all triangles of the other, with nothing
/// left out.
double deepest_of_all(const Mesh& points, const Frame& solid_from_points, const Mesh& solid) {
    std::vector<Vec3> samples;
    for (std::size_t i = 0; i < points.indices.size(); ++i) {
        const Vec3 a = points.positions[points.indices[i]].cast<double>(),
                   b = points.positions[points.indices[i % 3 == 2 ? i - 2 : i + 1]].cast<double>();
        samples.push_back(a);
        samples.push_back((a + b) / 2);
    }
    double deepest = 0;
    for (const Vec3& sample : samples) {
        const Vec3 place = solid_from_points.point(sample);
        double nearest = 1e300;
        for (std::size_t t = 0; t < solid.triangle_count(); ++t)
            nearest = std::min(nearest, (nearest_on_triangle(place, solid.corner(t, 0), solid.corner(t, 1),
                                                             solid.corner(t, 2)) -
                                         place)
                                            .norm());
        if (nearest > deepest && encloses(solid, place)) deepest = nearest;
    }
    return deepest;
}

/// A pinion inside a ring, pushed outwards by half a millimetre: most of it lies in the ring's box, and free
/// of it.
TEST(MeshInterference, InsideARingIsWhatALookAtEverythingFinds) {
    Document d = empty_document();
    d = run(d, {{"op", "stand_in.add"},
                {"kind", "gear"},
                {"name", "pinion"},
                {"teeth", 14},
                {"module", 0.004},
                {"width", 0.02},
                {"axis", "z"},
                {"at", {0.0325, 0, 0}}});
    d = run(d, {{"op", "stand_in.add"},
                {"kind", "ring gear"},
                {"name", "ring"},
                {"teeth", 30},
                {"module", 0.004},
                {"diameter", 0.15},
                {"width", 0.02},
                {"axis", "z"},
                {"at", {0, 0, 0}}});
    d = run(d, {{"op", "joint.set"}, {"parts", {"pinion", "ring"}}, {"kind", "hinge"}, {"axis", "x"}});
    d = run(d, {{"op", "coupling.gear"}, {"driver", "pinion"}, {"driven", "ring"}});
    const GearPair& pair = *d.couplings.begin()->as<GearPair>();
    const PartId pinion = test::named(d, "pinion"), ring = test::named(d, "ring");
    const auto mesh = [&](PartId id) { return *d.shapes.find(d.parts.find(id)->shape)->mesh; };
    const auto world = [&](PartId id, double turn) {
        return world_from_rest(d, id) *
               Frame{turn_about_axis(d.parts.find(id)->joint.axis, turn), Vec3(0, 0, 0)} *
               d.parts.find(id)->part_from_shape;
    };
    constexpr int steps = 3;
    double expected = 0;
    const double ratio = 14.0 / 30;
    for (int i = 0; i < steps; ++i) {
        const double turn = 2 * pi * i / steps;
        const Frame a = world(pinion, turn), b = world(ring, ratio * turn + pair.phase);
        expected = std::max({expected, deepest_of_all(mesh(pinion), b.inverse() * a, mesh(ring)),
                             deepest_of_all(mesh(ring), a.inverse() * b, mesh(pinion))});
    }
    const auto found = mesh_interference(d, pair, steps);
    ASSERT_TRUE(found.ok());
    EXPECT_GT(expected, 5e-5) << "the case shows something";
    EXPECT_NEAR(found->deepest_m, expected, 1e-6);
}

TEST(MeshInterference, AsksForShapes) {
    Document d = empty_document();
    for (const char* name : {"a", "b"}) test::make_hinge(d, test::add_part(d, name));
    test::couple(d, test::named(d, "a"), test::named(d, "b"), 20, 30);
    const auto found = mesh_interference(d, *d.couplings.begin()->as<GearPair>(), 4);
    ASSERT_FALSE(found.ok());
    EXPECT_EQ(found.error().code, "gear.no_shape");
}

}  // namespace
}  // namespace pivrak
