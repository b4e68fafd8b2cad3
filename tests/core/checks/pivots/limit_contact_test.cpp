// Contact inside the limits, as a finding that offers the contact as limit.
#include <gtest/gtest.h>

#include <cmath>

#include "core/checks/findings.h"
#include "tests/support/documents.h"

namespace pivrak {
namespace {

using nlohmann::json;
using test::named;
using test::run;

std::vector<Finding> contacts(const Document& d, MeshFacts* known = nullptr) {
    std::vector<Finding> found = check_document(d, {}, known);
    std::erase_if(found, [](const Finding& f) { return f.code != "limits.contact"; });
    return found;
}

/// A thin lid that opens about z from along x, and a wall across its way.
Document lid() {
    Document d = empty_document();
    const PartId door = test::add_shaped(d, "Lid", with_normals(test::box({0, -0.05, 0}, {1, 0.05, 1})));
    test::add_shaped(d, "Wall", with_normals(test::box({-2, 0.5, 0}, {2, 0.6, 1})));
    test::add_shaped(d, "Far", with_normals(test::box({5, 0, 0}, {6, 1, 1})));
    test::make_hinge(d, door, 2);
    return run(d, {{"op", "joint.set"}, {"parts", {"Lid"}}, {"min", "-20 deg"}, {"max", "60 deg"}});
}

TEST(LimitContact, IsFoundWhereGeometrySaysAndTakenAsLimit) {
    const Document d = lid();
    const auto found = contacts(d);
    ASSERT_EQ(found.size(), 1u);
    EXPECT_EQ(found[0].part, named(d, "Lid"));
    EXPECT_NE(found[0].message.find("touches 'Wall'"), std::string::npos) << found[0].message;
    const Document mended = run(d, found[0].fix);
    // The far corner (1, 0.05) comes to y = 0.5.
    const double expected = std::asin(0.5 / std::hypot(1, 0.05)) - std::atan(0.05);
    const Limits limits = *mended.parts.find(named(mended, "Lid"))->joint.turn.limits;
    EXPECT_NEAR(limits.max, expected, 0.01 * rad_per_deg);
    EXPECT_EQ(limits.min, -20 * rad_per_deg);
    EXPECT_TRUE(contacts(mended).empty());
}

/// Cabins of a string all rest where the first one was built: that is no place that they are ever in.
TEST(LimitContact, RidersThatRestInOnePlaceDoNotMeet) {
    const Document alone = lid();
    ASSERT_EQ(contacts(alone).size(), 1u);
    Document d = empty_document();
    const PartId cabin = test::add_shaped(d, "Cabin", with_normals(test::box({-1, -1, -1}, {1, 0, 0})));
    const PartId door =
        test::add_shaped(d, "Door", with_normals(test::box({0, 0.05, 0}, {1, 0.1, 1})), cabin);
    test::make_hinge(d, door, 2);
    d = run(d, {{"op", "joint.set"}, {"parts", {"Door"}}, {"min", 0}, {"max", "60 deg"}});
    d = run(d, {{"op", "path.add"}, {"name", "rope"}, {"points", {{0, 0, 0}, {50, 0, 0}}}});
    d = run(d, {{"op", "ride.string"},
                {"parts", {"Cabin"}},
                {"path", "rope"},
                {"count", 3},
                {"gap", 10},
                {"coupling", "path"}});
    test::add_shaped(d, "Tower", with_normals(test::box({-2, 0.5, 0}, {2, 0.6, 1})));
    EXPECT_TRUE(contacts(d).empty()) << contacts(d).front().message;
    // What rides along is met all the same.
    test::add_shaped(d, "Rail", with_normals(test::box({-2, 0.5, 0}, {2, 0.6, 1})), cabin);
    ASSERT_EQ(contacts(d).size(), 1u);
    EXPECT_NE(contacts(d)[0].message.find("touches 'Rail'"), std::string::npos) << contacts(d)[0].message;
}

TEST(LimitContact, WhatWasFoundBeforeIsKeptAndFollowsWhatChanges) {
    MeshFacts known;
    Document d = lid();
    const auto first = contacts(d, &known);
    EXPECT_EQ(contacts(d, &known), first);
    EXPECT_EQ(contacts(run(d, {{"op", "part.rename"}, {"part", "Far"}, {"name", "Elsewhere"}}), &known),
              first);
    // The wall goes away to the side.
    Part wall = *d.parts.find(named(d, "Wall"));
    wall.parent_from_rest.translation = Vec3(0, 3, 0);
    d.parts.set(wall);
    EXPECT_TRUE(contacts(d, &known).empty());
    EXPECT_EQ(contacts(lid(), &known).size(), 1u) << "and back";
}

TEST(LimitContact, JointsWithoutLimitsAreNotSwept) {
    EXPECT_TRUE(contacts(run(lid(), {{"op", "joint.set"}, {"parts", {"Lid"}}, {"unlimited", true}})).empty());
}

}  // namespace
}  // namespace pivrak
