// Formulas that drive channels, judged from where parts stand in the world.
#include <gtest/gtest.h>

#include <random>

#include "core/checks/findings.h"
#include "core/io/project/project_file.h"
#include "tests/core/elements/linkages.h"
#include "tests/support/cart.h"

namespace pivrak {
namespace {

using namespace test;
using nlohmann::json;

/// A handle on a slide, and flaps that turn about x.
Document bank(int flaps = 1) {
    Document d = empty_document();
    add_part(d, "handle", {}, {Quat(1, 0, 0, 0), Vec3(0.5, 0, 2)});
    d = run(d, {{"op", "joint.set"}, {"parts", {"handle"}}, {"kind", "slide"}, {"axis", "z"}});
    for (int i = 0; i < flaps; ++i)
        make_hinge(
            d, add_part(d, "flap" + std::to_string(i + 1), {}, {Quat(1, 0, 0, 0), Vec3(0, 0, 0.1 * i)}), 0);
    return d;
}

json flap_names(int count) {
    json names = json::array();
    for (int i = 1; i <= count; ++i) names.push_back("flap" + std::to_string(i));
    return names;
}

Document with_formula(const Document& d, json parts, const std::string& text, json inputs) {
    return run(
        d,
        {{"op", "formula.set"}, {"parts", std::move(parts)}, {"text", text}, {"inputs", std::move(inputs)}});
}

Document lifted(Document d, double by_m) {
    return run(d, {{"op", "channel.set"}, {"parts", {"handle"}}, {"channel", "shift"}, {"value", by_m}});
}

double flap_deg(const Moved& at, const std::string& flap) {
    const Vec3 y = at.world(flap).axis(1);
    return std::atan2(y.z(), y.y()) * deg_per_rad;
}

const json handle_input{{"part", "handle"}, {"channel", "shift"}};

TEST(FormulaRig, GivesDegreesOfMetresForEachPartOfASeries) {
    Document d = with_formula(bank(24), flap_names(24), "clamp(pull * 50 - n, 0, 70)",
                              {{"pull", handle_input}, {"n", "number"}});
    EXPECT_EQ(d.couplings.size(), 24u);
    const Document pulled = lifted(d, 0.8);
    Moved at(pulled);
    at(0);
    for (const int i : {1, 7, 24}) EXPECT_NEAR(flap_deg(at, "flap" + std::to_string(i)), 40 - i, 1e-9) << i;
    // A later one of the same bank.
    const Document more =
        run(lifted(d, 2), {{"op", "channel.set"}, {"parts", {"handle"}}, {"value", 2}, {"channel", "shift"}});
    EXPECT_NEAR(flap_deg(Moved(more)(0), "flap1"), 70, 1e-9) << "clamped";
}

/// A project in millimetres counts in these, and goes on to when the unit is changed.
TEST(FormulaRig, LengthsAreInTheUnitInWhichItWasWritten) {
    Document d = bank();
    d = run(d, {{"op", "project.set"}, {"length_unit", "mm"}});
    d = with_formula(d, {"flap1"}, "pull / 10 + r / 1 mm", {{"pull", handle_input}, {"r", "2 in"}});
    const Document pulled = lifted(d, 0.1);
    EXPECT_NEAR(flap_deg(Moved(pulled)(0), "flap1"), 10 + 50.8, 1e-9);
    const Document metres = run(pulled, {{"op", "project.set"}, {"length_unit", "m"}});
    EXPECT_NEAR(flap_deg(Moved(metres)(0), "flap1"), 10 + 50.8, 1e-9);
}

/// What is written again after the project's unit was changed counts as it did, and tells so.
TEST(FormulaRig, WrittenAgainItKeepsItsUnitItsNumberAndItsSigns) {
    Document d = run(bank(3), {{"op", "project.set"}, {"length_unit", "mm"}});
    const json inputs{{"pull", handle_input}, {"n", "number"}};
    d = with_formula(d, flap_names(3), "pull / 10 + n", inputs);
    d = run(lifted(d, 0.1), {{"op", "project.set"}, {"length_unit", "m"}});
    const json again{
        {"op", "formula.set"}, {"parts", {"flap3"}}, {"text", "pull / 5 + n"}, {"inputs", inputs}};
    const Result<Outcome> written = make_registry().run(d, again);
    ASSERT_TRUE(written.ok()) << written.error().message;
    EXPECT_EQ(written->messages.back(), "its lengths count in mm, as it was written");
    EXPECT_NEAR(flap_deg(Moved(written->document)(0), "flap3"), 20 + 3, 1e-9);
    // The mirror image of a slide along x counts the other way round, after new words, too.
    Document sides = bank();
    sides = run(sides, {{"op", "joint.set"}, {"parts", {"handle"}}, {"kind", "slide"}, {"axis", "x"}});
    sides = run(sides, {{"op", "tree.parent"}, {"parts", {"flap1"}}, {"under", "handle"}});
    sides = with_formula(sides, {"flap1"}, "pull * 50", {{"pull", handle_input}});
    sides = run(sides,
                {{"op", "part.mirror"}, {"parts", {"handle"}}, {"normal", {1, 0, 0}}, {"point", {0, 0, 0}}});
    Formula twin;
    for (const Coupling& coupling : sides.couplings)
        if (const Formula* one = coupling.as<Formula>(); one && name_of(sides, one->driven.part()) != "flap1")
            twin = *one;
    ASSERT_EQ(twin.inputs.size(), 1u);
    const bool turned_over = twin.inputs[0].against || twin.against;
    EXPECT_TRUE(turned_over);
    const Document rewritten =
        run(sides,
            {{"op", "formula.set"},
             {"parts", {twin.driven.part().value}},
             {"text", "pull * 60"},
             {"inputs", {{"pull", {{"part", twin.inputs[0].channel.part().value}, {"channel", "shift"}}}}}});
    for (const Coupling& coupling : rewritten.couplings)
        if (const Formula* one = coupling.as<Formula>(); one && one->driven == twin.driven) {
            EXPECT_EQ(one->inputs[0].against, twin.inputs[0].against);
            EXPECT_EQ(one->against, twin.against);
        }
}

TEST(FormulaRig, WhatIsLetGoStaysOrGoesBackAsAsked) {
    Document d = bank(2);
    d = with_formula(d, flap_names(2), "pull * 50", {{"pull", handle_input}});
    d = lifted(d, 0.4);
    json let_go{{"op", "driver.remove"}, {"parts", {"flap1"}}, {"hold", true}};
    d = run(d, let_go);
    EXPECT_NEAR(flap_deg(Moved(d)(0), "flap1"), 20, 1e-9);
    let_go["parts"] = {"flap2"};
    let_go["hold"] = false;
    d = lifted(run(d, let_go), 0.6);
    EXPECT_NEAR(flap_deg(Moved(d)(0), "flap1"), 20, 1e-9) << "it stays";
    EXPECT_NEAR(flap_deg(Moved(d)(0), "flap2"), 0, 1e-9) << "as it was by hand";
    EXPECT_TRUE(d.couplings.empty());
    EXPECT_EQ(refusal(d, let_go).code, "driver.none");
}

TEST(FormulaRig, TimeRunsOnBehindTheLastKey) {
    Document d = with_formula(bank(3), {"flap1"}, "20 * t", {{"t", "seconds"}});
    d = with_formula(d, {"flap2"}, "90 * p", {{"p", "progress"}});
    d = with_formula(d, {"flap3"}, "f / 2", {{"f", "frame"}});
    const Clip clip = clip_or_first(d);
    const double rate = d.settings.frame_rate;
    Moved at(d);
    for (const double frame : {0.0, 7.5, 30.0, 60.0}) {
        at(frame);
        EXPECT_NEAR(flap_deg(at, "flap1"), 20 * frame / rate, 1e-9);
        EXPECT_NEAR(flap_deg(at, "flap2"),
                    90 * (frame - clip.first_frame) / (clip.last_frame - clip.first_frame), 1e-9);
        EXPECT_NEAR(flap_deg(at, "flap3"), frame / 2, 1e-9);
    }
}

/// A wheel by `travel / radius` stands where the built-in rolling puts it: both judged from world frames.
TEST(FormulaRig, AWheelByTravelAndRadiusRollsAsTheBuiltInOneDoes) {
    Cart cart;
    cart.key(ChannelKind::ShiftX,
             {{0, 0, Interpolation::Linear}, {40, 4, Interpolation::Linear}, {60, 1, Interpolation::Linear}});
    const Document rolling = cart.document;
    const Document typed =
        run(run(rolling, {{"op", "coupling.remove"}, {"driven", {"wheel"}}}),
            {{"op", "formula.set"},
             {"parts", {"wheel"}},
             {"text", "way / r * 1 rad"},
             {"inputs", {{"way", {{"part", "cart"}, {"channel", "shift_x"}}}, {"r", "500 mm"}}}});
    Moved built_in(rolling), by_formula(typed);
    for (double frame = 0; frame <= 60; frame += 0.5) {
        const Frame one = built_in(frame).world("wheel"), other = by_formula(frame).world("wheel");
        EXPECT_LT(angle_between(one.rotation, other.rotation), 1e-6) << frame;
        EXPECT_EQ(one.translation, other.translation);
    }
    EXPECT_GT(by_formula(40).value("wheel"), 7);
}

TEST(FormulaRig, WhatHasNoAnswerStandsAsByHandAndIsTold) {
    Document d = run(bank(), {{"op", "channel.set"}, {"parts", {"flap1"}}, {"value", "12 deg"}});
    d = with_formula(d, {"flap1"}, "1 / pull", {{"pull", handle_input}});
    for (const auto& [frame, value] : {std::pair(0, 1.0), {10, 0.0}, {20, -1.0}})
        d = run(d, {{"op", "key.set"},
                    {"parts", {"handle"}},
                    {"channel", "shift"},
                    {"frame", frame},
                    {"value", value},
                    {"interpolation", "linear"}});
    Moved at(d);
    EXPECT_NEAR(flap_deg(at(0), "flap1"), 1, 1e-9);
    EXPECT_NEAR(flap_deg(at(10), "flap1"), 12, 1e-9);
    for (double frame = 0; frame <= 20; frame += 0.25)
        for (const double value : at(frame).pose().channels) EXPECT_TRUE(std::isfinite(value)) << frame;
    bool told = false;
    for (const Finding& f : check_document(d))
        told |= f.code == "formula.no_answer" && f.frame == std::optional<double>(10);
    EXPECT_TRUE(told);
}

TEST(FormulaRig, AnInputThatIsRemovedBecomesANumberAndIsTold) {
    Document d = with_formula(bank(2), {"flap1"}, "pull * 20 + other",
                              {{"pull", handle_input}, {"other", {{"part", "flap2"}}}});
    d = run(lifted(d, 1.5), {{"op", "channel.set"}, {"parts", {"flap2"}}, {"value", "5 deg"}});
    ASSERT_NEAR(flap_deg(Moved(d)(0), "flap1"), 35, 1e-9);
    const Document gone = run(d, {{"op", "part.remove"}, {"parts", {"handle"}}});
    ASSERT_EQ(gone.couplings.size(), 1u);
    EXPECT_NEAR(flap_deg(Moved(gone)(0), "flap1"), 35, 1e-9) << "unchanged in value";
    std::string told;
    for (const Finding& f : check_document(gone))
        if (f.code == "formula.lost") told = f.message;
    EXPECT_NE(told.find("'pull' stands at 1.500 m"), std::string::npos) << told;
    EXPECT_NE(told.find("'handle shift' was removed"), std::string::npos) << told;
    const auto file = project_from_bytes(*project_bytes(gone), "bank");
    ASSERT_TRUE(file.ok());
    EXPECT_TRUE(*file == gone);
    // Another one in its place.
    const Document mended =
        run(gone, {{"op", "formula.set"}, {"parts", {"flap1"}}, {"inputs", {{"pull", 1}}}});
    for (const Finding& f : check_document(mended)) EXPECT_NE(f.code, "formula.lost");
}

TEST(FormulaRig, SurvivesNamesCopiesMirrorsAndFiles) {
    Document d = with_formula(bank(1), {"flap1"}, "pull * pull * 20 + 5", {{"pull", handle_input}});
    d = lifted(d, 1.5);
    const double before = flap_deg(Moved(d)(0), "flap1");
    ASSERT_NEAR(before, 50, 1e-9);
    const Document renamed = run(d, {{"op", "part.rename"}, {"part", "handle"}, {"name", "lever"}});
    EXPECT_EQ(flap_deg(Moved(renamed)(0), "flap1"), before);
    EXPECT_TRUE(*project_from_bytes(*project_bytes(d), "bank") == d);
    const Document copied =
        run(d, {{"op", "part.duplicate"}, {"parts", {"flap1", "handle"}}, {"shift", {1, 0, 0}}});
    ASSERT_EQ(copied.couplings.size(), 2u);
    // The mirror image turns the other way by the image of what is pulled.
    const Document image =
        run(d, {{"op", "part.mirror"}, {"parts", {"flap1", "handle"}}, {"normal", {0, 1, 0}}});
    ASSERT_EQ(image.couplings.size(), 2u);
    Moved at(image);
    at(0);
    const Frame one = at.world("flap1");
    for (const Part& part : image.parts) {
        if (part.name == "flap1" || part.name.find("flap1") == std::string::npos) continue;
        const Frame other = at.world(part.name);
        const Vec3 y = other.axis(1), mirrored(one.axis(1).x(), -one.axis(1).y(), one.axis(1).z());
        EXPECT_LT(std::min((y - mirrored).norm(), (y + mirrored).norm()), 1e-9);
    }
}

TEST(FormulaRig, RefusalsSayWhereAndWhy) {
    const Document d = bank(2);
    const auto error = [&](json more) {
        json step{{"op", "formula.set"}, {"parts", {"flap1"}}};
        step.update(more);
        return refusal(d, step);
    };
    const Error unknown = error({{"text", "pull * arm"}, {"inputs", {{"pull", handle_input}}}});
    EXPECT_EQ(unknown.code, "formula.text");
    EXPECT_NE(unknown.message.find("at 'arm'"), std::string::npos) << unknown.message;
    EXPECT_EQ(unknown.subject, "7:3");
    EXPECT_EQ(error({{"text", "1"}, {"inputs", {{"sin", 1}}}}).code, "formula.name");
    EXPECT_EQ(error({{"text", "1"}, {"inputs", {{"r", "40 mm * 40 mm"}}}}).code, "formula.constant");
    EXPECT_EQ(error({{"text", "1"}, {"inputs", {{"r", "forty"}}}}).code, "formula.constant");
    EXPECT_EQ(error({{"text", "1"}, {"inputs", {{"r", {{"part", "flap2"}, {"channel", "shift"}}}}}}).code,
              "channel.none");
    EXPECT_EQ(error({{"text", std::string(1 << 20, '1')}}).code, "formula.size");
    const Error circle = error({{"text", "a"}, {"inputs", {{"a", {{"part", "flap1"}}}}}});
    EXPECT_EQ(circle.code, "rig.loop") << circle.message;
    const Document one = with_formula(d, {"flap2"}, "a", {{"a", {{"part", "flap1"}}}});
    const Error round = refusal(one, {{"op", "formula.set"},
                                      {"parts", {"flap1"}},
                                      {"text", "b + 1"},
                                      {"inputs", {{"b", {{"part", "flap2"}}}}}});
    EXPECT_EQ(round.code, "rig.loop");
    EXPECT_NE(round.message.find("flap2"), std::string::npos) << round.message;
    EXPECT_EQ(refusal(one, {{"op", "channel.set"}, {"parts", {"flap2"}}, {"value", 1}}).code,
              "channel.driven");
}

TEST(FormulaRig, AFrameIsTheSameInAnyOrderAndInCopiesOfAPose) {
    Document d = with_formula(bank(4), flap_names(4), "noise(f / 7, n) * 30 + pull * 10",
                              {{"pull", handle_input}, {"f", "frame"}, {"n", "number"}});
    d = run(d, {{"op", "key.set"}, {"parts", {"handle"}}, {"channel", "shift"}, {"frame", 0}, {"value", 0}});
    d = run(d, {{"op", "key.set"}, {"parts", {"handle"}}, {"channel", "shift"}, {"frame", 60}, {"value", 1}});
    const auto evaluator = Evaluator::compile(d);
    ASSERT_TRUE(evaluator.ok()) << evaluator.error().message;
    Pose one = evaluator->make_pose(), two = one;
    std::mt19937 random(5);
    for (int i = 0; i < 80; ++i) {
        const double frame = 0.25 * static_cast<double>(random() % 240);
        evaluator->evaluate(frame, one);
        evaluator->evaluate(frame + 1, two);
        evaluator->evaluate(frame, two);
        EXPECT_EQ(one.channels, two.channels) << frame;
    }
}

}  // namespace
}  // namespace pivrak
