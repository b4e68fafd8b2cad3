// Racks, worms, belts and screws as steps; pairs and chains in a project's file; findings of trains.
#include <gtest/gtest.h>

#include <cmath>

#include "core/checks/drive/train_report.h"
#include "core/checks/findings.h"
#include "core/io/project/project_file.h"
#include "core/motion/evaluator.h"
#include "core/rig/gears/gear_pair.h"
#include "tests/support/documents.h"
#include "tests/support/temp_folder.h"

namespace pivrak {
namespace {

using nlohmann::json;
using test::named;
using test::refusal;
using test::run;

Document with(const Document& d, const char* kind, const char* name, const json& more) {
    json step{{"op", "stand_in.add"}, {"kind", kind}, {"name", name}, {"axis", "y"}};
    step.update(more);
    return run(d, step);
}

Document hinged(const Document& d, const std::vector<std::string>& parts, const char* kind = "hinge",
                const char* axis = "x") {
    return run(d, {{"op", "joint.set"}, {"parts", parts}, {"kind", kind}, {"axis", axis}});
}

/// How far the driven channel goes for one turn or metre of the driver.
double ratio(const Document& d, ChannelRef driver, ChannelRef driven) {
    const auto evaluator = Evaluator::compile(d);
    EXPECT_TRUE(evaluator.ok());
    Pose pose = evaluator->make_pose();
    const std::size_t from = *evaluator->channel_slot(driver), to = *evaluator->channel_slot(driven);
    evaluator->evaluate(0, pose, HeldChannel{from, 0});
    const double before = pose.channels[to];
    evaluator->evaluate(0, pose, HeldChannel{from, 1});
    return pose.channels[to] - before;
}

/// Other sizes of a pair that stands: it turns by them, in either order, and is the same pair.
TEST(Pairs, SizesOfAPairAreChangedWhereItStands) {
    Document d = with(empty_document(), "gear", "small",
                      {{"teeth", 20}, {"module", 0.005}, {"width", 0.03}, {"at", {0, 0, 0}}});
    d = with(d, "gear", "large", {{"teeth", 60}, {"module", 0.005}, {"width", 0.03}, {"at", {0, 0, 0.2}}});
    d = hinged(d, {"small", "large"});
    d = run(d, {{"op", "coupling.gear"}, {"driver", "small"}, {"driven", "large"}});
    const CouplingId id = d.couplings.begin()->id;
    const ChannelRef small{named(d, "small"), ChannelKind::Turn}, large{named(d, "large"), ChannelKind::Turn};
    ASSERT_NEAR(ratio(d, small, large), -20.0 / 60, 1e-12);
    const Document typed = run(d, {{"op", "coupling.set"},
                                   {"driver", "large"},
                                   {"driven", "small"},
                                   {"driver_teeth", 50},
                                   {"driven_teeth", 25}});
    EXPECT_NEAR(ratio(typed, small, large), -25.0 / 50, 1e-12) << "by whichever name they are called";
    EXPECT_EQ(typed.couplings.begin()->id, id);
    const Document one =
        run(d, {{"op", "coupling.set"}, {"driver", "small"}, {"driven", "large"}, {"driven_teeth", 40}});
    EXPECT_NEAR(ratio(one, small, large), -20.0 / 40, 1e-12) << "the other one keeps its own";
    const Document rolled = run(d, {{"op", "coupling.set"},
                                    {"driver", "small"},
                                    {"driven", "large"},
                                    {"driver_radius", "10 cm"},
                                    {"driven_radius", "50 cm"}});
    EXPECT_NEAR(ratio(rolled, small, large), -0.2, 1e-12);
    EXPECT_NEAR(ratio(run(rolled, {{"op", "coupling.set"},
                                   {"driver", "small"},
                                   {"driven", "large"},
                                   {"driver_teeth", 20},
                                   {"driven_teeth", 60}}),
                      small, large),
                -20.0 / 60, 1e-12);
    EXPECT_TRUE(
        run(d, {{"op", "coupling.set"}, {"driver", "small"}, {"driven", "large"}, {"driven_teeth", 60}}) == d)
        << "as it was, tooth phase and all";
    EXPECT_EQ(
        refusal(d, {{"op", "coupling.set"}, {"driver", "small"}, {"driven", "large"}, {"driven_teeth", 2}})
            .code,
        "gear.teeth");
    EXPECT_EQ(refusal(run(d, {{"op", "coupling.remove"}, {"driven", {"large"}}}),
                      {{"op", "coupling.set"}, {"driver", "small"}, {"driven", "large"}})
                  .code,
              "gear.none");
}

TEST(Pairs, ARackGoesOnePitchPerTooth) {
    Document d = with(empty_document(), "gear", "pinion",
                      {{"teeth", 20}, {"module", 0.005}, {"width", 0.03}, {"at", {0, 0, 1}}});
    d = with(d, "box", "rack", {{"length", 1}, {"width", 0.03}, {"height", 0.04}, {"at", {0, 0, 1.05}}});
    d = hinged(hinged(d, {"pinion"}), {"rack"}, "slide");
    const Document racked = run(d, {{"op", "coupling.gear"}, {"driver", "pinion"}, {"driven", "rack"}});
    const GearPair& pair = *racked.couplings.begin()->as<GearPair>();
    EXPECT_EQ(pair.kind, PairKind::Rack) << "told by the slide";
    for (const char* kind : {"hinge", "fixed", "ball"}) {
        const Error used = refusal(racked, {{"op", "joint.set"}, {"parts", {"rack"}}, {"kind", kind}});
        EXPECT_EQ(used.code, "joint.coupled") << kind;
        EXPECT_NE(used.message.find("its pair with 'pinion' needs it"), std::string::npos) << used.message;
    }
    // A limit that stops a driven shift is told, in metres.
    Document stopped =
        run(racked,
            {{"op", "joint.set"}, {"parts", {"rack"}}, {"channel", "shift"}, {"min", -0.05}, {"max", 0.05}});
    stopped = run(stopped, {{"op", "clip.set"}, {"first_frame", 0}, {"last_frame", 10}});
    for (const int frame : {0, 10})
        stopped = run(stopped, {{"op", "key.set"},
                                {"parts", {"pinion"}},
                                {"frame", frame},
                                {"value", fmt::format("{} deg", 36 * frame)}});
    std::string told;
    for (const Finding& f : check_document(stopped))
        if (f.code == "limit.stops_gear") told += f.message;
    EXPECT_NE(told.find("'rack' is stopped by its limit"), std::string::npos);
    EXPECT_NE(told.find("50.0 mm"), std::string::npos) << told;
    // Source: ISO 53, pitch pi times module: 20 teeth of 5 mm go 100 pi mm in a turn.
    const double shift =
        ratio(racked, {named(d, "pinion"), ChannelKind::Turn}, {named(d, "rack"), ChannelKind::Shift});
    EXPECT_NEAR(std::abs(2 * pi * shift), 0.1 * pi, 1e-9);
    // The rack lies above a pinion whose axis is y: its top runs along +x as it turns left about y.
    const Vec3 axis = world_from_rest(d, named(d, "pinion")).axis(0);
    EXPECT_EQ(shift > 0, axis.cross(Vec3::UnitZ()).x() > 0);
    EXPECT_EQ(
        refusal(d, {{"op", "coupling.gear"}, {"driver", "pinion"}, {"driven", "rack"}, {"kind", "outside"}})
            .code,
        "gear.not_hinge");
}

TEST(Pairs, AHingeAcrossTheGearsAxisIsTheCauseThatIsTold) {
    Document d = with(empty_document(), "gear", "a",
                      {{"teeth", 17}, {"module", 0.008}, {"width", 0.05}, {"at", {0, 0, 1}}});
    d = with(d, "gear", "b", {{"teeth", 31}, {"module", 0.008}, {"width", 0.05}, {"at", {0.192, 0, 1}}});
    // The axis of these stand-ins is their own x.
    const Document across = hinged(hinged(d, {"a"}), {"b"}, "hinge", "z");
    const Error told =
        refusal(across, {{"op", "coupling.gear"}, {"driver", "a"}, {"driven", "b"}, {"kind", "outside"}});
    EXPECT_EQ(told.code, "gear.across");
    EXPECT_NE(told.message.find("'b' is round about its x"), std::string::npos) << told.message;
    EXPECT_NE(told.message.find("make it a hinge about x"), std::string::npos) << told.message;
    const Error rolls = refusal(across, {{"op", "coupling.roll"}, {"parts", {"b"}}});
    EXPECT_EQ(rolls.code, "roll.across");
    const Document along = hinged(d, {"a", "b"});
    const Document rolling = run(along, {{"op", "coupling.roll"}, {"parts", {"b"}}});
    EXPECT_EQ(rolling.couplings.size(), 1u);
}

TEST(Pairs, AToothedBeltRunsByItsTeeth) {
    Document d =
        with(empty_document(), "cylinder", "small", {{"diameter", 0.1}, {"length", 0.05}, {"at", {0, 0, 1}}});
    d = with(d, "cylinder", "large", {{"diameter", 0.25}, {"length", 0.05}, {"at", {0.6, 0, 1}}});
    d = hinged(d, {"small", "large"});
    json step{{"op", "coupling.gear"}, {"driver", "small"},  {"driven", "large"},
              {"kind", "belt"},        {"driver_teeth", 20}, {"driven_teeth", 60}};
    const Document belted = run(d, step);
    EXPECT_NEAR(ratio(belted, {named(d, "small"), ChannelKind::Turn}, {named(d, "large"), ChannelKind::Turn}),
                20.0 / 60, 1e-12);
    json half = step;
    half.erase("driven_teeth");
    EXPECT_EQ(refusal(d, half).code, "argument.missing");
    step["driver_radius"] = 0.1;
    EXPECT_EQ(refusal(d, step).code, "gear.belt");
}

TEST(Pairs, AxesThatPassEachOtherAreNoBevelsAndTeethMakeNoWorm) {
    Document d = with(empty_document(), "gear", "a",
                      {{"teeth", 19}, {"module", 0.008}, {"width", 0.05}, {"at", {0, 0, 1}}});
    json other{{"teeth", 57}, {"module", 0.008}, {"width", 0.05}, {"at", {0.3, 0, 2.18}}, {"axis", "x"}};
    d = with(d, "gear", "b", other);
    d = hinged(d, {"a", "b"});
    const Error skew =
        refusal(d, {{"op", "coupling.gear"}, {"driver", "a"}, {"driven", "b"}, {"kind", "bevel"}});
    EXPECT_EQ(skew.code, "gear.skew");
    EXPECT_NE(skew.message.find("1.180 m apart"), std::string::npos) << skew.message;
    const Error kind = refusal(d, {{"op", "coupling.gear"},
                                   {"driver", "b"},
                                   {"driven", "a"},
                                   {"driver_teeth", 57},
                                   {"driven_teeth", 19}});
    EXPECT_EQ(kind.code, "gear.kind") << kind.message;
}

TEST(Pairs, OneWayToSayARatio) {
    EXPECT_EQ(ratio_words(-1.0 / 3), "3 : 1, driver : driven, opposite ways");
    EXPECT_EQ(ratio_words(2.5), "1 : 2.5, driver : driven, the same way");
    EXPECT_EQ(ratio_words(1), "1 : 1, driver : driven, the same way");
    EXPECT_EQ(ratio_words(0), "driven stands still");
    Document d = with(empty_document(), "gear", "a",
                      {{"teeth", 17}, {"module", 0.008}, {"width", 0.05}, {"at", {0, 0, 1}}});
    d = with(d, "gear", "b", {{"teeth", 51}, {"module", 0.008}, {"width", 0.05}, {"at", {0.272, 0, 1}}});
    d = hinged(d, {"a", "b"});
    const auto coupled = make_registry().run(d, {{"op", "coupling.gear"}, {"driver", "a"}, {"driven", "b"}});
    ASSERT_TRUE(coupled.ok());
    const std::string words = "3 : 1, driver : driven, opposite ways";
    EXPECT_NE(coupled->messages.front().find(words), std::string::npos) << coupled->messages.front();
    EXPECT_EQ(report_trains(coupled->document).trains[0].lines[1].words, words + " (51/17)");
}

TEST(Pairs, BeltsGoByTheRadiiOfTheirPulleys) {
    Document d =
        with(empty_document(), "cylinder", "small", {{"diameter", 0.1}, {"length", 0.05}, {"at", {0, 0, 1}}});
    d = with(d, "cylinder", "large", {{"diameter", 0.25}, {"length", 0.05}, {"at", {0.6, 0, 1}}});
    d = hinged(d, {"small", "large"});
    const ChannelRef small{named(d, "small"), ChannelKind::Turn}, large{named(d, "large"), ChannelKind::Turn};
    const auto belt = [&](const char* kind) {
        return run(d, {{"op", "coupling.gear"}, {"driver", "small"}, {"driven", "large"}, {"kind", kind}});
    };
    EXPECT_NEAR(ratio(belt("belt"), small, large), 0.4, 1e-3) << "radii measured on round shapes of 48 sides";
    EXPECT_NEAR(ratio(belt("crossed_belt"), small, large), -0.4, 1e-3);
}

TEST(Pairs, AWormTurnsItsWheelByOneToothPerStart) {
    Document d = with(empty_document(), "cylinder", "worm",
                      {{"diameter", 0.04}, {"length", 0.1}, {"axis", "x"}, {"at", {0, 0, 1.12}}});
    d = with(d, "gear", "wheel", {{"teeth", 40}, {"module", 0.005}, {"width", 0.03}, {"at", {0, 0, 1}}});
    d = hinged(d, {"worm", "wheel"});
    const Document wormed =
        run(d, {{"op", "coupling.gear"}, {"driver", "worm"}, {"driven", "wheel"}, {"driver_teeth", 2}});
    EXPECT_EQ(wormed.couplings.begin()->as<GearPair>()->kind, PairKind::Worm)
        << "axes pass each other at right angles";
    const ChannelRef worm{named(d, "worm"), ChannelKind::Turn}, wheel{named(d, "wheel"), ChannelKind::Turn};
    EXPECT_NEAR(std::abs(ratio(wormed, worm, wheel)), 2.0 / 40, 1e-12);
    const Document left = run(d, {{"op", "coupling.gear"},
                                  {"driver", "worm"},
                                  {"driven", "wheel"},
                                  {"driver_teeth", 2},
                                  {"hand", "left"}});
    EXPECT_NEAR(ratio(left, worm, wheel), -ratio(wormed, worm, wheel), 1e-12);
    EXPECT_EQ(
        refusal(d, {{"op", "coupling.gear"}, {"driver", "worm"}, {"driven", "wheel"}, {"driver_teeth", 0}})
            .code,
        "gear.teeth");
}

TEST(Pairs, AScrewShiftsItsNutByItsLead) {
    Document d = empty_document();
    for (const char* name : {"screw", "nut", "jack"}) test::add_part(d, name);
    d = hinged(hinged(hinged(d, {"screw"}), {"nut"}, "slide"), {"jack"}, "cylinder");
    const Document pair =
        run(d, {{"op", "coupling.gear"}, {"driver", "screw"}, {"driven", "nut"}, {"lead", "5 mm"}});
    EXPECT_NEAR(
        ratio(pair, {named(d, "screw"), ChannelKind::Turn}, {named(d, "nut"), ChannelKind::Shift}) * 2 * pi,
        -0.005, 1e-12);
    const Document own =
        run(d, {{"op", "coupling.gear"}, {"driver", "jack"}, {"driven", "jack"}, {"lead", "5 mm"}});
    EXPECT_NEAR(
        ratio(own, {named(d, "jack"), ChannelKind::Turn}, {named(d, "jack"), ChannelKind::Shift}) * 2 * pi,
        0.005, 1e-12)
        << "a right-hand screw goes ahead along its axis";
    EXPECT_EQ(refusal(d, {{"op", "coupling.gear"}, {"driver", "screw"}, {"driven", "nut"}}).code,
              "gear.lead");
}

/// Three gears in a row on one part.
Document row_of_gears() {
    Document d = empty_document();
    double x = 0;
    for (const auto& [name, teeth] : {std::pair{"a", 20}, {"b", 30}, {"c", 24}}) {
        d = with(d, "gear", name,
                 {{"teeth", teeth}, {"module", 0.004}, {"width", 0.02}, {"at", {x + 0.002 * teeth, 0, 1}}});
        x += 0.004 * teeth;
    }
    return hinged(d, {"a", "b", "c"});
}

TEST(Pairs, APairThatWouldStopItsTrainIsRefusedByName) {
    Document d = row_of_gears();
    for (const auto& [driver, driven] : {std::pair{"a", "b"}, {"b", "c"}})
        d = run(d, {{"op", "coupling.gear"}, {"driver", driver}, {"driven", driven}});
    const Error stuck = refusal(d, {{"op", "coupling.gear"}, {"driver", "a"}, {"driven", "c"}});
    EXPECT_EQ(stuck.code, "train.stuck");
    for (const char* name : {"'a'", "'b'", "'c'"})
        EXPECT_NE(stuck.message.find(name), std::string::npos) << stuck.message;
    // Removed by both names, the other pair stays.
    const Document less = run(d, {{"op", "coupling.remove"}, {"driven", {"c"}}, {"driver", "b"}});
    EXPECT_EQ(less.couplings.size(), 1u);
}

TEST(Pairs, TeethThatMissEachOtherAreAFinding) {
    Document d = row_of_gears();
    for (const auto& [driver, driven] : {std::pair{"a", "b"}, {"b", "c"}})
        d = run(d, {{"op", "coupling.gear"}, {"driver", driver}, {"driven", driven}});
    const auto told = [](const Document& document) {
        for (const Finding& f : check_document(document))
            if (f.code == "gear.teeth_miss") return f.message;
        return std::string();
    };
    EXPECT_EQ(told(d), "");
    // A fourth gear closes a ring of four; where it stands by its distances alone it cannot mesh with both.
    const double arm_a = 0.002 * (20 + 40), arm_c = 0.002 * (24 + 40), a = 0.04, c = 0.248;
    const double x = (arm_a * arm_a - arm_c * arm_c + c * c - a * a) / (2 * (c - a));
    const double z = 1 + std::sqrt(arm_a * arm_a - (x - a) * (x - a));
    d = with(d, "gear", "d", {{"teeth", 40}, {"module", 0.004}, {"width", 0.02}, {"at", {x, 0, z}}});
    d = hinged(d, {"d"});
    d = run(d, {{"op", "coupling.gear"}, {"driver", "a"}, {"driven", "d"}});
    d = run(d, {{"op", "coupling.gear"}, {"driver", "d"}, {"driven", "c"}});
    EXPECT_NE(told(d), "") << "nothing makes teeth of a ring of four meet by themselves";
}

TEST(Pairs, AndChainsComeBackFromTheirFile) {
    Document d = with(empty_document(), "sprocket", "small",
                      {{"teeth", 19}, {"chain", "16B"}, {"width", 0.016}, {"at", {0, 0, 1}}});
    d = with(d, "sprocket", "large",
             {{"teeth", 38}, {"chain", "16B"}, {"width", 0.016}, {"at", {0.7, 0, 1}}});
    d = with(d, "wheel", "roller", {{"diameter", 0.06}, {"width", 0.02}, {"at", {0.3, 0, 0.9}}});
    const PartId arm = test::add_part(d, "arm", {}, {Quat(1, 0, 0, 0), Vec3(0.6, 0, 0.85)});
    d = hinged(hinged(d, {"small", "large", "roller"}), {"arm"}, "hinge", "y");
    d = run(d, {{"op", "tree.parent"}, {"parts", {"roller"}}, {"under", "arm"}});
    d = run(d, {{"op", "chain.add"},
                {"wheels", {"small", "large", "roller"}},
                {"outside", {"roller"}},
                {"take_up", "arm"},
                {"spare", "2 mm"}});
    d = with(d, "outer link", "link", {{"at", {2, 0, 0}}});
    d = run(d, {{"op", "chain.build"}, {"chain", "Chain"}, {"parts", {"link"}}});
    test::add_part(d, "screw");
    test::add_part(d, "nut");
    d = hinged(hinged(d, {"screw"}), {"nut"}, "slide");
    d = run(d, {{"op", "coupling.gear"},
                {"driver", "screw"},
                {"driven", "nut"},
                {"lead", "4 mm"},
                {"hand", "left"}});
    test::TempFolder folder;
    ASSERT_TRUE(save_project(d, folder / "chain.pivrak.glb").ok());
    const auto back = open_project(folder / "chain.pivrak.glb");
    ASSERT_TRUE(back.ok()) << back.error().message;
    EXPECT_EQ(*back->chains.begin(), *d.chains.begin());
    EXPECT_TRUE(back->couplings == d.couplings);
    EXPECT_EQ(back->parts.find(d.chains.begin()->frame)->chain, d.chains.begin()->id);
    EXPECT_EQ(back->chains.begin()->take_up, arm);
    // Without its datum there is no chain, and nothing names it any more.
    const Document gone = run(d, {{"op", "part.remove"}, {"parts", {"Chain"}}});
    EXPECT_EQ(gone.chains.size(), 0u);
    EXPECT_TRUE(Evaluator::compile(gone).ok());
}

TEST(TrainReport, NamesDriversRatiosAndWhatIsHeld) {
    Document d = row_of_gears();
    d = run(d, {{"op", "coupling.gear"}, {"driver", "a"}, {"driven", "b"}});
    const TrainReport report = report_trains(d);
    ASSERT_EQ(report.trains.size(), 1u);
    ASSERT_EQ(report.trains[0].lines.size(), 2u);
    EXPECT_EQ(report.trains[0].lines[0].words, "free");
    EXPECT_EQ(report.trains[0].lines[1].words, "1.5 : 1, driver : driven, opposite ways (30/20)");
    const Document held =
        run(d, {{"op", "joint.set"}, {"parts", {"a"}}, {"channel", "turn"}, {"locked", true}});
    const TrainReport stopped = report_trains(held);
    ASSERT_EQ(stopped.trains.size(), 1u);
    for (const TrainLine& line : stopped.trains[0].lines) EXPECT_EQ(line.state, ShaftState::Held);
}

}  // namespace
}  // namespace pivrak
