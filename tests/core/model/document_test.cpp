#include "core/model/document.h"

#include <gtest/gtest.h>

#include <random>

#include "core/model/edits/edits.h"
#include "tests/support/documents.h"

namespace pivrak {
namespace {

using test::add_part;
using test::add_shaped;

Document hall() {
    Document d = empty_document();
    const PartId hall = add_part(d, "Hall");
    const PartId bed = add_part(d, "Bed", hall, {Quat(1, 0, 0, 0), Vec3(0, 0, 1)});
    add_part(d, "Bolt", bed, {turn_about_axis(2, pi / 2), Vec3(1, 0, 0)});
    add_part(d, "Bolt", hall);
    return d;
}

TEST(FindPart, ByNameByPathAndWithHelp) {
    const Document d = hall();
    EXPECT_TRUE(find_part(d, "Bed").ok());
    EXPECT_EQ(find_part(d, "Bolt").error().code, "part.ambiguous");
    EXPECT_NE(find_part(d, "Bolt").error().message.find("'Hall/Bed/Bolt'"), std::string::npos);
    EXPECT_TRUE(find_part(d, "Bed/Bolt").ok());
    EXPECT_EQ(part_path(d, *find_part(d, "Bed/Bolt")), "Hall/Bed/Bolt");
    EXPECT_EQ(find_part(d, "Bedd").error().message, "there is no part 'Bedd'; did you mean 'Bed'?");
    EXPECT_EQ(find_part(d, "Gearbox").error().message, "there is no part 'Gearbox'");
}

TEST(Tree, ParentsComeBeforeChildren) {
    const Document d = hall();
    const std::vector<PartId> all = Tree(d).all();
    ASSERT_EQ(all.size(), 4u);
    std::vector<std::string> names;
    for (const PartId id : all) names.push_back(d.parts.find(id)->name);
    EXPECT_EQ(names, (std::vector<std::string>{"Hall", "Bed", "Bolt", "Bolt"}));
}

TEST(Tree, IsNoDeeperProblemWhenItIsTenThousandDeep) {
    Document d = empty_document();
    PartId above;
    for (int i = 0; i < 10000; ++i) above = add_part(d, "part", above, {Quat(1, 0, 0, 0), Vec3(0, 0, 0.001)});
    EXPECT_EQ(Tree(d).all().size(), 10000u);
    EXPECT_NEAR(world_from_rest(d, above).translation.z(), 10.0, 1e-9);
}

TEST(WorldFromRest, GoesThroughAllCarriers) {
    const Document d = hall();
    const Frame world = world_from_rest(d, *find_part(d, "Bed/Bolt"));
    EXPECT_LT((world.translation - Vec3(1, 0, 1)).norm(), 1e-15);
    EXPECT_LT((world.axis(0) - Vec3(0, 1, 0)).norm(), 1e-15);
}

TEST(Reparent, KeepsThePlaceAndRefusesLoops) {
    Document d = hall();
    const PartId bed = *find_part(d, "Bed"), bolt = *find_part(d, "Bed/Bolt"),
                 hall_id = *find_part(d, "Hall");
    const Frame before = world_from_rest(d, bolt);
    ASSERT_TRUE(reparent(d, bolt, {}).ok());
    EXPECT_TRUE(world_from_rest(d, bolt).matrix().isApprox(before.matrix(), 1e-14));
    const Document untouched = d;
    EXPECT_EQ(reparent(d, hall_id, bed).error().code, "tree.loop");
    EXPECT_NE(reparent(d, hall_id, bed).error().message.find("'Hall' cannot go under 'Bed'"),
              std::string::npos);
    EXPECT_EQ(reparent(d, bed, bed).error().message, "'Bed' cannot carry itself");
    EXPECT_TRUE(d == untouched);
}

/// Random edits of pivots and carriers never move a vertex, and no frame stops being rigid.
TEST(Edits, RandomPivotsAndParentsMoveNothing) {
    std::mt19937 random(21);
    std::uniform_real_distribution<double> place(-3, 3);
    Document d = empty_document();
    std::vector<PartId> ids;
    for (int i = 0; i < 12; ++i) {
        const Frame rest{
            Quat(Eigen::AngleAxisd(place(random), Vec3(place(random), place(random), 1).normalized())),
            Vec3(place(random), place(random), place(random))};
        ids.push_back(add_shaped(d, "part " + std::to_string(i), test::box({0, 0, 0}, {1, 2, 0.5}),
                                 i % 3 && !ids.empty() ? ids[random() % ids.size()] : PartId{}, rest));
    }
    const std::vector<Vec3> before = test::vertex_places(d);
    for (int step = 0; step < 400; ++step) {
        const PartId part = ids[random() % ids.size()], other = ids[random() % ids.size()];
        if (step % 2) {
            const Frame pivot{
                Quat(Eigen::AngleAxisd(place(random), Vec3(1, place(random), place(random)).normalized())),
                Vec3(place(random), place(random), place(random))};
            move_pivot(d, part, pivot);
            EXPECT_LT((world_from_rest(d, part).translation - pivot.translation).norm(), 1e-12);
        } else {
            const Document untouched = d;
            if (!reparent(d, part, random() % 4 ? other : PartId{})) {
                EXPECT_TRUE(d == untouched);
            }
        }
        for (const Part& p : d.parts) ASSERT_NEAR(p.parent_from_rest.rotation.norm(), 1, 1e-12);
    }
    EXPECT_LT(test::largest_move(before, test::vertex_places(d)), 1e-9);
}

TEST(RemoveBranch, TakesCouplingsKeysAndShapesAlong) {
    Document d = hall();
    const PartId bed = *find_part(d, "Bed"),
                 top = add_shaped(d, "Gear", test::box({0, 0, 0}, {1, 1, 1}), bed),
                 other = add_shaped(d, "Other", test::box({0, 0, 0}, {1, 1, 1}));
    test::make_hinge(d, top);
    test::make_hinge(d, other);
    test::couple(d, top, other, 10, 20);
    test::key(d, top, {{0, 0, Interpolation::Linear}});
    const Removal removal = remove_branch(d, bed);
    EXPECT_EQ(removal.parts, 3u);
    EXPECT_EQ(removal.couplings, 1u);
    EXPECT_EQ(removal.tracks, 1u);
    EXPECT_EQ(d.shapes.size(), 1u);
    EXPECT_TRUE(d.couplings.empty());
    EXPECT_TRUE(clip_or_first(d).tracks.empty());
}

TEST(Document, EqualityAndSharing) {
    const Document a = hall();
    Document b = a;
    EXPECT_TRUE(a == b);
    Part part = *b.parts.begin();
    part.name = "Other hall";
    b.parts.set(part);
    EXPECT_FALSE(a == b);
    EXPECT_EQ(a.parts.begin()->name, "Hall");
}

}  // namespace
}  // namespace pivrak
