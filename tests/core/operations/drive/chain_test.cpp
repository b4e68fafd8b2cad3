#include <fmt/format.h>
#include <gtest/gtest.h>

#include <cmath>
#include <set>

#include "core/checks/drive/chain_check.h"
#include "core/checks/findings.h"
#include "core/elements/chain/chain_motion.h"
#include "core/geometry/teeth/gear_shapes.h"
#include "core/io/project/project_file.h"
#include "core/io/project/project_json.h"
#include "core/motion/evaluator.h"
#include "core/rig/chains/chain_remedies.h"
#include "core/rig/gears/train.h"
#include "tests/support/documents.h"

namespace pivrak {
namespace {

using nlohmann::json;
using test::named;
using test::refusal;
using test::run;

/// Two sprockets of a 16B chain whose axes run along y, as stand-ins, and an idler on an arm.
Document two_sprockets(double centres = 0.7) {
    Document d = empty_document();
    const auto sprocket = [&](const char* name, int teeth, double x, double z) {
        d = run(d, {{"op", "stand_in.add"},
                    {"kind", "sprocket"},
                    {"name", name},
                    {"teeth", teeth},
                    {"chain", "16B"},
                    {"width", 0.016},
                    {"axis", "y"},
                    {"at", {x, 0, z}}});
    };
    sprocket("small", 19, 0, 1);
    sprocket("large", 38, centres, 1);
    d = run(d, {{"op", "stand_in.add"},
                {"kind", "wheel"},
                {"name", "roller"},
                {"diameter", 0.06},
                {"width", 0.02},
                {"axis", "y"},
                {"at", {0.3, 0, 0.9}}});
    d = run(d, {{"op", "stand_in.add"}, {"kind", "inner link"}, {"name", "inner"}, {"at", {3, 0, 0}}});
    d = run(d, {{"op", "stand_in.add"}, {"kind", "outer link"}, {"name", "outer"}, {"at", {3.1, 0, 0}}});
    return run(
        d, {{"op", "joint.set"}, {"parts", {"small", "large", "roller"}}, {"kind", "hinge"}, {"axis", "x"}});
}

Document chained(const json& more = json::object(), double centres = 0.7) {
    json step{{"op", "chain.add"}, {"wheels", {"small", "large"}}, {"pattern", 2}, {"name", "drive"}};
    step.update(more);
    return run(two_sprockets(centres), step);
}

const Chain& only_chain(const Document& d) {
    return *d.chains.begin();
}

TEST(ChainAdd, MeasuresTeethPitchAndPlane) {
    const Document d = chained();
    const Chain& chain = only_chain(d);
    EXPECT_NEAR(chain.pitch_m, 0.0254, 1e-12) << "16B, ISO 606, told from the sprocket's tips";
    ASSERT_EQ(chain.wheels.size(), 2u);
    EXPECT_EQ(chain.wheels[0].teeth, 19);
    EXPECT_EQ(chain.wheels[1].teeth, 38);
    // Source: ISO 10823, X0 = 2a/p + (z1+z2)/2 + ((z2-z1)/2pi)^2 p/a = 83.95; the next even number.
    EXPECT_EQ(chain.link_count, 84);
    const Part& datum = *d.parts.find(chain.frame);
    EXPECT_EQ(datum.name, "drive");
    EXPECT_TRUE(datum.has(ChannelKind::Travel));
    EXPECT_NEAR(std::abs(world_from_rest(d, chain.frame).axis(2).y()), 1, 1e-9);
}

TEST(ChainAdd, SprocketsTurnByTheirTeethWhicheverDrives) {
    const auto values = [](Document d, const char* driver, double turn) {
        test::key(d, named(d, driver), {{0, turn, Interpolation::Linear}});
        const auto evaluator = Evaluator::compile(d);
        Pose pose = evaluator->make_pose();
        evaluator->evaluate(0, pose);
        const auto at = [&](const char* name, ChannelKind kind) {
            return pose.channels[*evaluator->channel_slot({named(d, name), kind})];
        };
        const double rest = d.chains.begin()->wheels[1].phase_rad;
        return std::array{at("small", ChannelKind::Turn), at("large", ChannelKind::Turn) - rest,
                          at("drive", ChannelKind::Travel)};
    };
    const Document d = chained();
    const auto by_small = values(d, "small", 2 * pi);
    EXPECT_NEAR(by_small[1], pi, 1e-9);
    EXPECT_NEAR(std::abs(by_small[2]), 19 * 0.0254, 1e-12);
    const double rest = only_chain(d).wheels[1].phase_rad;
    const auto by_large = values(d, "large", rest + pi);
    EXPECT_NEAR(by_large[0], 2 * pi, 1e-9);
}

/// The largest difference between the pitch and the way from each link's pivot to the next one's.
double worst_pitch(const Document& d, double frame) {
    const Chain& chain = only_chain(d);
    const auto evaluator = Evaluator::compile(d);
    Pose pose = evaluator->make_pose();
    evaluator->evaluate(frame, pose);
    double worst = 0;
    const auto place = [&](std::size_t i) {
        return pose.world_from_part[*evaluator->part_slot(chain.links[i % chain.links.size()])].translation;
    };
    for (std::size_t i = 0; i < chain.links.size(); ++i)
        worst = std::max(worst, std::abs((place(i + 1) - place(i)).norm() - chain.pitch_m));
    return worst;
}

TEST(ChainBuild, MakesRealPartsThatShareTwoShapesAndStayOnePitchApart) {
    Document d = run(chained(), {{"op", "chain.build"}, {"chain", "drive"}, {"parts", {"inner", "outer"}}});
    const Chain& chain = only_chain(d);
    ASSERT_EQ(chain.links.size(), 84u);
    EXPECT_EQ(d.parts.find(chain.links[0])->name, "drive link 01");
    EXPECT_EQ(d.parts.find(chain.links[83])->name, "drive link 84");
    std::set<ShapeId> shapes;
    for (const PartId link : chain.links) shapes.insert(d.parts.find(link)->shape);
    EXPECT_EQ(shapes.size(), 2u);
    EXPECT_NE(d.parts.find(chain.links[0])->shape, d.parts.find(chain.links[1])->shape);
    test::key(d, named(d, "small"), {{0, 0, Interpolation::Linear}, {48, 5 * pi, Interpolation::Linear}});
    for (const double frame : {0.0, 7.3, 31.0, 48.0}) EXPECT_LT(worst_pitch(d, frame), 1e-9);
    EXPECT_TRUE(check_document(d).empty() || check_document(d)[0].stage != Stage::Rig)
        << check_document(d)[0].message;
}

TEST(ChainBuild, RollersSitInTheGapsOfTheTeeth) {
    const Document d =
        run(chained(), {{"op", "chain.build"}, {"chain", "drive"}, {"parts", {"inner", "outer"}}});
    const Chain& chain = only_chain(d);
    const auto evaluator = Evaluator::compile(d);
    Pose pose = evaluator->make_pose();
    evaluator->evaluate(0, pose);
    for (std::size_t w = 0; w < 2; ++w) {
        const Part& wheel = *d.parts.find(chain.wheels[w].part);
        const Frame world = pose.world_from_part[*evaluator->part_slot(wheel.id)] * wheel.part_from_shape;
        const double radius = pitch_radius(chain.pitch_m, chain.wheels[w].teeth);
        int seated = 0;
        for (const PartId link : chain.links) {
            const Vec3 pin = pose.world_from_part[*evaluator->part_slot(link)].translation;
            const Vec3 hub = pose.world_from_part[*evaluator->part_slot(wheel.id)].translation;
            if (std::abs(std::hypot(pin.x() - hub.x(), pin.z() - hub.z()) - radius) > 1e-9) continue;
            ++seated;
            double nearest = 1e9;
            for (const Vec3f& corner : d.shapes.find(wheel.shape)->mesh->positions) {
                const Vec3 at = world.point(corner.cast<double>());
                nearest = std::min(nearest, std::hypot(at.x() - pin.x(), at.z() - pin.z()));
            }
            // Source: ISO 606:2015, roller seating radius 0.505 d1 at least, and 0.069 cube root of d1 [mm]
            // more at most; d1 is 15.88 mm. Every corner of a seat is that far from a pin that sits in its
            // middle.
            EXPECT_GE(nearest, 8.019e-3) << wheel.name;
            EXPECT_LE(nearest, 8.193e-3) << wheel.name;
        }
        EXPECT_GT(seated, 7);
    }
}

TEST(ChainFit, EveryRemedyTakesWholeLinks) {
    Document d =
        run(two_sprockets(0.713), {{"op", "chain.add"}, {"wheels", {"small", "large"}}, {"name", "drive"}});
    const auto remedies = chain_remedies(d, only_chain(d));
    std::set<RemedyKind> kinds;
    for (const ChainRemedy& remedy : remedies) {
        SCOPED_TRACE(remedy_words(d, only_chain(d), remedy));
        kinds.insert(remedy.kind);
        Document fitted = d;
        Chain chain = only_chain(d);
        apply_remedy(fitted, chain, remedy);
        const double needed = needed_length(chain_loop(fitted, chain));
        if (remedy.kind == RemedyKind::Sag) {
            EXPECT_GE(chain.link_count * chain.pitch_m, needed);
        } else {
            EXPECT_NEAR(chain.link_count * chain.pitch_m, needed, 1e-6 * chain.pitch_m);
        }
    }
    EXPECT_EQ(kinds.size(), 3u) << "moved, let sag, pitch off; nothing is carried by an arm";
    // By the operation, with the sprocket really moved.
    const Document moved =
        run(d, {{"op", "chain.fit"}, {"chain", "drive"}, {"remedy", "move"}, {"part", "large"}});
    const double way = (world_from_rest(moved, named(moved, "large")).translation -
                        world_from_rest(d, named(d, "large")).translation)
                           .norm();
    EXPECT_GT(way, 1e-4);
    EXPECT_LT(way, 0.02);
}

TEST(ChainFit, AnArmTurnsItsRollerIntoTheChain) {
    Document d = two_sprockets(0.713);
    const PartId arm = test::add_part(d, "arm", {}, {Quat(1, 0, 0, 0), Vec3(0.15, 0, 0.7)});
    d = run(d, {{"op", "joint.set"}, {"parts", {"arm"}}, {"kind", "hinge"}, {"axis", "y"}});
    d = run(d, {{"op", "tree.parent"}, {"parts", {"roller"}}, {"under", "arm"}});
    d = run(d, {{"op", "chain.add"},
                {"wheels", {"small", "large", "roller"}},
                {"outside", {"roller"}},
                {"name", "drive"}});
    EXPECT_TRUE(only_chain(d).wheels[2].outside);
    const auto remedies = chain_remedies(d, only_chain(d));
    const auto turn = std::find_if(remedies.begin(), remedies.end(),
                                   [](const ChainRemedy& r) { return r.kind == RemedyKind::Turn; });
    ASSERT_NE(turn, remedies.end());
    EXPECT_EQ(turn->part, arm);
    const Document fitted =
        run(d, {{"op", "chain.fit"}, {"chain", "drive"}, {"remedy", "turn"}, {"part", "arm"}});
    const Chain& chain = only_chain(fitted);
    EXPECT_NEAR(chain.link_count * chain.pitch_m, needed_length(chain_loop(fitted, chain)),
                1e-6 * chain.pitch_m);
}

/// Two sprockets whose chain runs by a roller on an arm, with its back.
Document run_over_by_an_arm(const char* slack_after) {
    Document d = two_sprockets(0.7);
    test::add_part(d, "arm", {}, {Quat(1, 0, 0, 0), Vec3(0.6, 0, 0.85)});
    d = run(d, {{"op", "joint.set"}, {"parts", {"arm"}}, {"kind", "hinge"}, {"axis", "y"}});
    d = run(d, {{"op", "tree.parent"}, {"parts", {"roller"}}, {"under", "arm"}});
    d = run(d, {{"op", "chain.add"},
                {"wheels", {"small", "large", "roller"}},
                {"outside", {"roller"}},
                {"name", "drive"},
                {"pattern", 2},
                {"slack_after", slack_after}});
    return d;
}

TEST(ChainCourse, AMovingRollerIsTakenUpBySlackAndTellsWhatIsMissing) {
    Document d = run_over_by_an_arm("roller");
    const PartId arm = named(d, "arm");
    d = run(d, {{"op", "chain.build"}, {"chain", "drive"}, {"parts", {"inner", "outer"}}});
    test::key(d, arm,
              {{0, 0, Interpolation::Linear},
               {60, 0.42, Interpolation::Linear},
               {120, -0.3, Interpolation::Linear}});
    test::key(d, named(d, "small"), {{0, 0, Interpolation::Linear}, {120, 20, Interpolation::Linear}});
    const auto courses = chain_course(d, {});
    ASSERT_TRUE(courses.ok());
    for (const double frame : {0.0, 13.0, 20.0}) EXPECT_LT(worst_pitch(d, frame), 1e-9) << frame;
    // Somewhere the roller asks for more than there is, or leaves the chain: that is a finding with its
    // frame.
    bool told = false;
    for (const Finding& f : check_document(d))
        told |= f.code == "chain.short" || f.code == "chain.impossible";
    EXPECT_TRUE(told);
}

/// A roller that comes down on the taut run takes links from one sprocket's teeth and gives them to the
/// other's.
TEST(ChainCourse, PinsThatLeaveTheirGapsAreMeasuredAndFound) {
    Document d = run_over_by_an_arm("small");
    const PartId arm = named(d, "arm");
    const auto course = [](const Document& at) { return chain_course(at, {})->front(); };
    const auto told = [](const Document& at) {
        for (const Finding& f : check_document(at))
            if (f.code == "chain.off_teeth") return f.message;
        return std::string();
    };
    Document still = d;
    test::key(still, named(d, "small"), {{0, 0, Interpolation::Linear}, {24, 5, Interpolation::Linear}});
    EXPECT_LT(course(still).off_teeth_m, 3e-4) << "chordal action alone";
    EXPECT_EQ(told(still), "");
    test::key(d, arm, {{0, 0, Interpolation::Linear}, {24, 0.1, Interpolation::Linear}});
    EXPECT_GT(course(d).off_teeth_m, 1e-3);
    EXPECT_NE(told(d).find("'drive'"), std::string::npos) << told(d);
}

/// A tensioner's chain goes where it goes: its links are no walls to it.
TEST(ChainAdd, LimitsOfWhatCarriesAWheelAreNotMetByItsOwnLinks) {
    Document d = two_sprockets(0.7);
    test::add_part(d, "table", {}, {Quat(1, 0, 0, 0), Vec3(0.7, 0, 0.5)});
    d = run(d, {{"op", "joint.set"}, {"parts", {"table"}}, {"kind", "slide"}, {"axis", "x"}});
    d = run(d, {{"op", "tree.parent"}, {"parts", {"large"}}, {"under", "table"}});
    d = run(d, {{"op", "joint.set"},
                {"parts", {"table"}},
                {"channel", "shift"},
                {"min", "-0.1 m"},
                {"max", "0.1 m"}});
    d = run(d, {{"op", "chain.add"}, {"wheels", {"small", "large"}}, {"pattern", 2}, {"name", "drive"}});
    d = run(d, {{"op", "chain.build"}, {"chain", "drive"}, {"parts", {"inner", "outer"}}});
    const auto contacts = [](const Document& at) {
        std::string all;
        for (const Finding& f : check_document(at))
            if (f.code == "limits.contact") all += f.message + "; ";
        return all;
    };
    EXPECT_EQ(contacts(d), "");
    // Anything else in its way is.
    d = run(
        d,
        {{"op", "stand_in.add"}, {"kind", "box"}, {"name", "stop"}, {"length", 0.05}, {"at", {0.93, 0, 1}}});
    EXPECT_NE(contacts(d).find("'stop'"), std::string::npos) << contacts(d);
}

TEST(ChainTakeUp, ATensionerKeepsTheSlackWhileWheelsMove) {
    Document d = two_sprockets(0.7);
    const PartId arm = test::add_part(d, "arm", {}, {Quat(1, 0, 0, 0), Vec3(0.6, 0, 0.85)});
    const PartId table = test::add_part(d, "table", {}, {Quat(1, 0, 0, 0), Vec3(0.7, 0, 0.5)});
    d = run(d, {{"op", "joint.set"}, {"parts", {"arm"}}, {"kind", "hinge"}, {"axis", "y"}});
    d = run(d, {{"op", "joint.set"}, {"parts", {"table"}}, {"kind", "slide"}, {"axis", "x"}});
    d = run(d, {{"op", "tree.parent"}, {"parts", {"roller"}}, {"under", "arm"}});
    d = run(d, {{"op", "tree.parent"}, {"parts", {"large"}}, {"under", "table"}});
    d = run(d, {{"op", "chain.add"},
                {"wheels", {"small", "large", "roller"}},
                {"outside", {"roller"}},
                {"name", "drive"},
                {"pattern", 2},
                {"slack_after", "small"},
                {"take_up", "arm"},
                {"spare", "1 mm"}});
    d = run(d, {{"op", "chain.build"}, {"chain", "drive"}, {"parts", {"inner", "outer"}}});
    Clip clip = clip_or_first(d);
    clip.track_or_new({table, ChannelKind::Shift}).keys = {{0, 0, Interpolation::Linear},
                                                           {40, 0.006, Interpolation::Linear}};
    d.clips.set(clip);
    const auto evaluator = Evaluator::compile(d);
    ASSERT_TRUE(evaluator.ok());
    Pose pose = evaluator->make_pose();
    double least = 1e9, most = -1e9;
    for (const double frame : {0.0, 11.0, 25.5, 40.0}) {
        evaluator->evaluate(frame, pose);
        const ChainFit& fit = chain_stand(*evaluator, pose, d.chains.begin()->id)->fit;
        ASSERT_TRUE(fit.possible);
        EXPECT_NEAR(fit.slack_m, 0.001, 1e-8) << frame;
        EXPECT_LT(worst_pitch(d, frame), 1e-9);
        const double turn = pose.channels[*evaluator->channel_slot({arm, ChannelKind::Turn})];
        least = std::min(least, turn), most = std::max(most, turn);
    }
    EXPECT_GT(most - least, 0.01) << "it does turn";
    EXPECT_EQ(refusal(d, {{"op", "channel.set"}, {"parts", "arm"}, {"value", "3 deg"}}).message,
              "'arm' is driven by 'drive'; move that one");
    EXPECT_EQ(refusal(d, {{"op", "chain.set"}, {"chain", "drive"}, {"take_up", "small"}}).code,
              "chain.take_up");
    const Document without = run(d, {{"op", "chain.set"}, {"chain", "drive"}, {"take_up", "drive"}});
    EXPECT_FALSE(only_chain(without).take_up);
}

TEST(ChainAttach, PutsPiecesOnEveryNthLink) {
    Document d = run(chained(), {{"op", "chain.build"}, {"chain", "drive"}, {"parts", {"inner", "outer"}}});
    d = run(d, {{"op", "stand_in.add"},
                {"kind", "box"},
                {"name", "bucket"},
                {"length", 0.02},
                {"width", 0.02},
                {"height", 0.02},
                {"at", {0.35, 0, 1.2}}});
    d = run(d, {{"op", "chain.attach"}, {"chain", "drive"}, {"part", "bucket"}, {"every", 12}});
    int buckets = 0;
    for (const Part& part : d.parts)
        if (part.name.starts_with("bucket")) {
            ++buckets;
            const auto& links = only_chain(d).links;
            EXPECT_NE(std::find(links.begin(), links.end(), part.parent), links.end());
        }
    EXPECT_EQ(buckets, 7);
}

TEST(ChainSet, FewerAndMoreLinksAreRealPartsToo) {
    const Document d =
        run(chained(), {{"op", "chain.build"}, {"chain", "drive"}, {"parts", {"inner", "outer"}}});
    const std::size_t parts = d.parts.size();
    const Document longer = run(d, {{"op", "chain.set"}, {"chain", "drive"}, {"links", 86}});
    EXPECT_EQ(longer.parts.size(), parts + 2);
    EXPECT_EQ(longer.parts.find(only_chain(longer).links[85])->name, "drive link 86");
    EXPECT_EQ(longer.parts.find(only_chain(longer).links[84])->shape,
              longer.parts.find(only_chain(longer).links[0])->shape);
    const Document shorter = run(longer, {{"op", "chain.set"}, {"chain", "drive"}, {"links", 84}});
    EXPECT_EQ(shorter.parts.size(), parts);
    const Document gone = run(d, {{"op", "chain.remove"}, {"chain", "drive"}, {"links", true}});
    EXPECT_EQ(gone.chains.size(), 0u);
    EXPECT_EQ(gone.parts.size(), two_sprockets().parts.size() - 2);
}

TEST(ChainAdd, RefusesWhatCannotBeByName) {
    const Document d = two_sprockets();
    const auto code = [&](const json& more) {
        json step{{"op", "chain.add"}, {"wheels", {"small", "large"}}};
        step.update(more);
        return refusal(d, step);
    };
    EXPECT_EQ(code({{"wheels", {"small"}}}).code, "chain.wheels");
    EXPECT_EQ(code({{"wheels", {"small", "small"}}}).code, "chain.wheels");
    EXPECT_EQ(code({{"wheels", {"small", "inner"}}}).message,
              "'inner' does not turn: give it a pivot and a hinge joint first");
    EXPECT_EQ(code({{"teeth", "19 0x"}}).code, "chain.teeth");
    EXPECT_EQ(code({{"teeth", "19 4"}}).message, "'large' cannot have 4 teeth: 5 to 300, or 0 for a roller");
    EXPECT_EQ(code({{"pitch", -1}}).code, "chain.pitch");
    EXPECT_EQ(code({{"links", 20}}).code, "chain.links");
    EXPECT_EQ(code({{"outside", {"large"}}}).code, "chain.impossible");
    const Error overlap = refusal(two_sprockets(0.2), {{"op", "chain.add"}, {"wheels", {"small", "large"}}});
    EXPECT_EQ(overlap.code, "chain.overlap");
    EXPECT_NE(overlap.message.find("'small' and 'large' lie over each other: 200.0 mm apart"),
              std::string::npos)
        << overlap.message;
    Document tilted = run(d, {{"op", "joint.set"}, {"parts", {"large"}}, {"axis", "z"}});
    EXPECT_EQ(refusal(tilted, {{"op", "chain.add"}, {"wheels", {"small", "large"}}, {"teeth", "19 38"}}).code,
              "chain.axes");
    const Document two = two_sprockets();
    for (const double pitch : {1e-30, -0.01, 11.0})
        EXPECT_EQ(
            refusal(
                two,
                {{"op", "chain.add"}, {"wheels", {"small", "large"}}, {"teeth", "19 38"}, {"pitch", pitch}})
                .code,
            "chain.pitch");
    EXPECT_EQ(
        refusal(two,
                {{"op", "chain.add"}, {"wheels", {"small", "large"}}, {"teeth", "0 0"}, {"pitch", 1.1e-5}})
            .code,
        "chain.links");
    // The last good chain stays.
    const Document good = chained();
    EXPECT_EQ(refusal(good, {{"op", "chain.set"}, {"chain", "drive"}, {"links", 3}}).code, "chain.links");
    EXPECT_EQ(refusal(good, {{"op", "chain.fit"}, {"chain", "drive"}, {"remedy", "turn"}}).code,
              "chain.no_remedy");
    EXPECT_EQ(refusal(good, {{"op", "chain.set"}, {"chain", "inner"}, {"links", 84}}).code, "chain.none");
}

TEST(ChainAdd, TwoMotorsOnOneTrainAreAFinding) {
    Document d = chained();
    test::key(d, named(d, "small"), {{0, 0, Interpolation::Linear}, {10, 1, Interpolation::Linear}});
    test::key(d, named(d, "large"), {{0, 0, Interpolation::Linear}, {10, 1, Interpolation::Linear}});
    const auto findings = check_document(d);
    const auto clash = std::find_if(findings.begin(), findings.end(),
                                    [](const Finding& f) { return f.code == "train.clash"; });
    ASSERT_NE(clash, findings.end());
    EXPECT_NE(clash->message.find("'small'"), std::string::npos) << clash->message;
    EXPECT_NE(clash->message.find("'large'"), std::string::npos);
}

TEST(ChainAdd, ComesBackFromItsFile) {
    const Document d =
        run(chained(), {{"op", "chain.build"}, {"chain", "drive"}, {"parts", {"inner", "outer"}}});
    const auto back = project_from_bytes(*project_bytes(d), "chained");
    ASSERT_TRUE(back.ok()) << back.error().message;
    EXPECT_EQ(only_chain(*back), only_chain(d));
    EXPECT_EQ(only_chain(*back).links.size(), 84u);
    Document copy = run(d, {{"op", "part.duplicate"}, {"parts", {"large"}}, {"shift", {0, 1, 0}}});
    EXPECT_EQ(copy.chains.size(), 1u) << "a wheel alone takes no chain along";
    const Document less = run(d, {{"op", "part.remove"}, {"parts", {"drive link 03"}}});
    EXPECT_TRUE(only_chain(less).links.empty()) << "a chain that lost a link has none built";
}

TEST(Planets, StandEvenlyAndMeshOrAreRefused) {
    Document d = empty_document();
    const auto gear = [&](const char* kind, const char* name, int teeth, const Vec3& at) {
        d = run(d, {{"op", "stand_in.add"},
                    {"kind", kind},
                    {"name", name},
                    {"teeth", teeth},
                    {"module", 0.006},
                    {"width", 0.03},
                    {"diameter", 0.42},
                    {"axis", "y"},
                    {"at", {at.x(), at.y(), at.z()}}});
    };
    gear("gear", "sun", 18, {0, 0, 1});
    gear("gear", "planet", 21, {0.006 * 39 / 2, 0, 1});
    gear("ring gear", "ring", 60, {0, 0, 1});
    const PartId carrier = test::add_part(d, "carrier", {}, {Quat(1, 0, 0, 0), Vec3(0, 0, 1)});
    test::make_hinge(d, carrier, 1);
    d = run(d, {{"op", "tree.parent"}, {"parts", {"planet"}}, {"under", "carrier"}});
    d = run(d, {{"op", "joint.set"}, {"parts", {"sun", "planet", "ring"}}, {"kind", "hinge"}, {"axis", "x"}});
    const json step{{"op", "coupling.planets"}, {"planets", {"planet"}}, {"sun", "sun"}, {"ring", "ring"}};
    json four = step;
    four["count"] = 4;
    EXPECT_EQ(refusal(d, four).message,
              "18 + 60 teeth over 4 planets is 19.500, not whole: evenly round they would not all mesh; 2, "
              "3, 6 would");
    json six = step;
    six["count"] = 6;
    EXPECT_EQ(refusal(d, six).code, "planet.room");
    const Document set = run(d, step);
    EXPECT_EQ(set.couplings.size(), 6u);
    const TrainSolution solution = solve_trains(set);
    for (const Tie& tie : ties_of(set)) EXPECT_LT(std::abs(missed_teeth(tie, solution)), 0.002);
    EXPECT_TRUE(find_part(set, "planet 3").ok());
}

}  // namespace
}  // namespace pivrak
