#include "core/checks/pivots/swing_map.h"

#include <gtest/gtest.h>

#include <cmath>

#include "tests/support/documents.h"

namespace pivrak {
namespace {

Document moved_document(Document d, const Frame& pose) {
    const Tree tree(d);
    for (const PartId root : tree.roots()) {
        Part part = *d.parts.find(root);
        part.parent_from_rest = (pose * part.parent_from_rest).normalized();
        d.parts.set(part);
    }
    return d;
}

void set_joint(Document& d, PartId id, JointKind kind, int axis) {
    Part part = *d.parts.find(id);
    part.joint.kind = kind;
    part.joint.axis = axis;
    d.parts.set(part);
}

TEST(SwingMap, TwoSlidesThatMeetHaveTheirGapAsClearance) {
    Document d = empty_document();
    const PartId a = test::add_shaped(d, "a", test::box({0, 0, 0}, {1, 1, 1}));
    const PartId b = test::add_shaped(d, "b", test::box({2, 0, 0}, {3, 1, 1}));
    set_joint(d, a, JointKind::Slide, 0);
    set_joint(d, b, JointKind::Slide, 0);
    for (const Frame& pose : test::world_poses()) {
        const auto map = swing_map(moved_document(d, pose), a, b, {{0, 1.5}, {-0.8, 0.4}, 12});
        ASSERT_TRUE(map.ok()) << map.error().message;
        for (std::size_t i = 0; i < map->first_values.size(); ++i)
            for (std::size_t j = 0; j < map->second_values.size(); ++j) {
                const double gap = 1 - map->first_values[i] + map->second_values[j];
                EXPECT_NEAR(map->at(i, j).clearance_m, std::max(gap, 0.0), 1e-5) << i << " " << j;
            }
        EXPECT_GT(map->contact_share(), 0.1);
        EXPECT_LT(map->contact_share(), 0.6);
    }
}

/// A thin leaf on a hinge with a drawer in it, before a wall: the far corner of the drawer is nearest to it.
Document leaf_and_drawer(PartId& leaf, PartId& drawer, PartId& wall) {
    Document d = empty_document();
    leaf = test::add_shaped(d, "leaf", test::box({0.1, -0.01, 0}, {0.5, 0.01, 1}));
    drawer = test::add_shaped(d, "drawer", test::box({0.6, -0.01, 0}, {1, 0.01, 1}), leaf);
    wall = test::add_shaped(d, "wall", test::box({-5, 1.2, -1}, {5, 1.3, 2}));
    set_joint(d, leaf, JointKind::Hinge, 2);
    set_joint(d, drawer, JointKind::Slide, 0);
    return d;
}

TEST(SwingMap, ACarriedPartIsSweptRoundWithItsCarrier) {
    PartId leaf, drawer, wall;
    const Document d = moved_document(leaf_and_drawer(leaf, drawer, wall), test::world_poses()[1]);
    const auto map = swing_map(d, leaf, drawer, {{0, pi / 2}, {0, 0.5}, 18});
    ASSERT_TRUE(map.ok()) << map.error().message;
    EXPECT_TRUE(map->touching.empty());
    for (std::size_t i = 0; i < map->first_values.size(); ++i)
        for (std::size_t j = 0; j < map->second_values.size(); ++j) {
            const double turn = map->first_values[i], out = map->second_values[j];
            const double to_wall = 1.2 - (1 + out) * std::sin(turn) - 0.01 * std::cos(turn);
            const double wanted = std::min(std::max(to_wall, 0.0), 0.1 + out);  // or the gap between the two
            EXPECT_NEAR(map->at(i, j).clearance_m, wanted, 1e-5) << i << " " << j;
            if (to_wall < 0.09) {
                EXPECT_EQ(map->at(i, j).neighbour, wall);
            }
        }
}

TEST(SwingMap, IsTheSameWhicheverJointComesFirst) {
    PartId leaf, drawer, wall;
    const Document d = leaf_and_drawer(leaf, drawer, wall);
    const auto map = swing_map(d, leaf, drawer, {{-1, 1}, {0, 0.3}, 8}),
               other = swing_map(d, drawer, leaf, {{0, 0.3}, {-1, 1}, 8});
    ASSERT_TRUE(map.ok() && other.ok());
    for (std::size_t i = 0; i < 9; ++i)
        for (std::size_t j = 0; j < 9; ++j) EXPECT_EQ(map->at(i, j).clearance_m, other->at(j, i).clearance_m);
}

TEST(SwingMap, RefusesWhatMakesNoMap) {
    PartId leaf, drawer, wall;
    const Document d = leaf_and_drawer(leaf, drawer, wall);
    EXPECT_EQ(swing_map(d, leaf, leaf, {{0, 1}, {0, 1}}).error().code, "swing.itself");
    EXPECT_EQ(swing_map(d, leaf, wall, {{0, 1}, {0, 1}}).error().code, "swing.fixed");
    EXPECT_EQ(swing_map(d, leaf, drawer, {{1, 0}, {0, 1}}).error().code, "swing.range");
    EXPECT_EQ(swing_map(d, leaf, drawer, {{0, std::nan("")}, {0, 1}}).error().code, "swing.range");
    const Progress stop([](double, std::string_view) { return false; });
    EXPECT_EQ(swing_map(d, leaf, drawer, {{0, 1}, {0, 1}}, stop).error().code, "swing.cancelled");
}

}  // namespace
}  // namespace pivrak
