// Copies along paths, against closed forms: a circle turns them evenly, corners are worked out by hand.
#include "tests/core/operations/split/blocks.h"

namespace pivrak {
namespace {

Document with_post(const json& path, const Vec3& at) {
    Document d = run(empty_document(), {{"op", "stand_in.add"},
                                        {"kind", "box"},
                                        {"name", "post"},
                                        {"length", 0.2},
                                        {"width", 0.1},
                                        {"height", 1},
                                        {"at", {at.x(), at.y(), at.z()}}});
    json add = path;
    add["op"] = "path.add";
    add["name"] = "fence";
    return run(d, add);
}

const json bent = {{"form", "line"}, {"points", json::array({{0, 0, 0}, {10, 0, 0}, {10, 6, 0}})}};

json along(const json& more) {
    json step{{"op", "part.repeat_path"}, {"parts", {"post"}}, {"path", "fence"}};
    step.update(more);
    return step;
}

/// Where each post stands at rest, in their order.
std::vector<Frame> posts(const Document& d) {
    std::vector<Frame> out;
    for (const Part& part : d.parts) out.push_back(world_from_rest(d, part.id));
    return out;
}

TEST(RepeatAlongAPath, RoundACircleEachIsTurnedByTheSame) {
    const Document d = with_post({{"form", "circle"}, {"centre", {1, 2, 0}}, {"radius", 5}}, {6, 2, 0});
    for (const json& more : {json{{"count", 8}}, json{{"spacing", 10 * pi / 8}}}) {
        const std::vector<Frame> at = posts(run(d, along(more)));
        ASSERT_EQ(at.size(), 8u);
        const double way = at[1].translation.y() > 2 ? 1 : -1;
        for (std::size_t i = 0; i < at.size(); ++i) {
            const Quat turn(turn_about_axis(2, way * static_cast<double>(i) * pi / 4));
            EXPECT_LT((at[i].translation - (Vec3(1, 2, 0) + turn * Vec3(5, 0, 0))).norm(), 1e-9) << i;
            EXPECT_LT(at[i].rotation.angularDistance(turn * at[0].rotation), 1e-7) << i;
        }
    }
}

TEST(RepeatAlongAPath, BesideACornerTheyKeepTheirDistanceAndTurnWithIt) {
    const Document d = with_post(bent, {0, 1, 0});
    const std::vector<Frame> turned = posts(run(d, along({{"spacing", "4 m"}}))),
                             fixed = posts(run(d, along({{"spacing", "4 m"}, {"turn", "fixed"}})));
    const Vec3 by_hand[]{{0, 1, 0}, {4, 1, 0}, {8, 1, 0}, {9, 2, 0}, {9, 6, 0}},
        as_they_are[]{{0, 1, 0}, {4, 1, 0}, {8, 1, 0}, {10, 3, 0}, {10, 7, 0}};
    ASSERT_EQ(turned.size(), 5u);
    ASSERT_EQ(fixed.size(), 5u);
    for (std::size_t i = 0; i < 5; ++i) {
        EXPECT_LT((turned[i].translation - by_hand[i]).norm(), 1e-9) << i;
        EXPECT_LT((fixed[i].translation - as_they_are[i]).norm(), 1e-9) << i;
        EXPECT_NEAR(turned[i].axis(0).y(), i < 3 ? 0 : 1, 1e-9) << i;
        EXPECT_NEAR(fixed[i].axis(0).x(), 1, 1e-9) << i;
    }
}

TEST(RepeatAlongAPath, OnARampTheyStandUprightWhereAskedTo) {
    const Document d =
        with_post({{"form", "line"}, {"points", json::array({{0, 0, 0}, {3, 0, 4}})}}, {0, 0, 0});
    const std::vector<Frame> level = posts(run(d, along({{"count", 3}, {"turn", "level"}}))),
                             leaned = posts(run(d, along({{"count", 3}})));
    EXPECT_LT((level[2].translation - Vec3(3, 0, 4)).norm(), 1e-9);
    EXPECT_NEAR(level[2].axis(2).z(), 1, 1e-12);
    // A straight path turns nothing, however steep it is.
    EXPECT_NEAR(leaned[2].axis(2).z(), 1, 1e-9);
    const Document crest =
        with_post({{"form", "line"}, {"points", json::array({{0, 0, 0}, {5, 0, 0}, {8, 0, 4}})}}, {0, 0, 0});
    EXPECT_NEAR(posts(run(crest, along({{"spacing", 7.5}})))[1].axis(2).z(), 0.6, 1e-9)
        << "three across and four up";
    EXPECT_NEAR(posts(run(crest, along({{"spacing", 7.5}, {"turn", "level"}})))[1].axis(2).z(), 1, 1e-9);
}

TEST(RepeatAlongAPath, FromTheFarEndTheyGoBack) {
    const std::vector<Frame> at = posts(run(with_post(bent, {10, 6, 0}), along({{"count", 3}})));
    ASSERT_EQ(at.size(), 3u);
    EXPECT_LT((at[1].translation - Vec3(8, 0, 0)).norm(), 1e-9);
    EXPECT_LT(at[2].translation.norm(), 1e-9);
}

TEST(RepeatAlongAPath, WhatDoesNotFitIsRefusedWithHowManyWould) {
    const Document d = with_post(bent, {0, 0, 0});
    EXPECT_EQ(refusal(d, along(json::object())).code, "argument.missing");
    EXPECT_EQ(refusal(d, along({{"count", 1}})).code, "repeat.count");
    EXPECT_EQ(refusal(d, along({{"count", 3}, {"path", "hedge"}})).code, "path.unknown");
    const Error far = refusal(d, along({{"count", 5}, {"spacing", "5 m"}}));
    EXPECT_EQ(far.code, "repeat.room");
    EXPECT_NE(far.message.find("4 fit into the 16"), std::string::npos) << far.message;
    EXPECT_EQ(refusal(d, along({{"spacing", "20 m"}})).code, "repeat.room");
    EXPECT_EQ(refusal(d, along({{"spacing", "-1 m"}})).code, "repeat.room")
        << "nothing is left behind its start";
    EXPECT_EQ(refusal(d, along({{"spacing", "0.1 mm"}})).code, "repeat.room")
        << "not by the hundred thousand";
}

}  // namespace
}  // namespace pivrak
