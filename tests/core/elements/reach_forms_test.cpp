// Rows whose pose follows from the goal by trigonometry, and rows that may become longer: judged from where
// parts stand in the world, also between frames.
#include <gtest/gtest.h>

#include <random>

#include "core/checks/findings.h"
#include "core/elements/reach/reach_motion.h"
#include "core/io/delivery/deliver.h"
#include "core/io/delivery/delivery_formats.h"
#include "core/io/project/project_file.h"
#include "tests/core/elements/linkages.h"

namespace pivrak {
namespace {

using namespace test;
using nlohmann::json;

constexpr double upper_m = 0.5, lower_m = 0.4, tool_m = 0.15;

/// Shoulder, elbow and wrist turn about y, with a tool behind the wrist.
Document arm_with_tool() {
    Document d = empty_document();
    const PartId post = add_part(d, "post", {}, {turn_about_axis(2, 0.4), Vec3(0.3, 0.1, 1)});
    const PartId shoulder = add_part(d, "shoulder", post, {turn_about_axis(1, -0.5), Vec3(0, 0, 0)});
    const PartId elbow = add_part(d, "elbow", shoulder, {turn_about_axis(1, 0.6), Vec3(upper_m, 0, 0)});
    const PartId wrist = add_part(d, "wrist", elbow, {turn_about_axis(1, -0.3), Vec3(lower_m, 0, 0)});
    add_part(d, "tool", wrist, {Quat(1, 0, 0, 0), Vec3(tool_m, 0, 0)});
    for (const PartId hinge : {shoulder, elbow, wrist}) make_hinge(d, hinge, 1);
    return d;
}

void set_key(Document& d, const char* part, const char* channel, double frame, double value) {
    d = run(d,
            {{"op", "key.set"}, {"parts", {part}}, {"channel", channel}, {"frame", frame}, {"value", value}});
}

ReachMiss misses(const Moved& at, const Document& d) {
    return *reach_miss(at.evaluator(), at.pose(), *d.reaches.begin());
}

/// The tool stands as asked, so the wrist is where the tool leaves it; upper and lower arm are sides of a
/// triangle to there.
TEST(ReachForms, ThreeHingesBringAToolToPlaceAndTurn) {
    Document d =
        run(arm_with_tool(), {{"op", "reach.add"}, {"root", "shoulder"}, {"tip", "tool"}, {"turn", true}});
    // The goal hangs in the post's frame, so that it stays in the arm's plane.
    d = run(d, {{"op", "tree.parent"}, {"parts", {"tool goal"}}, {"under", "post"}});
    for (const auto& [frame, x, z, turn] :
         {std::tuple{0.0, 0.0, 0.0, 0.0}, {20, -0.15, 0.2, 0.5}, {40, -0.1, -0.1, -0.7}, {60, 0, 0.1, 0.2}}) {
        set_key(d, "tool goal", "shift_x", frame, x);
        set_key(d, "tool goal", "shift_z", frame, z);
        set_key(d, "tool goal", "turn_y", frame, turn);
    }
    Moved at(d);
    for (double frame = 0; frame <= 60; frame += 0.25) {
        at(frame);
        EXPECT_LT(misses(at, d).place_m, 1e-13) << frame;
        EXPECT_LT(misses(at, d).turn_rad, 1e-13) << frame;
        const Frame goal = at.in("tool goal", "post");
        const Vec3 wrist = goal.point({-tool_m, 0, 0});
        const double cosine =
            (wrist.squaredNorm() - upper_m * upper_m - lower_m * lower_m) / (2 * upper_m * lower_m);
        EXPECT_NEAR(at.value("elbow") + 0.6, std::acos(cosine), 1e-12) << frame;
        EXPECT_LT((at.in("elbow", "shoulder").translation - Vec3(upper_m, 0, 0)).norm(), 1e-14);
    }
}

/// In closed form or in steps, nothing that joints could do comes nearer: looked through degree by degree.
TEST(ReachForms, WithLimitsNoPoseOfTwoHingesComesNearer) {
    std::mt19937 random(11);
    std::uniform_real_distribution<double> one(-1, 1);
    int reached = 0, held = 0;
    for (int look = 0; look < 60; ++look) {
        Document d = empty_document();
        const PartId a = add_part(d, "a", {}, {turn_about_axis(0, one(random)), Vec3(0, 0, 1)});
        const PartId b = add_part(d, "b", a, {turn_about_axis(2, one(random)), Vec3(1, 0.2, 0.1)});
        add_part(d, "tip", b, {Quat(1, 0, 0, 0), Vec3(0.7 + 0.2 * one(random), 0, -0.2)});
        make_hinge(d, a);
        make_hinge(d, b);
        const double least = -1.2 + 0.5 * one(random), most = 1 + 0.5 * one(random);
        for (const char* joint : {"a", "b"})
            d = run(d, {{"op", "joint.set"}, {"parts", {joint}}, {"min", least}, {"max", most}});
        const Vec3 goal =
            world_from_rest(d, a).point({1.3 * one(random), 1.3 * one(random), 0.3 * one(random)});
        d = run(d,
                {{"op", "reach.add"}, {"root", "a"}, {"tip", "tip"}, {"to", {goal.x(), goal.y(), goal.z()}}});
        Moved at(d);
        at(0);
        const double miss = misses(at, d).place_m;
        for (const char* joint : {"a", "b"}) {
            EXPECT_GE(at.value(joint), least - 1e-12);
            EXPECT_LE(at.value(joint), most + 1e-12);
        }
        double nearest = 1e9;
        const Frame root = world_from_rest(d, a), b_rest = d.parts.find(b)->parent_from_rest;
        const Vec3 place = d.parts.find(named(d, "tip"))->parent_from_rest.translation;
        for (int i = 0; i <= 120; ++i)
            for (int k = 0; k <= 120; ++k) {
                const Frame lower_arm =
                    root * Frame{turn_about_axis(2, least + i * (most - least) / 120)} * b_rest;
                const Vec3 tip =
                    lower_arm.point(turn_about_axis(2, least + k * (most - least) / 120) * place);
                nearest = std::min(nearest, (tip - goal).norm());
            }
        ASSERT_LT(nearest, 10) << "some pose was looked at";
        EXPECT_LT(miss, nearest + 1e-9) << look;
        const double aside = std::abs(root.inverse().point(goal).z() - (0.1 - 0.2));
        (miss < aside + 1e-9 ? reached : held) += 1;
    }
    EXPECT_GT(reached, 5);
    EXPECT_GT(held, 10);
}

Document stretchy(double most) {
    Document d =
        run(arm_with_tool(),
            {{"op", "reach.add"}, {"root", "shoulder"}, {"tip", "wrist"}, {"name", "r"}, {"stretch", most}});
    d = run(d, {{"op", "tree.parent"}, {"parts", {"wrist goal"}}, {"under", "post"}});
    const Vec3 rests = world_from_rest(d, named(d, "post"))
                           .inverse()
                           .point(world_from_rest(d, named(d, "wrist goal")).translation);
    for (const auto& [frame, far] : {std::pair{0.0, 0.6}, {30, 1.3}, {60, 0.7}}) {
        set_key(d, "wrist goal", "shift_x", frame, far - rests.x());
        set_key(d, "wrist goal", "shift_z", frame, -rests.z());
    }
    return d;
}

TEST(ReachForms, ARowBecomesLongerOnlyAsFarAsItsGoalAsks) {
    const Document d = stretchy(1.25);
    Moved at(d);
    bool grew = false, fell_short = false;
    double last = 1, last_elbow = at(0).value("elbow");
    for (double frame = 0; frame <= 60; frame += 0.25) {
        at(frame);
        const double far = at.in("wrist goal", "post").translation.norm(), whole = upper_m + lower_m;
        const double wanted = std::clamp(far / whole, 1.0, 1.25);
        EXPECT_NEAR(at.in("elbow", "shoulder").translation.norm(), wanted * upper_m, 1e-6) << frame;
        EXPECT_NEAR(at.in("wrist", "elbow").translation.norm(), wanted * lower_m, 1e-6) << frame;
        EXPECT_NEAR(at.in("tool", "wrist").translation.norm(), tool_m, 1e-15)
            << "what the tip carries is not";
        EXPECT_NEAR(misses(at, d).place_m, std::max(0.0, far - 1.25 * whole), 1e-8) << frame;
        EXPECT_LT(std::abs(wanted - last), 0.05);
        EXPECT_LT(std::abs(at.value("elbow") - last_elbow), 0.3) << "no flip at " << frame;
        grew |= wanted > 1.1;
        fell_short |= far > 1.25 * whole + 0.01;
        last = wanted;
        last_elbow = at.value("elbow");
    }
    EXPECT_TRUE(grew && fell_short);
    bool told = false;
    for (const Finding& finding : check_document(d)) told |= finding.code == "reach.misses";
    EXPECT_TRUE(told) << "beyond what it may";
    const auto back = project_from_bytes(*project_bytes(d), "arm");
    ASSERT_TRUE(back.ok());
    EXPECT_TRUE(*back == d);
    const auto made = delivery_bytes(d, {}, {});
    ASSERT_TRUE(made.ok()) << made.error().message;
    const auto compared = compare_delivery(d, made->bytes, "arm.glb", {}, {});
    ASSERT_TRUE(compared.ok()) << compared.error().message;
    EXPECT_LT(compared->at_frames.largest_m, 1e-5);
}

TEST(ReachForms, AFrameOfAStretchedRowIsTheSameInAnyOrder) {
    const Document d = stretchy(2);
    Moved forwards(d), anyhow(d);
    std::vector<std::vector<double>> kept;
    for (int f = 0; f <= 120; ++f) kept.push_back(forwards(0.5 * f).pose().channels);
    std::mt19937 random(3);
    for (int i = 0; i < 100; ++i) {
        const int f = static_cast<int>(random() % 121);
        EXPECT_EQ(anyhow(0.5 * f).pose().channels, kept[static_cast<std::size_t>(f)]) << f;
    }
}

TEST(ReachForms, AGoalOutsideEverythingLeavesAFinitePose) {
    Document d = stretchy(3);
    Clip clip = clip_or_first(d);
    clip.track_or_new({named(d, "wrist goal"), ChannelKind::ShiftX})
        .keys.push_back({90, 1e300, Interpolation::Linear});
    d.clips.set(clip);
    Moved at(d);
    for (double frame = 60; frame <= 90; frame += 0.5)
        for (const double value : at(frame).pose().channels) EXPECT_TRUE(std::isfinite(value)) << frame;
    EXPECT_LE(at.in("elbow", "shoulder").translation.norm(), 3 * upper_m + 1e-12);
}

TEST(ReachForms, AsLongAsItIsUnlessAskedAndRefusedWhereSomethingHoldsTheRow) {
    const Document d = stretchy(1);
    Moved at(d);
    for (double frame = 0; frame <= 60; frame += 1)
        EXPECT_LT((at(frame).in("elbow", "shoulder").translation - Vec3(upper_m, 0, 0)).norm(), 1e-14)
            << frame;
    const auto code = [](const Document& in, json step) { return refusal(in, step).code; };
    EXPECT_EQ(code(d, {{"op", "reach.set"}, {"reaches", {"r"}}, {"stretch", 0.5}}), "reach.stretch");
    EXPECT_EQ(code(d, {{"op", "reach.set"}, {"reaches", {"r"}}, {"stretch", "far"}}), "quantity.syntax");
    // Its length is its own affair.
    const Document longer = stretchy(1.5);
    EXPECT_NE(code(longer, {{"op", "key.set"}, {"elements", {"r"}}, {"channel", "stretch"}, {"frame", 0}}),
              "");
    // Two rows that share parts cannot both decide how far apart these are.
    EXPECT_EQ(code(longer, {{"op", "reach.add"}, {"root", "elbow"}, {"tip", "tool"}}), "reach.stretch");
    // A loop that is closed inside the row would be torn open.
    const Document bar = four_bar({0.2, 0.5, 0.4, 0.6}, 1.0);
    EXPECT_EQ(code(bar, {{"op", "reach.add"}, {"root", "crank"}, {"tip", "coupler"}, {"stretch", 2}}),
              "reach.stretch");
}

}  // namespace
}  // namespace pivrak
