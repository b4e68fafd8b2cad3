#include "core/checks/drive/mesh_interference.h"

#include <gtest/gtest.h>

#include "tests/support/documents.h"

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
