// Channels of elements: a chain's slack is keyed, limited, plotted, copied and kept like the turn of a hinge.
#include <gtest/gtest.h>

#include <cmath>

#include "core/checks/findings.h"
#include "core/elements/chain/chain_motion.h"
#include "core/io/project/project_file.h"
#include "core/io/project/project_json.h"
#include "core/model/element_channels.h"
#include "core/motion/bake.h"
#include "core/operations/channel_access.h"
#include "tests/core/operations/drive/chains.h"
#include "tests/support/documents.h"

namespace pivrak {
namespace {

using namespace test;
using nlohmann::json;

/// A chain round two sprockets, kept at its slack by a roller on an arm.
Document tensioned() {
    Document d = two_sprockets(0.7);
    add_part(d, "arm", {}, {Quat(1, 0, 0, 0), Vec3(0.6, 0, 0.85)});
    d = run(d, {{"op", "joint.set"}, {"parts", {"arm"}}, {"kind", "hinge"}, {"axis", "y"}});
    d = run(d, {{"op", "tree.parent"}, {"parts", {"roller"}}, {"under", "arm"}});
    return run(d, {{"op", "chain.add"},
                   {"wheels", {"small", "large", "roller"}},
                   {"outside", {"roller"}},
                   {"name", "drive"},
                   {"pattern", 2},
                   {"slack_after", "small"},
                   {"take_up", "arm"},
                   {"spare", "1 mm"}});
}

ChannelRef slack_of(const Document& d) {
    return {d.chains.begin()->id, ChannelKind::Slack};
}

json keyed_slack(double frame, const char* value) {
    return {{"op", "key.set"}, {"elements", {"drive"}},     {"channel", "slack"},
            {"frame", frame},  {"interpolation", "linear"}, {"value", value}};
}

/// What the loop has to spare round its wheels where their frames in the world are, not where it was set.
double shown_slack(const Document& d, double frame) {
    const auto evaluator = Evaluator::compile(d);
    Pose pose = evaluator->make_pose();
    evaluator->evaluate(frame, pose);
    ChainLoop loop = chain_stand(*evaluator, pose, d.chains.begin()->id)->loop;
    const Frame plane = pose.world_from_part[*evaluator->part_slot(d.chains.begin()->frame)].inverse();
    for (std::size_t i = 0; i < loop.circles.size(); ++i) {
        const PartId wheel = d.chains.begin()->wheels[i].part;
        loop.circles[i].centre =
            plane.point(pose.world_from_part[*evaluator->part_slot(wheel)].translation).head<2>();
    }
    const auto travel = evaluator->channel_slot({d.chains.begin()->frame, ChannelKind::Travel});
    return chain_fit(loop, pose.channels[*travel]).slack_m;
}

/// A project's own part of its file, as if its geometry lay at the numbers 0.
json rig_part(const Document& d) {
    GltfIndices none;
    none.nodes.assign(d.parts.size(), 0), none.shape_nodes.assign(d.parts.size(), -1);
    none.meshes.assign(d.shapes.size(), 0), none.groups.resize(d.shapes.size());
    none.images.assign(d.images.size(), 0);
    return project_to_json(d, none);
}

/// Until format 3 the frames of a vehicle had other names in files.
TEST(OldProjects, FramesOfVehiclesAreFoundUnderTheirNamesOfBefore) {
    Document d = empty_document();
    json wheels = json::array();
    for (const double x : {1.2, -1.2})
        for (const double y : {0.8, -0.8}) {
            wheels.push_back("wheel " + std::to_string(wheels.size()));
            d = test::run(d, {{"op", "stand_in.add"},
                              {"kind", "wheel"},
                              {"name", wheels.back()},
                              {"diameter", 0.7},
                              {"width", 0.2},
                              {"axis", "y"},
                              {"at", {x, y, 0.35}}});
        }
    d = test::run(d, {{"op", "vehicle.make"}, {"parts", wheels}, {"name", "Car"}});
    json old = rig_part(d);
    old["version"] = 3;
    json& car = old["vehicles"][0];
    for (const auto& [now, before] :
         {std::pair("place", "root"), {"yaw", "skid"}, {"ground_level", "follow"}}) {
        ASSERT_TRUE(car.contains(now)) << car.dump();
        car[before] = car[now];
        car.erase(now);
    }
    const auto read = project_from_json(old);
    ASSERT_TRUE(read.ok()) << read.error().message;
    EXPECT_EQ(read->document.vehicles, d.vehicles);
    EXPECT_TRUE(read->document.unknown.empty());
}

TEST(OwnChannels, AKeyedSlackIsWhatTheTensionerLeaves) {
    const Document d = run(run(tensioned(), keyed_slack(0, "1 mm")), keyed_slack(40, "9 mm"));
    for (const double frame : {0.0, 10.0, 33.5, 40.0})
        EXPECT_NEAR(shown_slack(d, frame), 0.001 + 0.008 * frame / 40, 1e-8) << frame;
    EXPECT_EQ(channel_name(d, slack_of(d)), "drive slack");
    for (const Finding& finding : check_document(d)) EXPECT_NE(finding.stage, Stage::Keys) << finding.message;
}

TEST(OwnChannels, AreSetLimitedLockedAndPutInRange) {
    Document d = run(tensioned(),
                     {{"op", "channel.set"}, {"elements", "drive"}, {"channel", "slack"}, {"value", "4 mm"}});
    EXPECT_NEAR(shown_slack(d, 0), 0.004, 1e-8);
    d = run(d, {{"op", "channel.limit"},
                {"elements", "drive"},
                {"channel", "slack"},
                {"min", "1 mm"},
                {"max", "3 mm"}});
    EXPECT_NEAR(shown_slack(d, 0), 0.003, 1e-8) << "limits hold at once";
    d = run(d, keyed_slack(0, "8 mm"));
    EXPECT_NEAR(shown_slack(d, 0), 0.003, 1e-8) << "and for keys";
    const auto findings = check_document(d);
    EXPECT_TRUE(std::any_of(findings.begin(), findings.end(), [](const Finding& f) {
        return f.code == "keys.limit" && f.message.find("'drive' is keyed to 8.000 mm") != std::string::npos;
    }));
    const json set{{"op", "channel.set"}, {"elements", "drive"}, {"channel", "slack"}, {"value", "-1 mm"}};
    EXPECT_EQ(refusal(d, set).message, "no slack is below zero");
    EXPECT_EQ(
        refusal(d, {{"op", "channel.limit"}, {"elements", "drive"}, {"channel", "slack"}, {"min", -1}}).code,
        "channel.range");
    d = run(d, {{"op", "channel.limit"}, {"elements", "drive"}, {"channel", "slack"}, {"locked", true}});
    EXPECT_EQ(refusal(d, keyed_slack(3, "2 mm")).code, "channel.locked");
}

TEST(OwnChannels, WhatHasNoneIsToldSo) {
    const Document d = tensioned();
    const auto code = [&](const json& more) {
        json step{{"op", "channel.set"}, {"value", 1}, {"channel", "slack"}};
        step.update(more);
        return refusal(d, step).code;
    };
    EXPECT_EQ(code({{"parts", "arm"}}), "channel.none");
    EXPECT_EQ(code({{"elements", "drive"}, {"channel", "turn"}}), "channel.none");
    EXPECT_EQ(code({{"elements", "cord"}}), "element.unknown");
    EXPECT_EQ(code({{"elements", {named(d, "arm").value}}}), "element.unknown");
    EXPECT_EQ(code({{"elements", json::array()}}), "argument.missing");
    EXPECT_EQ(code(json::object()), "argument.missing");
    const Document without = run(d, {{"op", "chain.set"}, {"chain", "drive"}, {"take_up", "drive"}});
    EXPECT_EQ(refusal(without, keyed_slack(0, "1 mm")).message, "'drive' has no slack");
    const auto evaluator = Evaluator::compile(without);
    EXPECT_FALSE(evaluator->channel_slot(slack_of(without)));
}

TEST(OwnChannels, ComeBackFromTheirFileAndOlderOnesOpen) {
    Document d = run(run(tensioned(), keyed_slack(0, "1 mm")), keyed_slack(40, "9 mm"));
    d = run(
        d,
        {{"op", "channel.limit"}, {"elements", "drive"}, {"channel", "slack"}, {"min", 0}, {"max", "9 mm"}});
    const auto back = project_from_bytes(*project_bytes(d), "chain");
    ASSERT_TRUE(back.ok()) << back.error().message;
    EXPECT_EQ(back->chains, d.chains);
    EXPECT_EQ(back->clips, d.clips);
    // As format 2 wrote a slack: a number.
    json old = rig_part(d);
    EXPECT_EQ(old["version"], 4);
    old["version"] = 2;
    old["chains"][0]["spare_m"] = 0.004;
    old["clips"][0]["tracks"] = json::array();
    const auto older = project_from_json(old);
    ASSERT_TRUE(older.ok()) << older.error().message;
    EXPECT_EQ(older->document.chains.begin()->slack, (Channel{0.004, std::nullopt, false}));
    // A key of nobody's is damage, not a crash.
    Document lost = d;
    Clip clip = *lost.clips.begin();
    clip.tracks[0].channel.owner = ChainId{999};
    lost.clips.set(clip);
    EXPECT_EQ(project_from_bytes(*project_bytes(lost), "chain").error().code, "project.damaged");
    clip.tracks[0].channel = {d.chains.begin()->id, ChannelKind::Turn};
    lost.clips.set(clip);
    EXPECT_EQ(project_from_bytes(*project_bytes(lost), "chain").error().code, "project.damaged");
}

TEST(OwnChannels, GoWithTheirElementAndAreCopiedWithIt) {
    const Document d = run(run(tensioned(), keyed_slack(0, "1 mm")), keyed_slack(40, "9 mm"));
    const Document gone = run(d, {{"op", "chain.remove"}, {"chain", "drive"}});
    EXPECT_TRUE(clip_or_first(gone).tracks.empty());
    const Document copied = run(
        d, {{"op", "part.duplicate"}, {"parts", {"drive", "small", "large", "arm"}}, {"shift", {0, 2, 0}}});
    ASSERT_EQ(copied.chains.size(), 2u);
    const Track* track = clip_or_first(copied).track({copied.chains.last().id, ChannelKind::Slack});
    ASSERT_TRUE(track);
    EXPECT_EQ(track->keys, clip_or_first(d).track(slack_of(d))->keys);
    const auto at = channels_at(d, named(d, "drive"));
    EXPECT_EQ(at, (std::vector<ChannelRef>{{named(d, "drive"), ChannelKind::Travel}, slack_of(d)}));
}

/// What keys ask of a channel is there beside what it is, also of one that is driven.
TEST(OwnChannels, AskedAndFinalStandBesideEachOther) {
    Document d = tensioned();
    const PartId arm = named(d, "arm");
    key(d, arm, {{0, 0.1, Interpolation::Linear}, {10, 0.3, Interpolation::Linear}});
    const auto evaluator = Evaluator::compile(d);
    Pose pose = evaluator->make_pose(), unkeyed = pose;
    evaluator->evaluate(5, pose);
    const std::size_t slot = *evaluator->channel_slot({arm, ChannelKind::Turn});
    EXPECT_NEAR(pose.asked[slot], 0.2, 1e-12);
    Evaluator::compile(tensioned())->evaluate(5, unkeyed);
    EXPECT_EQ(pose.channels[slot], unkeyed.channels[slot]) << "keys of a driven channel change nothing";
}

}  // namespace
}  // namespace pivrak
