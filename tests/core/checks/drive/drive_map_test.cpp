#include "core/checks/drive/drive_map.h"

#include <gtest/gtest.h>

#include <algorithm>

#include "tests/support/documents.h"

namespace pivrak {
namespace {

using test::named;
using test::run;

std::vector<std::string> lines(const Document& d, const DriveMap& map) {
    std::vector<std::string> all;
    for (const DriveEdge& edge : map.edges)
        all.push_back(channel_name(d, edge.from) + " > " + channel_name(d, edge.to) + ": " + edge.label);
    std::sort(all.begin(), all.end());
    return all;
}

std::vector<std::string> lines(const Document& d) {
    return lines(d, drive_map(d, clip_or_first(d)));
}

/// Gears a, b, c in a row, and d that nothing drives.
Document row() {
    Document d = empty_document();
    for (const char* name : {"a", "b", "c", "d"}) test::make_hinge(d, test::add_part(d, name));
    test::couple(d, named(d, "a"), named(d, "b"), 17, 51);
    test::couple(d, named(d, "b"), named(d, "c"), 20, 30);
    return d;
}

TEST(DriveMap, ShowsTeethFromDriverToDriven) {
    EXPECT_EQ(lines(row()),
              (std::vector<std::string>{"a turn > b turn: 17 : 51", "b turn > c turn: 20 : 30"}));
    EXPECT_EQ(drive_map(row(), clip_or_first(row())).channels.size(), 3u) << "what moves nothing is left out";
}

TEST(DriveMap, TurnsRoundWithTheKeysThatDrive) {
    Document d = row();
    test::key(d, named(d, "c"), {{0, 0}, {10, 1}});
    EXPECT_EQ(lines(d), (std::vector<std::string>{"b turn > a turn: 51 : 17", "c turn > b turn: 30 : 20"}));
}

TEST(DriveMap, KeepsToWhatIsAbout) {
    Document d = row();
    test::couple(d, named(d, "a"), named(d, "d"), 10, 10);
    const DriveMap map = drive_map(d, clip_or_first(d));
    EXPECT_EQ(lines(d, around(map, {named(d, "b")})),
              (std::vector<std::string>{"a turn > b turn: 17 : 51", "b turn > c turn: 20 : 30"}));
    EXPECT_EQ(around(map, {named(d, "a")}), map);
}

void make_slide(Document& d, PartId id) {
    Part part = *d.parts.find(id);
    part.joint.kind = JointKind::Slide;
    part.joint.axis = 0;
    d.parts.set(part);
}

TEST(DriveMap, TellsRadiiAndLeadsWhereNoTeethTell) {
    Document d = row();
    make_slide(d, named(d, "d"));
    const auto couple = [&](const char* driver, const char* driven, PairKind kind, auto change) {
        GearPair pair{{named(d, driver), ChannelKind::Turn}, {named(d, driven), ChannelKind::Turn}};
        pair.kind = kind;
        if (kind == PairKind::Rack || kind == PairKind::Screw) pair.driven.kind = ChannelKind::Shift;
        change(pair);
        Document coupled = d;
        coupled.couplings = {};
        coupled.couplings.set({coupled.new_id<CouplingId>(), pair});
        return lines(coupled);
    };
    using Lines = std::vector<std::string>;
    EXPECT_EQ(couple("a", "d", PairKind::Rack, [](GearPair& p) { p.driver_radius_m = 0.06; }),
              (Lines{"a turn > d shift: r 60.0 mm"}));
    EXPECT_EQ(couple("a", "d", PairKind::Screw, [](GearPair& p) { p.lead_m = 0.005; }),
              (Lines{"a turn > d shift: lead 5.0 mm"}));
    EXPECT_EQ(couple("a", "b", PairKind::Belt,
                     [](GearPair& p) { p.driver_radius_m = 0.05, p.driven_radius_m = 1.2; }),
              (Lines{"a turn > b turn: 50.0 mm : 1.200 m"}));
}

TEST(DriveMap, TellsWheelsThatRollAndSteer) {
    Document d = row();
    d.couplings = {};
    Roll track;
    track.driven = {named(d, "b"), ChannelKind::Turn};
    track.like = named(d, "a");
    d.couplings.set({d.new_id<CouplingId>(), track});
    d.couplings.set({d.new_id<CouplingId>(),
                     Steer{{named(d, "c"), ChannelKind::Turn}, {named(d, "d"), ChannelKind::Turn}}});
    // One that rolls by any motion has nobody to name.
    Roll alone;
    alone.driven = {named(d, "a"), ChannelKind::Turn};
    d.couplings.set({d.new_id<CouplingId>(), alone});
    EXPECT_EQ(lines(d), (std::vector<std::string>{"a turn > b turn: one track", "c turn > d turn: steers"}));
}

TEST(DriveMap, RoadWheelsThatRollAreNotTheirTracks) {
    Document d = row();
    d.couplings = {};
    Chain track;
    track.id = d.new_id<ChainId>();
    track.frame = test::add_part(d, "track");
    track.pitch_m = 0.1;
    track.link_count = 40;
    track.wheels = {{named(d, "a"), 12}, {named(d, "b"), 0, 0.3}, {named(d, "c"), 0, 0.2}};
    d.chains.set(track);
    Part frame = *d.parts.find(track.frame);
    frame.chain = track.id;
    d.parts.set(frame);
    Roll roll;
    roll.driven = {named(d, "b"), ChannelKind::Turn};
    d.couplings.set({d.new_id<CouplingId>(), roll});
    EXPECT_EQ(lines(d),
              (std::vector<std::string>{"a turn > track travel: 12 T", "track travel > c turn: r 200.0 mm"}));
}

TEST(DriveMap, NamesWhatAHoistMoves) {
    Document d = empty_document();
    for (const auto& [name, x, z] : {std::tuple("drum", -1.5, 2.0), std::tuple("pulley", 0.0, 4.0)})
        d = run(d, {{"op", "stand_in.add"},
                    {"kind", "wheel"},
                    {"name", name},
                    {"diameter", 0.3},
                    {"width", 0.1},
                    {"axis", "y"},
                    {"at", {x, 0, z}}});
    d = run(d, {{"op", "joint.set"}, {"parts", {"drum", "pulley"}}, {"kind", "hinge"}, {"axis", "x"}});
    d = run(d, {{"op", "stand_in.add"}, {"kind", "box"}, {"name", "hook"}, {"at", {0.15, 0, 1}}});
    d = run(d, {{"op", "joint.set"}, {"parts", {"hook"}}, {"kind", "slide"}, {"axis", "z"}});
    const auto rope = [&](const char* pulls) {
        return lines(run(d, {{"op", "chain.run"},
                             {"wheels", {"drum", "pulley"}},
                             {"to", "hook"},
                             {"pulls", pulls},
                             {"pitch", 0.03},
                             {"name", "rope"}}));
    };
    EXPECT_EQ(rope("hook"), (std::vector<std::string>{"drum turn > rope travel: pays out",
                                                      "rope travel > hook shift: pulls",
                                                      "rope travel > pulley turn: r 150.0 mm"}));
    EXPECT_EQ(rope("drum"), (std::vector<std::string>{"hook shift > rope travel: draws",
                                                      "rope travel > drum turn: pays out",
                                                      "rope travel > pulley turn: r 150.0 mm"}));
}

TEST(DriveMap, NamesWhatACordPullsThatIsTiedAtBothEnds) {
    Document d = empty_document();
    const auto make = [&](nlohmann::json step) {
        step["op"] = "stand_in.add";
        d = run(d, step);
    };
    make({{"kind", "wheel"},
          {"name", "pulley"},
          {"diameter", 0.3},
          {"width", 0.1},
          {"axis", "y"},
          {"at", {0, 0, 4}}});
    make({{"kind", "box"}, {"name", "arm"}, {"at", {-1.5, 0, 2}}});
    make({{"kind", "box"}, {"name", "hook"}, {"at", {0.15, 0, 1}}});
    d = run(d, {{"op", "joint.set"}, {"parts", {"pulley"}}, {"kind", "hinge"}, {"axis", "x"}});
    d = run(d, {{"op", "joint.set"}, {"parts", {"arm"}}, {"kind", "slide"}, {"axis", "x"}});
    d = run(d, {{"op", "joint.set"}, {"parts", {"hook"}}, {"kind", "slide"}, {"axis", "z"}});
    d = run(d, {{"op", "chain.run"},
                {"wheels", {"pulley"}},
                {"from", "arm"},
                {"to", "hook"},
                {"pulls", "hook"},
                {"pitch", 0.03},
                {"name", "cord"}});
    EXPECT_EQ(lines(d), (std::vector<std::string>{"arm shift > hook shift: pulls",
                                                  "arm shift > pulley turn: r 150.0 mm"}));
}

/// Twenty flaps by one handle are one box; the one with a gain of its own stays by itself.
TEST(DriveMap, WhatDoesTheSameBecomesOneBox) {
    Document d = empty_document();
    const PartId handle = test::add_part(d, "handle");
    test::make_hinge(d, handle);
    for (int i = 0; i < 20; ++i) {
        const std::string name = "flap" + std::to_string(i);
        test::make_hinge(d, test::add_part(d, name));
        d = test::run(
            d, {{"op", "follow.add"}, {"parts", {name}}, {"driver", "handle"}, {"gain", i == 7 ? 3 : 2}});
    }
    const DriveMap whole = drive_map(d, clip_or_first(d)), map = folded(whole, 4);
    EXPECT_EQ(whole.channels.size(), 21u);
    EXPECT_EQ(map.channels.size(), 3u);
    EXPECT_EQ(map.edges.size(), 2u);
    ASSERT_EQ(map.folded.size(), 1u);
    EXPECT_EQ(map.folded.begin()->first.part(), test::named(d, "flap0"));
    EXPECT_EQ(map.folded.begin()->second.size(), 18u);
    EXPECT_EQ(folded(whole, 30), whole) << "too few of them";
}

TEST(DriveMap, ArrowsKnowWhatTheyAreDrawnForAndWhatIsOff) {
    Document d = row();
    d = test::run(d, {{"op", "follow.add"}, {"parts", {"d"}}, {"driver", "a"}, {"gain", 2}});
    const auto arrow = [](const Document& document) {
        const DriveMap map = drive_map(document, clip_or_first(document));
        return *std::find_if(map.edges.begin(), map.edges.end(),
                             [&](const DriveEdge& edge) { return edge.to.part() == named(document, "d"); });
    };
    const Coupling* by = d.couplings.find(CouplingId{arrow(d).by.value});
    ASSERT_TRUE(by && by->as<Follow>());
    EXPECT_FALSE(arrow(d).off);
    EXPECT_TRUE(arrow(test::run(d, {{"op", "driver.off"}, {"parts", {"d"}}})).off);
}

TEST(DriveMap, ContradictionsAreNamed) {
    Document d = row();
    EXPECT_TRUE(drive_map(d, clip_or_first(d)).clashes.empty());
    test::key(d, named(d, "a"), {{0, 0}, {10, 1}});
    test::key(d, named(d, "c"), {{0, 0}, {10, 1}});
    const DriveMap map = drive_map(d, clip_or_first(d));
    EXPECT_EQ(map.clashes.size(), 2u) << "both ends of one train have keys";
    EXPECT_TRUE(map.clashes.contains({named(d, "a"), ChannelKind::Turn}));
}

/// Two machines under one base: what goes on inside them is folded, what goes from one to the other stays.
TEST(DriveMap, BranchesAndSetsBecomeOneBoxEach) {
    Document d = empty_document();
    const PartId base = test::add_part(d, "base");
    for (const char* machine : {"mill", "press"}) {
        const PartId frame = test::add_part(d, machine, base);
        for (const char* shaft : {" in", " out"})
            test::make_hinge(d, test::add_part(d, machine + std::string(shaft), frame));
        test::couple(d, named(d, machine + std::string(" in")), named(d, machine + std::string(" out")), 17,
                     51);
    }
    for (const char* follower : {"press in"})
        d = test::run(d, {{"op", "follow.add"}, {"parts", {follower}}, {"driver", "mill out"}});
    const DriveMap whole = drive_map(d, clip_or_first(d)), map = by_branch(whole, d);
    ASSERT_EQ(whole.channels.size(), 4u);
    ASSERT_EQ(map.channels.size(), 2u);
    ASSERT_EQ(map.edges.size(), 1u);
    EXPECT_EQ(map.titles.at(map.edges[0].from), "mill");
    EXPECT_EQ(map.titles.at(map.edges[0].to), "press");
    EXPECT_EQ(map.edges[0].label, "× 1");
    d = test::run(d,
                  {{"op", "set.make"}, {"name", "drives"}, {"parts", {"mill in", "mill out", "press in"}}});
    const DriveMap sets = by_set(drive_map(d, clip_or_first(d)), d);
    ASSERT_EQ(sets.channels.size(), 2u) << "what is in no set stands for itself";
    ASSERT_EQ(sets.edges.size(), 1u);
    EXPECT_EQ(sets.titles.at(sets.edges[0].from), "drives");
    EXPECT_EQ(sets.titles.count(sets.edges[0].to), 0u);
}

}  // namespace
}  // namespace pivrak
