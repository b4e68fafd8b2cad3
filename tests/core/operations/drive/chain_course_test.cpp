#include "tests/core/operations/drive/chains.h"

namespace pivrak {
namespace {

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
