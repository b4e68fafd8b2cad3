// Linkages against closed forms of the books.
#include <gtest/gtest.h>

#include <random>

#include "core/rig/linkages/input_range.h"
#include "core/rig/linkages/mobility.h"
#include "tests/core/elements/linkages.h"

namespace pivrak {
namespace {

using namespace test;

Document turning(Document d, const char* part, double turns, double frames) {
    key(d, named(d, part), {{0, 0, Interpolation::Linear}, {frames, turns * 2 * pi, Interpolation::Linear}});
    Clip clip = clip_or_first(d);
    clip.first_frame = 0;
    clip.last_frame = frames;
    d.clips.set(clip);
    return d;
}

const Linkage& only_linkage(const Document& d) {
    EXPECT_EQ(d.linkages.size(), 1U);
    return *d.linkages.begin();
}

BuiltLinkage built(const Document& d) {
    const Linkage& linkage = only_linkage(d);
    auto made = build_linkage(d, linkage.closures, [&](ChannelRef c) { return linkage.is_input(c); });
    EXPECT_TRUE(made.ok());
    return *made;
}

Mobility mobility_of(const Document& d) {
    const BuiltLinkage made = built(d);
    return mobility(made.solver.model(), made.rest, std::vector<bool>(made.channels.size(), false));
}

/// Source: F. Freudenstein, Approximate Synthesis of Four-Bar Linkages, Trans. ASME 77 (1955): with a crank,
/// b coupler, c rocker, d ground, d/a cos(rocker) - d/c cos(crank) + (a2 - b2 + c2 + d2) / 2ac =
/// cos(crank - rocker).
TEST(Linkage, AFourBarKeepsFreudensteinsEquationForThreeTurns) {
    const FourBarSizes s{0.12, 0.35, 0.28, 0.4};
    const Document d = turning(four_bar(s, 0.7), "crank", 3, 90);
    Moved at(d);
    for (double frame = 0; frame <= 90; frame += 0.75) {
        at(frame);
        const double crank = angle_of_line(at.in("crank", "frame").axis(0)),
                     rocker = angle_of_line(at.in("rocker", "frame").axis(0));
        const double left =
            s.ground / s.crank * std::cos(rocker) - s.ground / s.rocker * std::cos(crank) +
            (s.crank * s.crank - s.coupler * s.coupler + s.rocker * s.rocker + s.ground * s.ground) /
                (2 * s.crank * s.rocker);
        EXPECT_NEAR(left, std::cos(crank - rocker), 1e-10) << frame;
        EXPECT_LT(at.miss().apart_m, 1e-10) << frame;
        EXPECT_NEAR(crank, std::remainder(0.7 + frame / 30 * 2 * pi, 2 * pi), 1e-9) << frame;
    }
}

/// The same coupler point from the closed form of two circles, on the side where it was drawn.
TEST(Linkage, ACouplerPointRunsOnItsCurve) {
    const FourBarSizes s{0.12, 0.35, 0.28, 0.4};
    const Document d = turning(four_bar(s, 0.7), "crank", 1, 48);
    Moved at(d);
    for (int frame = 0; frame <= 48; ++frame) {
        const FourBarPose pose = four_bar_pose(s, 0.7 + frame / 48.0 * 2 * pi);
        const Vec3 way = (pose.rocker_end - pose.crank_end) / s.coupler, square(-way.y(), way.x(), 0);
        const Vec3 expected = pose.crank_end + 0.2 * way + 0.15 * square;
        const Vec3 found = at(frame).in("coupler", "frame").point({0.2, 0.15, 0});
        EXPECT_LT((found - expected).norm(), 1e-10) << frame;
    }
}

/// Closed form: x = r cos(t) + sqrt(l2 - r2 sin2(t)).
TEST(Linkage, ASliderCrankHasItsClosedForm) {
    const double r = 0.08, l = 0.25, start = 1.1;
    Document d = empty_document();
    const double x0 = r * std::cos(start) + std::sqrt(l * l - r * r * std::sin(start) * std::sin(start));
    const Vec3 end(r * std::cos(start), r * std::sin(start), 0);
    const PartId block = add_part(d, "block", {}, {Quat(1, 0, 0, 0), Vec3(0, 0, 2)});
    const PartId crank = add_part(d, "crank", block, turned(start, {0, 0, 0}));
    add_part(d, "rod", crank, turned(angle_of_line(Vec3(x0, 0, 0) - end) - start, {r, 0, 0}));
    add_part(d, "piston", block, {Quat(1, 0, 0, 0), Vec3(x0, 0, 0)});
    make_hinge(d, crank);
    make_hinge(d, named(d, "rod"));
    d = run(d, {{"op", "joint.set"}, {"parts", {"piston"}}, {"kind", "slide"}, {"axis", "x"}});
    d = run(d, {{"op", "linkage.close"}, {"a", "rod"}, {"b", "piston"}, {"at", {{"part", "piston"}}}});
    d = turning(d, "crank", -2, 60);
    Moved at(d);
    for (double frame = 0; frame <= 60; frame += 0.5) {
        const double t = start - frame / 30 * 2 * pi;
        EXPECT_NEAR(at(frame).in("piston", "block").translation.x(),
                    r * std::cos(t) + std::sqrt(l * l - r * r * std::sin(t) * std::sin(t)), 1e-10)
            << frame;
    }
}

/// Source: Grashof's rule (F. Grashof, Theoretische Maschinenlehre, 1883): a link turns all round when the
/// shortest and the longest together are no longer than the other two, and it or the ground is the shortest.
TEST(Linkage, GrashofsRuleHoldsForAThousandFourBars) {
    std::mt19937 random(7);
    std::uniform_real_distribution<double> length(0.1, 1);
    int tried = 0, round = 0;
    while (tried < 1000) {
        const FourBarSizes s{length(random), length(random), length(random), length(random)};
        double sorted[] = {s.crank, s.coupler, s.rocker, s.ground};
        std::sort(sorted, sorted + 4);
        const double spare = sorted[1] + sorted[2] - sorted[0] - sorted[3];
        if (sorted[3] > sorted[0] + sorted[1] + sorted[2] - 0.02 || std::abs(spare) < 0.01) continue;
        // Some angle at which it can be drawn, not near a dead point.
        std::optional<double> angle;
        for (double a = 0.1; a < 2 * pi && !angle; a += 0.3) {
            const double far =
                (Vec3(s.crank * std::cos(a), s.crank * std::sin(a), 0) - Vec3(s.ground, 0, 0)).norm();
            if (far < s.coupler + s.rocker - 0.02 && far > std::abs(s.coupler - s.rocker) + 0.02) angle = a;
        }
        if (!angle) continue;
        ++tried;
        const bool rule = spare > 0 && (sorted[0] == s.crank || sorted[0] == s.ground);
        const BuiltLinkage made = built(four_bar(s, *angle));
        EXPECT_EQ(input_range(made, 0).free(), rule)
            << s.crank << " " << s.coupler << " " << s.rocker << " " << s.ground << " at " << *angle;
        round += rule;
    }
    EXPECT_GT(round, 200);
    EXPECT_LT(round, 800);
}

/// Where coupler and rocker lie in line the crank turns round: law of cosines.
TEST(Linkage, ACrankStopsAtItsDeadPointAndComesBackOnTheSameBranch) {
    const FourBarSizes s{0.3, 0.25, 0.2, 0.4};
    const double drawn = 0.9;
    const double dead = std::acos(
        (s.crank * s.crank + s.ground * s.ground - (s.coupler + s.rocker) * (s.coupler + s.rocker)) /
        (2 * s.crank * s.ground));
    Document d = four_bar(s, drawn);
    const BuiltLinkage made = built(d);
    const InputRange range = input_range(made, 0);
    EXPECT_EQ(range.at_most.why, Stops::DeadPoint);
    EXPECT_NEAR(range.most + drawn, dead, 1e-5);
    key(d, named(d, "crank"),
        {{0, 0, Interpolation::Linear}, {20, 2, Interpolation::Linear}, {40, 0, Interpolation::Linear}});
    Moved at(d);
    for (int frame = 0; frame <= 40; ++frame) {
        at(frame);
        const double asked = frame <= 20 ? 0.1 * frame : 0.1 * (40 - frame);
        EXPECT_NEAR(at.value("crank"), std::min(asked, dead - drawn), 1e-5) << frame;
        EXPECT_LT(at.miss().apart_m, 1e-9) << frame;
        const Vec3 meets = at.in("coupler", "frame").point({s.coupler, 0, 0});
        EXPECT_LT((meets - four_bar_pose(s, at.value("crank") + drawn).rocker_end).norm(), 1e-8) << frame;
    }
    EXPECT_NEAR(at.value("rocker"), 0, 1e-9);
}

TEST(Linkage, AParallelogramGoesThroughItsFlatPosesWithoutFolding) {
    const FourBarSizes s{0.15, 0.5, 0.15, 0.5};
    const Document d = turning(four_bar(s, pi / 3), "crank", 4, 96);
    Moved at(d);
    for (double frame = 0; frame <= 96; frame += 0.5) {
        at(frame);
        EXPECT_NEAR(at.value("coupler"), -at.value("crank"), 1e-6) << frame;
        EXPECT_NEAR(at.value("rocker"), at.value("crank"), 1e-6) << frame;
    }
}

/// Any order of asking, backwards, twice: the same to the last bit.
TEST(Linkage, AFrameIsTheSameInAnyOrder) {
    const Document d = turning(four_bar({0.3, 0.25, 0.2, 0.4}, 0.9), "crank", 2, 60);
    Moved forwards(d), anyhow(d);
    std::vector<std::vector<double>> kept;
    for (int f = 0; f <= 240; ++f) kept.push_back(forwards(0.25 * f).pose().channels);
    std::vector<int> order;
    for (int f = 240; f >= 0; --f) order.push_back(f);
    std::mt19937 random(3);
    std::vector<int> mixed = order;
    std::shuffle(mixed.begin(), mixed.end(), random);
    order.insert(order.end(), mixed.begin(), mixed.end());
    order.insert(order.end(), mixed.rbegin(), mixed.rend());
    for (const int f : order)
        EXPECT_EQ(anyhow(0.25 * f).pose().channels, kept[static_cast<std::size_t>(f)]) << f;
}

/// A crank's pin in the slot of a lever, as in a shaping machine: the lever points at the pin.
TEST(Linkage, APinGoesAlongTheSlotOfALever) {
    const double crank = 0.1, apart = 0.3, start = 0.8;
    Document d = empty_document();
    const Vec3 pin(apart + crank * std::cos(start), crank * std::sin(start), 0);
    const PartId frame = add_part(d, "frame"),
                 wheel = add_part(d, "wheel", frame, turned(start, {apart, 0, 0}));
    const PartId lever = add_part(d, "lever", frame, turned(angle_of_line(pin), {0, 0, 0}));
    make_hinge(d, wheel);
    make_hinge(d, lever);
    const Vec3 slot = pin.normalized();
    d = run(d, {{"op", "linkage.close"},
                {"a", "wheel"},
                {"b", "lever"},
                {"closes", "slider"},
                {"at", {pin.x(), pin.y(), 0}},
                {"axis", {slot.x(), slot.y(), 0}}});
    d = turning(d, "wheel", 2, 60);
    Moved at(d);
    for (double frame_at = 0; frame_at <= 60; frame_at += 0.5) {
        const double t = start + frame_at / 30 * 2 * pi;
        const Vec3 now(apart + crank * std::cos(t), crank * std::sin(t), 0);
        EXPECT_NEAR(angle_of_line(at(frame_at).in("lever", "frame").axis(0)), angle_of_line(now), 1e-10)
            << frame_at;
    }
    // The slot leads instead, and its crank stops where the pin is farthest to the side: sine of the lever's
    // angle.
    d = run(d, {{"op", "linkage.input"}, {"linkages", {d.linkages.begin()->id.value}}, {"parts", {"lever"}}});
    const InputRange range = input_range(built(d), 1);
    EXPECT_EQ(range.at_most.why, Stops::DeadPoint);
    EXPECT_NEAR(range.most + angle_of_line(pin), std::asin(crank / apart), 1e-5);
}

/// A crank and a rocker whose axes cross in space, with a rod between them that has a ball at either end: the
/// balls stay a rod apart, which gives the rocker's angle in closed form. Source: the displacement equation
/// of the spatial four-bar, J. Denavit, R. S. Hartenberg, Kinematic Synthesis of Linkages (1964).
TEST(Linkage, ARodWithTwoBallsDrivesARockerInSpace) {
    const double crank = 0.1, rocker = 0.45, crank_at = 0.3, rocker_at = 0.4;
    const Vec3 foot(0.5, 0.3, -0.4);
    const auto crank_ball = [&](double angle) {
        return Vec3(crank * std::cos(angle), crank * std::sin(angle), 0);
    };
    const auto rocker_ball = [&](double angle) {
        return Vec3(foot + rocker * Vec3(0, std::cos(angle), std::sin(angle)));
    };
    Document d = empty_document();
    const PartId frame = add_part(d, "frame");
    const PartId turns = add_part(d, "crank", frame, turned(crank_at, {0, 0, 0}));
    add_part(d, "rod", turns, {Quat(1, 0, 0, 0), Vec3(crank, 0, 0)});
    const PartId rocks = add_part(d, "rocker", frame, {turn_about_axis(0, rocker_at), foot});
    make_hinge(d, turns);
    make_hinge(d, rocks, 0);
    d = run(d, {{"op", "joint.set"}, {"parts", {"rod"}}, {"kind", "ball"}});
    const Vec3 meets = rocker_ball(rocker_at);
    const double length = (meets - crank_ball(crank_at)).norm();
    d = run(d, {{"op", "linkage.close"},
                {"a", "rod"},
                {"b", "rocker"},
                {"closes", "ball"},
                {"at", {meets.x(), meets.y(), meets.z()}}});
    d = run(d, {{"op", "linkage.input"}, {"linkages", {d.linkages.begin()->id.value}}, {"parts", {"crank"}}});
    d = turning(d, "crank", 2, 60);
    Moved at(d);
    double least = 10, most = -10;
    for (double frame_at = 0; frame_at <= 60; frame_at += 0.5) {
        const Vec3 from = crank_ball(crank_at + frame_at / 30 * 2 * pi) - foot;
        const double far = std::hypot(from.y(), from.z()),
                     k = (from.squaredNorm() + rocker * rocker - length * length) / (2 * rocker);
        const double middle = std::atan2(from.z(), from.y()), aside = std::acos(k / far);
        at(frame_at);
        const double angle = rocker_at + at.value("rocker");
        EXPECT_LT(std::min(std::abs(angle - middle - aside), std::abs(angle - middle + aside)), 1e-9)
            << frame_at;
        EXPECT_LT(at.miss().apart_m, 1e-12) << frame_at;
        least = std::min(least, angle);
        most = std::max(most, angle);
    }
    EXPECT_GT(most - least, 0.2) << "it rocks";
    EXPECT_NEAR(at.value("rocker"), 0, 1e-9) << "back after whole turns";
}

TEST(Linkage, EqualTurnsStayEqual) {
    Document d = empty_document();
    const PartId frame = add_part(d, "frame"), one = add_part(d, "one", frame),
                 two = add_part(d, "two", frame, turned(0.4, {1, 0, 0}));
    make_hinge(d, one);
    make_hinge(d, two);
    d = run(d, {{"op", "linkage.close"}, {"a", "one"}, {"b", "two"}, {"closes", "turn"}});
    d = turning(d, "one", 1.5, 40);
    Moved at(d);
    for (int f = 0; f <= 40; ++f) {
        at(f);
        EXPECT_NEAR(at.value("two"), at.value("one"), 1e-10) << f;
    }
    EXPECT_NEAR(at.value("two"), 3 * pi, 1e-9) << "turns are counted on";
}

/// A Bennett linkage: four hinges askew move though counting says they cannot. Source: G. T. Bennett, A New
/// Mechanism (1903): opposite bars alike, lengths as the sines of their twists.
TEST(Linkage, ABennettLinkageMovesThoughCountedStiff) {
    const double a = 0.3, alpha = 0.6, beta = 1.1, b = a * std::sin(beta) / std::sin(alpha);
    // Denavit and Hartenberg's frames round the loop; the closed form gives the turns of one pose.
    const double first = 1.0, k = std::sin(0.5 * (beta + alpha)) / std::sin(0.5 * (beta - alpha));
    const double second = 2 * std::atan(k / std::tan(0.5 * first));
    const auto bar = [](double turn, double length, double twist) {
        return Frame{turn_about_axis(2, turn), {0, 0, 0}} *
               Frame{turn_about_axis(0, twist), Vec3(length, 0, 0)};
    };
    Document d = empty_document();
    const PartId ground = add_part(d, "ground");
    const PartId one = add_part(d, "one", ground, Frame{turn_about_axis(2, first), Vec3(0, 0, 0)});
    const Frame link1{turn_about_axis(0, alpha), Vec3(a, 0, 0)},
        link2{turn_about_axis(0, beta), Vec3(b, 0, 0)};
    const PartId two = add_part(d, "two", one, link1 * Frame{turn_about_axis(2, second), Vec3(0, 0, 0)});
    const PartId three = add_part(d, "three", two, link2 * Frame{turn_about_axis(2, -first), Vec3(0, 0, 0)});
    for (const PartId part : {one, two, three}) make_hinge(d, part);
    const Frame end =
        bar(first, a, alpha) * bar(second, b, beta) * bar(-first, a, alpha) * bar(-second, b, beta);
    ASSERT_LT(end.translation.norm() + angle_between(end.rotation, Quat(1, 0, 0, 0)), 1e-9);
    const Frame fourth = world_from_rest(d, three) * link1;
    const Vec3 at = fourth.translation, axis = fourth.axis(2);
    d = run(d, {{"op", "linkage.close"},
                {"a", "three"},
                {"b", "ground"},
                {"at", {at.x(), at.y(), at.z()}},
                {"axis", {axis.x(), axis.y(), axis.z()}}});
    const Mobility can = mobility_of(d);
    EXPECT_EQ(can.ways, 1);
    EXPECT_LT(can.counted, 0);
    key(d, one, {{0, 0, Interpolation::Linear}, {40, 1.2, Interpolation::Linear}});
    Moved moved(d);
    for (int frame = 0; frame <= 40; ++frame) {
        EXPECT_LT(moved(frame).miss().apart_m, 1e-9) << frame;
        const double t = first + 1.2 * frame / 40;
        EXPECT_NEAR(moved.value("two"), 2 * std::atan(k / std::tan(0.5 * t)) - second, 1e-8) << frame;
    }
}

/// n crossed pairs of arms: the height is n times that of one.
Document scissor(int stages, double arm, double angle) {
    Document d = empty_document();
    const double wide = arm * std::cos(angle), high = arm * std::sin(angle);
    const PartId base = add_part(d, "base");
    PartId right;
    for (int k = 0; k < stages; ++k) {
        const std::string n = std::to_string(k);
        // The left foot is a hinge on what is below; the right one is pinned to it or slides on the base.
        const PartId below = k == 0 ? base : right;
        const Frame foot{turn_about_axis(2, angle), Vec3(0, k * high, 0)};
        const PartId rising = add_part(d, "rising " + n, below, world_from_rest(d, below).inverse() * foot);
        const Frame middle{turn_about_axis(2, -angle), Vec3(0.5 * wide, (k + 0.5) * high, 0)};
        const PartId falling =
            add_part(d, "falling " + n, rising, world_from_rest(d, rising).inverse() * middle);
        make_hinge(d, rising);
        make_hinge(d, falling);
        if (k == 0)
            d = run(d, {{"op", "linkage.close"},
                        {"a", "falling 0"},
                        {"b", "base"},
                        {"closes", "slider"},
                        {"at", {wide, 0, 0}},
                        {"axis", {1, 0, 0}}});
        else
            d = run(d, {{"op", "linkage.close"},
                        {"a", "falling " + n},
                        {"b", "rising " + std::to_string(k - 1)},
                        {"at", {wide, k * high, 0}}});
        right = falling;
    }
    return d;
}

TEST(Linkage, AScissorRisesByItsStages) {
    const double arm = 1, angle = 0.4;
    Document d = scissor(5, arm, angle);
    EXPECT_EQ(mobility_of(d).ways, 1);
    key(d, named(d, "rising 0"), {{0, 0, Interpolation::Linear}, {30, 0.8, Interpolation::Linear}});
    Moved at(d);
    for (int frame = 0; frame <= 30; ++frame) {
        const double t = angle + 0.8 * frame / 30;
        const Vec3 top = at(frame).world("rising 4").point({arm, 0, 0});
        EXPECT_NEAR(top.y(), 5 * arm * std::sin(t), 1e-9) << frame;
        EXPECT_NEAR(top.x(), arm * std::cos(t), 1e-9) << frame;
    }
}

}  // namespace
}  // namespace pivrak
