#include <gtest/gtest.h>

#include <cmath>

#include "core/checks/drive/chain_check.h"
#include "core/checks/findings.h"
#include "core/elements/chain/chain_motion.h"
#include "core/io/project/project_file.h"
#include "core/motion/evaluator.h"
#include "core/rig/chains/chain_layout.h"
#include "tests/support/documents.h"

namespace pivrak {
namespace {

using nlohmann::json;
using test::named;
using test::refusal;
using test::run;

Document with_wheel(const Document& d, const char* name, double diameter, double width, double x, double z,
                    double y = 0) {
    return run(run(d, {{"op", "stand_in.add"},
                       {"kind", "wheel"},
                       {"name", name},
                       {"diameter", diameter},
                       {"width", width},
                       {"axis", "y"},
                       {"at", {x, y, z}}}),
               {{"op", "joint.set"}, {"parts", {name}}, {"kind", "hinge"}, {"axis", "x"}});
}

Document with_box(const Document& d, const char* name, double x, double z, const char* slide) {
    Document out = run(d, {{"op", "stand_in.add"},
                           {"kind", "box"},
                           {"name", name},
                           {"length", 0.1},
                           {"width", 0.1},
                           {"height", 0.1},
                           {"at", {x, 0, z}}});
    if (!*slide) return out;
    return run(out, {{"op", "joint.set"}, {"parts", {name}}, {"kind", "slide"}, {"axis", slide}});
}

/// A winch on the left whose rope goes over a pulley to a hook below its right side.
Document winch() {
    Document d = with_wheel(empty_document(), "drum", 0.4, 0.3, -1.5, 2);
    d = with_wheel(d, "pulley", 0.3, 0.05, 0, 4);
    d = with_box(d, "hook", 0.15, 2, "z");
    d = run(d, {{"op", "datum.add"}, {"name", "beside"}, {"place", {5, 0.7, 0}}});
    d = with_box(d, "loop", 5, 0, "");
    return run(d, {{"op", "tree.align"}, {"parts", {"loop"}}, {"to", "beside"}, {"what", "place"}});
}

Document hoisted(const json& more = json::object(), const Document& d = winch()) {
    json step{{"op", "chain.run"}, {"wheels", {"drum", "pulley"}},
              {"to", "hook"},      {"pulls", "hook"},
              {"pitch", 0.03},     {"name", "rope"}};
    step.update(more);
    return run(d, step);
}

struct Posed {
    Pose pose;
    Evaluator evaluator;
    Document document;

    Posed(Document d, double frame) : evaluator(*Evaluator::compile(d)), document(std::move(d)) {
        pose = evaluator.make_pose();
        evaluator.evaluate(frame, pose);
    }
    double value(const char* part, ChannelKind kind) const {
        return pose.channels[*evaluator.channel_slot({named(document, part), kind})];
    }
    Vec3 place(PartId part) const { return pose.world_from_part[*evaluator.part_slot(part)].translation; }
    const ChainStand& stand() const { return *chain_stand(evaluator, pose, document.chains.begin()->id); }
    double worst_pitch() const {
        const Chain& chain = *document.chains.begin();
        double worst = 0;
        const std::vector<Vec2>& pins = stand().pins;
        for (std::size_t i = 0; i + 1 < pins.size(); ++i)
            worst = std::max(worst, std::abs((pins[i + 1] - pins[i]).norm() - chain.pitch_m));
        return worst;
    }
};

Document keyed_at(Document d, const char* part, ChannelKind kind, double value) {
    Clip clip = clip_or_first(d);
    EXPECT_TRUE(d.parts.find(named(d, part))->has(kind));
    clip.track_or_new({named(d, part), kind}).keys = {{0, value}};
    d.clips.set(clip);
    return d;
}

TEST(OpenRunAdd, RopeIsWoundOnItsDrumWithWhatItsLinksAreMore) {
    const Document d = hoisted();
    const Chain& chain = *d.chains.begin();
    const ChainFacts facts = chain_facts(chain_loop(d, chain));
    EXPECT_NEAR(facts.slack_m, 0, 1e-12);
    EXPECT_NEAR(facts.wound_rad, 6 * pi, 0.2) << "three turns, and up to a link more";
    // Asked for the other side of the drum, it comes by the outer tangent.
    const Document over = hoisted({{"other_side", {"drum"}}});
    EXPECT_NEAR(
        chain_facts(chain_loop(over, *over.chains.begin())).smooth_m,
        2 + std::sqrt(2.5 * 2.5 - 0.05 * 0.05) + 0.15 * (pi / 2 + std::atan2(2, 1.5) - std::asin(0.05 / 2.5)),
        1e-6);
    EXPECT_TRUE(d.parts.find(chain.frame)->has(ChannelKind::Travel));
    // The shortest way. Closed form: upright to the pulley's right, round it to where the inner common
    // tangent leaves, and straight to the drum, whose far side it comes to. The centres are 2.5 m apart.
    const double straight = std::sqrt(2.5 * 2.5 - 0.35 * 0.35);
    const double slope = std::atan2(2, 1.5) + std::asin(0.35 / 2.5);
    EXPECT_NEAR(facts.smooth_m, 2 + straight + 0.15 * (pi / 2 + slope), 1e-6);
}

TEST(OpenRunAdd, DrumLowersItsHookAndTurnsItsPulley) {
    const Document d = keyed_at(hoisted(), "rope", ChannelKind::Travel, 0.6);
    const Posed at(d, 0);
    EXPECT_NEAR(at.value("hook", ChannelKind::Shift), -0.6, 1e-9);
    // Links are chords: twenty of them on each wheel.
    EXPECT_NEAR(std::abs(at.value("drum", ChannelKind::Turn)), 20 * 2 * std::asin(0.03 / 0.4), 1e-6);
    EXPECT_NEAR(std::abs(at.value("pulley", ChannelKind::Turn)), 20 * 2 * std::asin(0.03 / 0.3), 1e-6);
    EXPECT_LT(at.worst_pitch(), 1e-9);
}

TEST(OpenRunAdd, AnyOfThemMayDrive) {
    const Posed drum(keyed_at(hoisted(), "drum", ChannelKind::Turn, 1), 0);
    const double lowered = drum.value("hook", ChannelKind::Shift);
    EXPECT_NEAR(std::abs(lowered), 0.03 / (2 * std::asin(0.03 / 0.4)), 1e-3);
    EXPECT_NEAR(drum.value("rope", ChannelKind::Travel), -lowered, 1e-3);
    // Asked what the drum does when the hook is moved.
    const Posed hook(keyed_at(hoisted({{"pulls", "drum"}}), "hook", ChannelKind::Shift, lowered), 0);
    EXPECT_NEAR(hook.value("drum", ChannelKind::Turn), 1, 1e-9);
    EXPECT_NEAR(hook.value("pulley", ChannelKind::Turn), drum.value("pulley", ChannelKind::Turn), 1e-9);
}

TEST(OpenRunAdd, TwoFallsHalveTheWay) {
    // Down from the pulley, under the block's own one, and up to the beam.
    Document d = with_wheel(empty_document(), "drum", 0.4, 0.3, -1.5, 2);
    d = with_wheel(d, "pulley", 0.3, 0.05, 0, 4);
    d = with_box(d, "block", 0.3, 1.5, "z");
    d = with_wheel(d, "sheave", 0.3, 0.05, 0.3, 1.5);
    d = run(d, {{"op", "tree.parent"}, {"parts", {"sheave"}}, {"under", "block"}});
    d = with_box(d, "beam", 0.45, 4, "");
    d = run(d, {{"op", "chain.run"},
                {"wheels", {"drum", "pulley", "sheave"}},
                {"to", "beam"},
                {"pulls", "block"},
                {"pitch", 0.03},
                {"name", "rope"}});
    const Posed at(keyed_at(d, "rope", ChannelKind::Travel, 0.6), 0);
    EXPECT_NEAR(at.value("block", ChannelKind::Shift), -0.3, 1e-5) << "two upright falls";
    EXPECT_LT(at.worst_pitch(), 1e-9);
}

TEST(OpenRunAdd, CordPullsWhatItsOtherEndIsTiedTo) {
    Document d = with_wheel(empty_document(), "roller", 0.1, 0.05, 0, 2);
    d = with_box(d, "handle", -0.05, 1, "z");
    d = with_box(d, "weight", 0.05, 1.2, "z");
    d = run(d, {{"op", "chain.run"},
                {"wheels", {"roller"}},
                {"from", "handle"},
                {"to", "weight"},
                {"pulls", "weight"},
                {"pitch", 0.02},
                {"name", "cord"}});
    const Chain& chain = *d.chains.begin();
    EXPECT_NEAR(chain_facts(chain_loop(d, chain)).slack_m, 0, 1e-9) << "its links just fill it";
    EXPECT_FALSE(d.parts.find(chain.frame)->has(ChannelKind::Travel)) << "it has no motion of its own";
    const Posed rest(d, 0);
    EXPECT_NEAR(rest.value("weight", ChannelKind::Shift), 0, 1e-9);
    const Posed at(keyed_at(d, "handle", ChannelKind::Shift, -0.4), 0);
    EXPECT_NEAR(at.value("weight", ChannelKind::Shift), 0.4, 1e-4) << "down on one side, up on the other";
    EXPECT_NEAR(std::abs(at.value("roller", ChannelKind::Turn)), 0.4 / 0.05, 0.4 / 0.05 * 0.01);
    EXPECT_LT(at.worst_pitch(), 1e-9);
}

TEST(OpenRunAdd, LinksAreBuiltAndFollow) {
    Document d = run(hoisted(), {{"op", "chain.build"}, {"chain", "rope"}, {"parts", {"loop"}}});
    const Chain chain = *d.chains.begin();
    ASSERT_EQ(chain.links.size(), static_cast<std::size_t>(chain.link_count));
    const Posed rest(d, 0);
    const Posed at(keyed_at(d, "rope", ChannelKind::Travel, 0.3), 0);
    // The link lay beside: its middle came into the plane of the wheels.
    const Part& link = *d.parts.find(chain.links.front());
    const Bounds shown =
        mesh_bounds(*d.shapes.find(link.shape)->mesh, world_from_rest(d, link.id) * link.part_from_shape);
    EXPECT_NEAR(shown.middle().y(), 0, 1e-6);
    // The last link hangs at the hook, the first one turns with the drum.
    EXPECT_NEAR(rest.place(chain.links.back()).z() - at.place(chain.links.back()).z(), 0.3, 1e-9);
    EXPECT_NEAR((at.place(chain.links.front()) - rest.place(chain.links.front())).norm(),
                2 * 0.2 * std::sin(10 * std::asin(0.03 / 0.4)), 1e-7);
    for (std::size_t i = 0; i + 1 < chain.links.size(); ++i)
        EXPECT_NEAR((at.place(chain.links[i + 1]) - at.place(chain.links[i])).norm(), 0.03, 1e-9);
}

TEST(OpenRunAdd, LooseEndHangsFromTheWheelThatCarriesIt) {
    Document d = with_wheel(empty_document(), "wheel", 0.3, 0.05, 0, 4);
    d = with_box(d, "hook", 0.15, 2, "z");
    d = run(d, {{"op", "chain.run"},
                {"wheels", {"wheel"}},
                {"to", "hook"},
                {"pulls", "hook"},
                {"loose", true},
                {"pitch", 0.03},
                {"links", 120},
                {"name", "hand chain"}});
    const Posed rest(d, 0), at(keyed_at(d, "wheel", ChannelKind::Turn, 2), 0);
    const double way = at.value("hook", ChannelKind::Shift);
    EXPECT_NEAR(std::abs(way), 2 * 0.03 / (2 * std::asin(0.1)), 1e-3);
    // The loose end goes the other way.
    EXPECT_NEAR((at.stand().pins.front() - rest.stand().pins.front()).norm(), std::abs(way), 1e-3);
}

TEST(CableChain, FoldsAtHalfThePaceOfItsEnd) {
    Document d = with_box(empty_document(), "bed", 0, 0.2, "");
    d = with_box(d, "carriage", 0.4, 0.5, "x");
    d = run(d, {{"op", "chain.fold"},
                {"from", "bed"},
                {"to", "carriage"},
                {"pitch", 0.05},
                {"reach", 1.2},
                {"bend", 0.1},
                {"name", "cables"}});
    const Chain& chain = *d.chains.begin();
    EXPECT_TRUE(chain.folds());
    const auto fold = [](const Posed& at) {
        double x = -1e9;
        for (const Vec2& pin : at.stand().pins) x = std::max(x, pin.x());
        return x;
    };
    const Posed rest(d, 0), at(keyed_at(d, "carriage", ChannelKind::Shift, 0.5), 0);
    EXPECT_LT(at.worst_pitch(), 1e-9);
    // The farthest pin may stand up to half a link off the fold's end.
    EXPECT_NEAR(fold(at) - fold(rest), 0.25, 0.013);
    EXPECT_TRUE(at.stand().fit.placed);
    const Posed far(keyed_at(d, "carriage", ChannelKind::Shift, 1.0), 0);
    EXPECT_GT(far.stand().fit.missing_m(), 0.05);
}

TEST(CableChain, RefusesWhatItCannotBe) {
    Document d = with_box(empty_document(), "bed", 0, 0.2, "");
    d = with_box(d, "carriage", 0.4, 0.5, "x");
    d = with_box(d, "post", 0.4, 0.5, "");
    const auto fold = [&](json more) {
        json step{{"op", "chain.fold"}, {"from", "bed"}, {"to", "carriage"}, {"pitch", 0.05}};
        step.update(more);
        return refusal(d, step);
    };
    EXPECT_EQ(fold({{"bend", 0.2}}).code, "fold.bend");
    EXPECT_NE(fold({{"bend", 0.2}}).message.find("150"), std::string::npos) << fold({{"bend", 0.2}}).message;
    EXPECT_EQ(fold({{"way", {0, 0, 1}}, {"to", "bed"}}).code, "fold.way");
    EXPECT_EQ(fold({{"to", "post"}}).code, "fold.way") << "slides nowhere";
    EXPECT_EQ(fold({{"links", 10}}).code, "chain.links");
    EXPECT_EQ(fold({{"pitch", 0}}).code, "chain.pitch");
}

TEST(OpenRunAdd, RefusesWhatItCannotBe) {
    Document d = winch();
    d = with_wheel(d, "far", 0.2, 0.02, 0, 4, 0.5);
    const auto laid = [&](json more) {
        json step{{"op", "chain.run"}, {"wheels", {"drum", "pulley"}}, {"to", "hook"}, {"pitch", 0.03}};
        step.update(more);
        return refusal(d, step);
    };
    EXPECT_EQ(laid({{"wheels", {"loop"}}}).code, "chain.wheels") << "does not turn";
    EXPECT_EQ(laid({{"to", "drum"}}).code, "run.tied") << laid({{"to", "drum"}}).message;
    EXPECT_EQ(laid({{"pitch", 0}}).code, "chain.pitch");
    EXPECT_EQ(laid({{"pitch", 0.5}}).code, "chain.wheels") << "a wheel smaller than a link";
    EXPECT_EQ(laid({{"links", 20}}).code, "chain.links");
    EXPECT_EQ(laid({{"pulls", "loop"}}).code, "chain.take_up") << "carries nothing of the run";
    EXPECT_EQ(laid({{"wheels", {"drum", "far"}}}).code, "run.plane");
    EXPECT_EQ(laid({{"wound", -1}}).code, "chain.links");
}

TEST(OpenRunFindings, EmptyDrumAndLooseRopeAreTold) {
    const auto codes = [](const Document& d) {
        std::vector<std::string> found;
        for (const Finding& finding : check_document(d)) found.push_back(finding.code);
        return found;
    };
    const auto has = [&](const Document& d, const char* code) {
        const auto found = codes(d);
        return std::find(found.begin(), found.end(), code) != found.end();
    };
    const Document rest = hoisted();
    EXPECT_FALSE(has(rest, "run.empty"));
    EXPECT_FALSE(has(rest, "run.slack"));
    const Document out = keyed_at(rest, "rope", ChannelKind::Travel, 5);
    EXPECT_TRUE(has(out, "run.empty"));
    EXPECT_FALSE(
        has(run(rest, {{"op", "chain.build"}, {"chain", "rope"}, {"parts", {"loop"}}}), "part.no_carrier"))
        << "links round a drum do not carry it";
    // The hook reaches the floor.
    Document limited = run(
        rest, {{"op", "joint.set"}, {"parts", {"hook"}}, {"channel", "shift"}, {"min", -0.5}, {"max", 1}});
    limited = keyed_at(limited, "rope", ChannelKind::Travel, 0.8);
    EXPECT_TRUE(has(limited, "run.slack"));
    const Posed at(limited, 0);
    EXPECT_NEAR(at.value("hook", ChannelKind::Shift), -0.5, 1e-12);
    EXPECT_NEAR(at.stand().fit.slack_m, 0.3, 1e-3);
}

TEST(OpenRunDocument, IsKeptInFilesAndFollowsItsParts) {
    const Document d = hoisted();
    EXPECT_TRUE(*project_from_bytes(*project_bytes(d), "p") == d);
    // A pivot moves; what is tied to the part stays where it is.
    const Document moved = run(d, {{"op", "pivot.to"}, {"parts", {"hook"}}, {"place", {0.3, 0, 2.2}}});
    const ChainTie& tie = moved.chains.begin()->ends->to;
    EXPECT_NEAR((world_from_rest(moved, tie.part).point(tie.place) - Vec3(0.15, 0, 2)).norm(), 0, 1e-9);
    // Without its hook there is no run.
    EXPECT_EQ(run(d, {{"op", "part.remove"}, {"parts", {"hook"}}}).chains.size(), 0u);
    EXPECT_EQ(run(d, {{"op", "part.remove"}, {"parts", {"drum"}}}).chains.size(), 0u);
    // Over one wheel fewer it goes on.
    EXPECT_EQ(run(d, {{"op", "part.remove"}, {"parts", {"pulley"}}}).chains.begin()->wheels.size(), 1u);
}

TEST(OpenRunDocument, TakesAnythingThatIsPulledAwayAgain) {
    const Document d = hoisted();
    EXPECT_EQ(d.chains.begin()->take_up, named(d, "hook"));
    // Naming the run itself takes it away; then the hook stands while rope is paid out, and that is told.
    const Document free = run(d, {{"op", "chain.set"}, {"chain", "rope"}, {"take_up", "rope"}});
    EXPECT_FALSE(free.chains.begin()->take_up);
    const Posed at(keyed_at(free, "rope", ChannelKind::Travel, 0.3), 0);
    EXPECT_EQ(at.value("hook", ChannelKind::Shift), 0);
    EXPECT_NEAR(at.stand().fit.slack_m, 0.3, 1e-9);
}

TEST(OpenRunDocument, GoesWithWhatCarriesItAll) {
    // The whole winch on a truck that is moved and turned: the rope runs as before.
    Document d = winch();
    d = run(d, {{"op", "datum.add"}, {"name", "truck"}});
    d = run(d, {{"op", "tree.parent"}, {"parts", {"drum", "pulley", "hook"}}, {"under", "truck"}});
    d = run(d, {{"op", "joint.set"}, {"parts", {"truck"}}, {"kind", "free"}});
    d = hoisted(json::object(), d);
    EXPECT_EQ(d.parts.find(d.chains.begin()->frame)->parent, named(d, "truck"));
    d = keyed_at(d, "rope", ChannelKind::Travel, 0.6);
    for (const auto& [kind, value] : {std::pair(ChannelKind::ShiftX, 3.0), std::pair(ChannelKind::TurnZ, 0.7),
                                      std::pair(ChannelKind::TurnX, 0.2)})
        d = keyed_at(d, "truck", kind, value);
    const Posed at(d, 0);
    EXPECT_NEAR(at.value("hook", ChannelKind::Shift), -0.6, 1e-9);
    EXPECT_LT(at.worst_pitch(), 1e-9);
}

TEST(OpenRunDocument, APulleyThatIsSwungTurnsOnlyByWhatGoesOverIt) {
    // The pulley hangs on an arm about its own axis: as the arm turns with it, it stands still on the rope.
    Document d = winch();
    d = run(d, {{"op", "datum.add"}, {"name", "arm"}, {"like", "pulley"}});
    d = run(d, {{"op", "tree.parent"}, {"parts", {"pulley"}}, {"under", "arm"}});
    d = run(d, {{"op", "joint.set"}, {"parts", {"arm"}}, {"kind", "hinge"}, {"axis", "x"}});
    d = hoisted(json::object(), d);
    const Posed at(keyed_at(d, "arm", ChannelKind::Turn, 0.5), 0);
    EXPECT_NEAR(at.value("pulley", ChannelKind::Turn), -0.5, 1e-9);
}

TEST(OpenRunDocument, TheSameFrameGivesTheSamePose) {
    Document d = hoisted();
    Clip clip = clip_or_first(d);
    clip.track_or_new({named(d, "drum"), ChannelKind::Turn}).keys = {{0, 0}, {40, 9}};
    d.clips.set(clip);
    const auto evaluator = Evaluator::compile(d);
    ASSERT_TRUE(evaluator.ok());
    Pose forwards = evaluator->make_pose(), jumped = evaluator->make_pose();
    for (int frame = 0; frame <= 20; ++frame) evaluator->evaluate(frame, forwards);
    evaluator->evaluate(40, jumped);
    evaluator->evaluate(20, jumped);
    EXPECT_EQ(forwards.channels, jumped.channels);
    const ChainId rope = d.chains.begin()->id;
    EXPECT_EQ(chain_stand(*evaluator, forwards, rope)->pins, chain_stand(*evaluator, jumped, rope)->pins);
}

TEST(OpenRunDocument, IsChangedByLinks) {
    const Document d = hoisted();
    const int links = d.chains.begin()->link_count;
    const Document more = run(d, {{"op", "chain.set"}, {"chain", "rope"}, {"links", links + 40}});
    const auto wound = [](const Document& of) {
        return chain_facts(chain_loop(of, *of.chains.begin())).wound_rad;
    };
    EXPECT_NEAR(wound(more) - wound(d), 40 * 2 * std::asin(0.03 / 0.4), 1e-6);
}

}  // namespace
}  // namespace pivrak
