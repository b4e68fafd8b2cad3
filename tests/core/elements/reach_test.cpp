// Reaching: goals that can be reached are, those that cannot are told, and no joint leaves its limits.
#include <gtest/gtest.h>

#include <random>

#include "core/checks/findings.h"
#include "core/elements/reach/reach_motion.h"
#include "core/io/project/project_file.h"
#include "tests/core/elements/linkages.h"
#include "tests/support/temp_folder.h"

namespace pivrak {
namespace {

using namespace test;
using nlohmann::json;

constexpr double upper = 0.5, lower = 0.4;

/// An arm in the x-z plane: shoulder and elbow turn about y, a hand at its end, and a goal that flies.
Document arm(double elbow_bend = 0.6) {
    Document d = empty_document();
    const PartId post = add_part(d, "post", {}, {turn_about_axis(2, 0.4), Vec3(0.3, 0.1, 1)});
    const PartId shoulder = add_part(d, "shoulder", post, {turn_about_axis(1, -0.5), Vec3(0, 0, 0)});
    const PartId elbow = add_part(d, "elbow", shoulder, {turn_about_axis(1, elbow_bend), Vec3(upper, 0, 0)});
    add_part(d, "hand", elbow, {Quat(1, 0, 0, 0), Vec3(lower, 0, 0)});
    make_hinge(d, shoulder, 1);
    make_hinge(d, elbow, 1);
    return d;
}

Document reaching(Document d, json more = {}) {
    json step{{"op", "reach.add"}, {"root", "shoulder"}, {"tip", "hand"}, {"name", "r"}};
    if (more.is_object()) step.update(more);
    return run(d, step);
}

void fly(Document& d, const char* part, const std::vector<std::pair<double, Vec3>>& places) {
    for (const auto& [frame, place] : places)
        for (int k = 0; k < 3; ++k)
            d = run(d, {{"op", "key.set"},
                        {"parts", {part}},
                        {"channel", std::string("shift_") + "xyz"[k]},
                        {"frame", frame},
                        {"value", place[k]}});
}

double miss_of(const Moved& at, const Document& d) {
    return reach_miss(at.evaluator(), at.pose(), *d.reaches.begin())->place_m;
}

/// Law of cosines: the elbow's angle from the goal's distance.
TEST(Reach, TwoBonesStandAsTheLawOfCosinesSays) {
    Document d = reaching(arm());
    // Its own control stands at the tip; it goes about in the arm's plane.
    const Frame post = world_from_rest(d, named(d, "post"));
    std::vector<std::pair<double, Vec3>> places;
    const Vec3 begin = world_from_rest(d, named(d, "hand")).translation;
    const Frame handle = world_from_rest(d, named(d, "hand goal"));
    for (int k = 0; k <= 8; ++k) {
        const double angle = 0.25 * k, far = 0.75 + 0.1 * std::sin(1.7 * k);
        const Vec3 goal = k == 0 ? begin : post.point({far * std::cos(angle), 0, far * std::sin(angle)});
        places.push_back({10.0 * k, handle.inverse().point(goal)});
    }
    fly(d, "hand goal", places);
    Moved at(d);
    for (double frame = 0; frame <= 80; frame += 0.5) {
        at(frame);
        EXPECT_LT(miss_of(at, d), 1e-13) << frame;
        const double far = (at.world("hand goal").translation - post.translation).norm();
        const double cosine = (far * far - upper * upper - lower * lower) / (2 * upper * lower);
        EXPECT_NEAR(at.value("elbow") + 0.6, std::acos(cosine), 1e-12) << frame;
    }
}

TEST(Reach, WhatCannotBeReachedIsPointedAtAndNothingFlips) {
    Document d = reaching(arm());
    fly(d, "hand goal", {{0, {0, 0, 0}}, {30, {2, 0, 0.4}}, {60, {2, 1, -0.5}}, {90, {0, 0, 0}}});
    Moved at(d);
    double last_shoulder = 0, last_elbow = 0;
    for (double frame = 0; frame <= 90; frame += 0.25) {
        at(frame);
        const double shoulder = at.value("shoulder"), elbow = at.value("elbow");
        EXPECT_TRUE(std::isfinite(shoulder) && std::isfinite(elbow)) << frame;
        EXPECT_GT(elbow + 0.6, -0.01) << "it bends the way it did, at " << frame;
        if (frame > 0) {
            EXPECT_LT(std::abs(shoulder - last_shoulder), 0.15) << frame;
            EXPECT_LT(std::abs(elbow - last_elbow), 0.3) << frame;
        }
        last_shoulder = shoulder;
        last_elbow = elbow;
    }
    EXPECT_LT(miss_of(at, d), 1e-6) << "back where it began";
    EXPECT_NEAR(last_elbow, 0, 1e-4);
    bool told = false;
    for (const Finding& finding : check_document(d)) told |= finding.code == "reach.misses";
    EXPECT_TRUE(told);
}

TEST(Reach, LimitsAndLocksHoldWhateverIsAsked) {
    Document d = reaching(arm());
    d = run(d, {{"op", "joint.set"}, {"parts", {"elbow"}}, {"min", "-10 deg"}, {"max", "20 deg"}});
    fly(d, "hand goal", {{0, {0, 0, 0}}, {20, {-0.6, 0.3, 0.5}}, {40, {1, 0, 1}}, {60, {0, -1, -1}}});
    Moved at(d);
    for (double frame = 0; frame <= 60; frame += 0.5) {
        const double elbow = at(frame).value("elbow") / rad_per_deg;
        EXPECT_GE(elbow, -10 - 1e-9) << frame;
        EXPECT_LE(elbow, 20 + 1e-9) << frame;
    }
    d = run(d, {{"op", "joint.set"}, {"parts", {"shoulder"}}, {"locked", true}});
    Moved locked(d);
    for (double frame = 0; frame <= 60; frame += 5) EXPECT_EQ(locked(frame).value("shoulder"), 0) << frame;
}

/// A side never turns a hinge about an axis that it has not.
TEST(Reach, ASideBendsTheElbowOnlyAsJointsAllow) {
    Document d = arm();
    d = run(d, {{"op", "joint.set"}, {"parts", {"shoulder"}}, {"kind", "ball"}});
    const PartId side = add_part(d, "knee mark", {}, {Quat(1, 0, 0, 0), Vec3(0.3, 3, 1.2)});
    d = reaching(d, {{"side", "knee mark"}});
    Moved at(d);
    at(0);
    EXPECT_LT(miss_of(at, d), 1e-8);
    // The elbow lies in the half plane of line and mark.
    const Vec3 root = at.world("shoulder").translation, tip = at.world("hand").translation,
               elbow = at.world("elbow").translation, mark = world_from_rest(d, side).translation;
    const Vec3 along = (tip - root).normalized();
    const auto beside = [&](const Vec3& place) {
        const Vec3 from = place - root;
        return Vec3(from - from.dot(along) * along).normalized();
    };
    EXPECT_GT(beside(elbow).dot(beside(mark)), 1 - 1e-6);
    // With hinges alone it stays in their plane.
    Document flat = arm();
    add_part(flat, "knee mark", {}, {Quat(1, 0, 0, 0), Vec3(0.3, 3, 1.2)});
    flat = reaching(flat, {{"side", "knee mark"}});
    Moved stays(flat);
    EXPECT_LT(std::abs(stays(0).in("elbow", "post").translation.y()), 1e-12);
}

/// Two hinges cannot give a place and a turn at once. What they give is the least of all by a search over
/// both.
TEST(Reach, AWeightSaysWhetherPlaceOrTurnCountsMore) {
    double last_place = -1, last_turn = 1e9;
    for (const double weight : {0.05, 1.0, 20.0}) {
        Document d = reaching(arm(), {{"turn", true}, {"turn_weight", weight}});
        for (const auto& [channel, value] : {std::pair{"shift_x", 0.1}, {"shift_z", 0.05}, {"turn_y", 0.5}})
            d = run(
                d, {{"op", "channel.set"}, {"parts", {"hand goal"}}, {"channel", channel}, {"value", value}});
        Moved at(d);
        at(0);
        const ReachMiss miss = *reach_miss(at.evaluator(), at.pose(), *d.reaches.begin());
        const Frame goal = at.world("hand goal"), base = world_from_rest(d, named(d, "shoulder"));
        const double length = upper + lower;
        const auto cost = [&](double place, double turn) {
            return place * place + weight * weight * length * length * turn * turn;
        };
        double least = 1e9;
        for (int i = -400; i <= 400; ++i)
            for (int k = -400; k <= 400; ++k) {
                const Frame elbow = base * Frame{turn_about_axis(1, 0.004 * i), {0, 0, 0}} *
                                    Frame{turn_about_axis(1, 0.6), Vec3(upper, 0, 0)} *
                                    Frame{turn_about_axis(1, 0.004 * k), {0, 0, 0}};
                const Frame hand = elbow * Frame{Quat(1, 0, 0, 0), Vec3(lower, 0, 0)};
                least = std::min(least, cost((hand.translation - goal.translation).norm(),
                                             angle_between(hand.rotation, goal.rotation)));
            }
        EXPECT_LT(cost(miss.place_m, miss.turn_rad), least + 1e-6) << weight;
        EXPECT_GT(miss.place_m, last_place) << "the more the turn counts, the less the place does";
        EXPECT_LT(miss.turn_rad, last_turn);
        last_place = miss.place_m;
        last_turn = miss.turn_rad;
    }
    EXPECT_EQ(
        refusal(arm(), {{"op", "reach.add"}, {"root", "shoulder"}, {"tip", "hand"}, {"turn_weight", 0}}).code,
        "reach.weight");
}

TEST(Reach, AFrameIsTheSameInAnyOrder) {
    Document d = reaching(arm());
    fly(d, "hand goal", {{0, {0, 0, 0}}, {30, {-0.3, 0.1, 0.4}}, {60, {0.5, 1, -0.5}}, {90, {-0.2, 0, 0.2}}});
    Moved forwards(d), anyhow(d);
    std::vector<std::vector<double>> kept;
    for (int f = 0; f <= 180; ++f) kept.push_back(forwards(0.5 * f).pose().channels);
    std::mt19937 random(3);
    for (int i = 0; i < 200; ++i) {
        const int f = static_cast<int>(random() % 181);
        EXPECT_EQ(anyhow(0.5 * f).pose().channels, kept[static_cast<std::size_t>(f)]) << f;
    }
}

TEST(Reach, ABlendLeavesItsShareToKeysAndIsKeyed) {
    Document d = reaching(arm());
    fly(d, "hand goal", {{0, {-0.2, 0, 0.3}}});
    d = run(d, {{"op", "key.set"}, {"elements", {"r"}}, {"channel", "blend"}, {"frame", 0}, {"value", 1}});
    d = run(d, {{"op", "key.set"}, {"elements", {"r"}}, {"channel", "blend"}, {"frame", 40}, {"value", 0}});
    d = run(d, {{"op", "key.set"}, {"parts", {"elbow"}}, {"channel", "turn"}, {"frame", 0}, {"value", 0.2}});
    Moved at(d);
    const double solved = at(0).value("elbow"), keyed = at(40).value("elbow");
    EXPECT_NEAR(keyed, 0.2, 1e-12);
    EXPECT_GT(std::abs(solved - keyed), 0.05);
    const double share =
        at(20).pose().channels[*at.evaluator().channel_slot({d.reaches.begin()->id, ChannelKind::Blend})];
    EXPECT_NEAR(at.value("elbow"), keyed + share * (solved - keyed), 1e-9);
}

TEST(Reach, ASolvedPoseBecomesKeysAndAGoalGoesToKeys) {
    Document d = reaching(arm());
    fly(d, "hand goal", {{0, {0, 0, 0}}, {30, {-0.3, 0, 0.4}}});
    Document keyed = run(d, {{"op", "reach.key"}, {"reaches", {"r"}}, {"from", 0}, {"until", 30}});
    keyed = run(keyed, {{"op", "reach.set"}, {"reaches", {"r"}}, {"on", false}});
    Moved solved(d), taken(keyed);
    for (int frame = 0; frame <= 30; ++frame)
        EXPECT_LT((solved(frame).world("hand").translation - taken(frame).world("hand").translation).norm(),
                  1e-12);
    // And back: the goal follows other keys of the joints.
    key(keyed, named(keyed, "elbow"), {{0, 0.1, Interpolation::Linear}, {30, 0.7, Interpolation::Linear}});
    Document back = run(keyed, {{"op", "reach.goal"}, {"reaches", {"r"}}, {"from", 0}, {"until", 30}});
    back = run(back, {{"op", "reach.set"}, {"reaches", {"r"}}, {"on", true}});
    Moved wanted(keyed), found(back);
    for (int frame = 0; frame <= 30; ++frame)
        EXPECT_LT((wanted(frame).world("hand").translation - found(frame).world("hand").translation).norm(),
                  1e-7)
            << frame;
}

/// Random rows of 4 to 8 joints of all kinds, with limits; goals from poses inside them.
TEST(Reach, RandomRowsReachWhatTheyCan) {
    std::mt19937 random(11);
    std::uniform_real_distribution<double> share(0, 1);
    int missed = 0, asked = 0;
    for (int chain = 0; chain < 20; ++chain) {
        ReachModel model;
        MotionBody body;
        const int joints = 4 + static_cast<int>(random() % 5);
        std::uint32_t column = 0;
        double length = 0;
        for (int j = 0; j < joints; ++j) {
            const JointKind kinds[] = {JointKind::Hinge, JointKind::Hinge,    JointKind::Hinge,
                                       JointKind::Slide, JointKind::Cylinder, JointKind::Ball};
            const JointKind kind = kinds[random() % 6];
            const Vec3 offset(0.1 + 0.3 * share(random), 0.2 * share(random) - 0.1,
                              0.2 * share(random) - 0.1);
            if (j > 0)
                body.frame = body.frame *
                             Frame{turn_about_axis(static_cast<int>(random() % 3), share(random)), offset};
            length += offset.norm();
            body = model.tree.add_joint(body, kind, static_cast<int>(random() % 3), column);
            for (const ChannelKind channel : channels_of(kind)) {
                const double reach =
                    is_turn(channel) ? 0.3 + 1.5 * share(random) : 0.05 + 0.2 * share(random);
                model.limits.push_back({-reach * share(random), reach});
                model.held.push_back(false);
                ++column;
            }
        }
        body.frame.translation = Vec3(0.2, 0, 0);
        model.tip = body;
        model.size_m = length + 0.2;
        model.asks_turn = column >= 6;
        model.elbow = static_cast<std::uint32_t>(model.tree.axes().size() / 2);
        const ReachSolver solver(model);
        ReachRoom room = solver.make_room();
        for (int goal = 0; goal < 500; ++goal) {
            std::vector<double> truth(column), values(column), preferred(column);
            for (std::uint32_t c = 0; c < column; ++c) {
                truth[c] = model.limits[c].min + share(random) * (model.limits[c].max - model.limits[c].min);
                preferred[c] = values[c] = model.limits[c].clamp(0);
            }
            const ReachGoal wanted{solver.tip(truth, room), {}};
            solver.solve(values, preferred, wanted, room);
            solver.search(values, preferred, wanted, room);
            // By frames put together another way.
            for (std::uint32_t c = 0; c < column; ++c) {
                EXPECT_GE(values[c], model.limits[c].min - 1e-9);
                EXPECT_LE(values[c], model.limits[c].max + 1e-9);
            }
            const ReachMiss miss = solver.miss(values, wanted, room);
            ++asked;
            missed += miss.place_m > 1e-5 || miss.turn_rad > 1e-3 * rad_per_deg;
        }
    }
    EXPECT_LE(missed, asked / 1000) << "of " << asked;
}

TEST(Reach, RefusalsNameTheCause) {
    const Document d = arm();
    EXPECT_EQ(refusal(d, {{"op", "reach.add"}, {"root", "hand"}, {"tip", "shoulder"}}).code,
              "reach.not_below");
    EXPECT_EQ(refusal(d, {{"op", "reach.add"}, {"root", "hand"}, {"tip", "hand"}}).code,
              "reach.nothing_moves");
    EXPECT_EQ(
        refusal(d, {{"op", "reach.add"}, {"root", "shoulder"}, {"tip", "hand"}, {"goal", "elbow"}}).code,
        "reach.itself");
    EXPECT_EQ(refusal(d, {{"op", "reach.add"}, {"root", "shoulder"}, {"tip", "hand"}, {"blend", 1.5}}).code,
              "channel.range");
    EXPECT_EQ(refusal(d, {{"op", "reach.add"}, {"root", "shoulder"}, {"tip", "hand"}, {"place", false}}).code,
              "reach.nothing");
    // Round in a circle: the goal follows what reaches for it.
    Document round = reaching(d);
    const Error circle = refusal(
        round, {{"op", "constraint.add"}, {"parts", {"hand goal"}}, {"asks", "place"}, {"target", "hand"}});
    EXPECT_EQ(circle.code, "rig.loop") << circle.message;
    EXPECT_NE(circle.message.find("hand goal"), std::string::npos) << circle.message;
    // A name is one reach's.
    Document named_twice =
        run(run(round, {{"op", "part.duplicate"}, {"parts", {"post", "hand goal"}}, {"shift", {0, 3, 0}}}),
            {{"op", "reach.set"}, {"reaches", {"r"}}, {"name", "first"}});
    ASSERT_EQ(named_twice.reaches.size(), 2u);
    for (const Reach& reach : named_twice.reaches)
        if (reach.name != "first")
            EXPECT_EQ(
                refusal(named_twice, {{"op", "reach.set"}, {"reaches", {reach.id.value}}, {"name", "first"}})
                    .code,
                "reach.duplicate");
    // Two rows want the same joint.
    EXPECT_EQ(refusal(round, {{"op", "reach.add"}, {"root", "elbow"}, {"tip", "hand"}}).code, "reach.driven");
}

TEST(Reach, AGoalThatGoesOutsideEverythingLeavesAFinitePose) {
    Document d = reaching(arm());
    Clip clip = clip_or_first(d);
    clip.track_or_new({named(d, "hand goal"), ChannelKind::ShiftX}).keys = {
        {0, 0, Interpolation::Linear}, {10, 1e300, Interpolation::Linear}};
    d.clips.set(clip);
    Moved at(d);
    for (double frame = 0; frame <= 10; frame += 0.5)
        for (const double value : at(frame).pose().channels) EXPECT_FALSE(std::isnan(value)) << frame;
    Document none = empty_document();
    const PartId a = add_part(none, "a"), b = add_part(none, "b", a);
    add_part(none, "c", b);
    make_hinge(none, a);
    make_hinge(none, b);
    none = run(none, {{"op", "reach.add"}, {"root", "a"}, {"tip", "c"}});
    Moved still(none);
    for (const double value : still(0).pose().channels)
        EXPECT_FALSE(std::isnan(value)) << "bones of no length";
}

/// Three arms at 120 degrees under one datum: each reaches for its own goal, and all turn and go with the
/// datum.
TEST(Reach, ThreeArmsUnderOneDatumKeepTheirOwnGoals) {
    Document d = run(reaching(arm()), {{"op", "datum.add"}, {"name", "hub"}});
    const PartId hub = named(d, "hub");
    d = run(d, {{"op", "tree.parent"}, {"parts", {"post", "hand goal"}}, {"under", "hub"}});
    const std::size_t before = d.parts.size();
    d = run(d, {{"op", "part.repeat_round"},
                {"parts", {"post", "hand goal"}},
                {"count", 3},
                {"axis", {0, 0, 1}},
                {"centre", {0, 0, 0}}});
    ASSERT_EQ(d.reaches.size(), 3u);
    EXPECT_GT(d.parts.size(), before + 6);
    std::set<PartId> goals;
    for (const Reach& reach : d.reaches) {
        goals.insert(reach.goal);
        EXPECT_TRUE(is_below(d, reach.goal, hub));
        EXPECT_TRUE(is_below(d, reach.tip, hub));
    }
    EXPECT_EQ(goals.size(), 3u);
    // Each goal goes another way, and the hub turns and rises meanwhile.
    d = run(d, {{"op", "joint.set"}, {"parts", {"hub"}}, {"kind", "cylinder"}, {"axis", "z"}});
    int k = 0;
    for (const PartId goal : goals)
        d = run(d, {{"op", "key.set"},
                    {"parts", {goal.value}},
                    {"channel", "shift_x"},
                    {"frame", 40},
                    {"value", -0.1 * ++k}});
    for (const PartId goal : goals)
        d = run(
            d,
            {{"op", "key.set"}, {"parts", {goal.value}}, {"channel", "shift_x"}, {"frame", 0}, {"value", 0}});
    for (const auto& [channel, value] : {std::pair{"turn", "200 deg"}, {"shift", "0.7 m"}})
        for (const int frame : {0, 40})
            d = run(d, {{"op", "key.set"},
                        {"parts", {"hub"}},
                        {"channel", channel},
                        {"frame", frame},
                        {"value", frame ? json(value) : json(0)}});
    const auto evaluator = Evaluator::compile(d);
    ASSERT_TRUE(evaluator.ok()) << evaluator.error().message;
    Pose pose = evaluator->make_pose();
    std::vector<Vec3> ways;
    for (double frame = 0; frame <= 40; frame += 0.5) {
        evaluator->evaluate(frame, pose);
        for (const Reach& reach : d.reaches) {
            const auto place = [&](PartId part) {
                return pose.world_from_part[*evaluator->part_slot(part)].translation;
            };
            EXPECT_LT((place(reach.tip) - place(reach.goal)).norm(), 1e-7) << frame;
            if (frame == 0) ways.push_back(place(reach.tip));
        }
    }
    // At rest they stand a third of a turn apart.
    for (int i = 0; i < 3; ++i)
        EXPECT_NEAR(ways[static_cast<std::size_t>(i)].head<2>().normalized().dot(
                        ways[static_cast<std::size_t>((i + 1) % 3)].head<2>().normalized()),
                    -0.5, 1e-6);
}

/// Four fingers whose goals one handle carries: it is pushed, and all of them close on it.
TEST(Reach, OneHandleClosesFourFingers) {
    Document d = reaching(arm());
    d = run(d, {{"op", "datum.add"}, {"name", "handle"}});
    d = run(d, {{"op", "joint.set"}, {"parts", {"handle"}}, {"kind", "slide"}, {"axis", "z"}});
    d = run(d, {{"op", "part.repeat_round"},
                {"parts", {"post", "hand goal"}},
                {"count", 4},
                {"axis", {0, 0, 1}},
                {"centre", {0, 0, 0}}});
    json goals = json::array();
    for (const Reach& reach : d.reaches) goals.push_back(reach.goal.value);
    d = run(d, {{"op", "tree.parent"}, {"parts", goals}, {"under", "handle"}});
    const auto at_push = [&](double push) {
        const Document pushed =
            run(d, {{"op", "channel.set"}, {"parts", {"handle"}}, {"channel", "shift"}, {"value", push}});
        const auto evaluator = Evaluator::compile(pushed);
        Pose pose = evaluator->make_pose();
        evaluator->evaluate(0, pose);
        std::vector<double> heights;
        for (const Reach& reach : pushed.reaches) {
            const Frame& tip = pose.world_from_part[*evaluator->part_slot(reach.tip)];
            EXPECT_LT((tip.translation - pose.world_from_part[*evaluator->part_slot(reach.goal)].translation)
                          .norm(),
                      1e-7);
            heights.push_back(tip.translation.z());
        }
        return heights;
    };
    const auto open = at_push(0), closed = at_push(-0.1);
    ASSERT_EQ(open.size(), 4u);
    for (std::size_t i = 0; i < 4; ++i) EXPECT_NEAR(closed[i], open[i] - 0.1, 1e-6);
}

TEST(Reach, ItIsSavedAndGoesWithACopy) {
    const Document d = reaching(arm(), {{"turn", true}});
    const TempFolder folder;
    ASSERT_TRUE(save_project(d, folder.path() / "arm.pivrak.glb"));
    const auto again = open_project(folder.path() / "arm.pivrak.glb");
    ASSERT_TRUE(again.ok());
    EXPECT_EQ(*again->reaches.begin(), *d.reaches.begin());
    const Document copied = run(d, {{"op", "part.duplicate"}, {"parts", {"post"}}});
    EXPECT_EQ(copied.reaches.size(), 2U);
    const Document gone = run(d, {{"op", "part.remove"}, {"parts", {"hand"}}});
    EXPECT_EQ(gone.reaches.size(), 0U);
    // Without its goal it is off, and a finding names what it lost.
    const Document lost = run(d, {{"op", "part.remove"}, {"parts", {"hand goal"}}});
    ASSERT_EQ(lost.reaches.size(), 1U);
    EXPECT_TRUE(lost.reaches.begin()->off);
    bool told = false;
    for (const Finding& finding : check_document(lost))
        told |= finding.code == "reach.lost" && finding.message.find("'hand goal'") != std::string::npos;
    EXPECT_TRUE(told);
    Document found = lost;
    add_part(found, "mark", {}, {Quat(1, 0, 0, 0), Vec3(0.6, 0.2, 1.3)});
    found = run(found, {{"op", "reach.set"}, {"reaches", {"r"}}, {"goal", "mark"}});
    EXPECT_FALSE(found.reaches.begin()->off);
    EXPECT_EQ(found.reaches.begin()->lost, "");
}

}  // namespace
}  // namespace pivrak
