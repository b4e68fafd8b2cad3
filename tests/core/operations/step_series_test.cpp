#include "core/operations/step_series.h"

#include <gtest/gtest.h>

#include "tests/support/documents.h"

namespace pivrak {
namespace {

using nlohmann::json;
using test::named;

/// Takes steps one after the other and keeps them as a history does.
struct Taking {
    Registry registry = make_registry();
    Document document = empty_document();
    std::vector<TakenStep> taken;

    void step(const json& step) {
        const Document before = document;
        document = test::run(document, step);
        taken.push_back({step, before, document});
    }
    Result<Document> again(const json& step) {
        auto outcome = registry.run(document, step);
        if (!outcome) return outcome.error();
        document = outcome->document;
        return document;
    }
};

Taking with_boxes(int count) {
    Taking taking;
    for (int i = 1; i <= count; ++i)
        taking.document = test::run(taking.document, {{"op", "stand_in.add"},
                                                      {"kind", "box"},
                                                      {"name", "Box " + std::to_string(i)},
                                                      {"at", {2.0 * i, 0, 0}}});
    return taking;
}

TEST(StepSeries, OneLotIsTakenOnAsManyAsArePicked) {
    Taking t = with_boxes(5);
    const json two{"Box 1", "Box 2"};
    t.step({{"op", "joint.set"}, {"parts", two}, {"kind", "hinge"}, {"axis", "y"}});
    t.step({{"op", "joint.set"}, {"parts", two}, {"min", "-30 deg"}, {"max", "45 deg"}});
    const auto series = StepSeries::make(t.registry, t.taken);
    ASSERT_TRUE(series.ok()) << series.error().message;
    EXPECT_TRUE(series->takes_any_number());
    const auto done =
        series->again({named(t.document, "Box 3"), named(t.document, "Box 4"), named(t.document, "Box 5")},
                      t.document, [&](const json& step) { return t.again(step); });
    ASSERT_TRUE(done.ok()) << done.error().message;
    for (const char* name : {"Box 3", "Box 4", "Box 5"}) {
        const Joint& joint = t.document.parts.find(named(t.document, name))->joint;
        EXPECT_EQ(joint.kind, JointKind::Hinge);
        EXPECT_EQ(joint.axis, 1);
        ASSERT_TRUE(joint.turn.limits.has_value());
        EXPECT_NEAR(joint.turn.limits->max, pi / 4, 1e-12);
    }
}

/// The copy that one step makes is what the next moves: in the second run its own copy.
TEST(StepSeries, RolesAreTakenInTheirOrderAndWhatCameOfAStepFollows) {
    Taking t = with_boxes(4);
    t.step({{"op", "tree.parent"}, {"parts", {"Box 1"}}, {"under", "Box 2"}});
    t.step({{"op", "part.duplicate"}, {"parts", {"Box 2"}}, {"shift", {0, 3, 0}}});
    const PartId copy = named(t.document, "Box 5");
    t.step({{"op", "joint.set"}, {"parts", {copy.value}}, {"kind", "slide"}, {"axis", "z"}});
    const auto series = StepSeries::make(t.registry, t.taken);
    ASSERT_TRUE(series.ok()) << series.error().message;
    EXPECT_FALSE(series->takes_any_number());
    EXPECT_EQ(series->roles(), (std::vector{named(t.document, "Box 1"), named(t.document, "Box 2")}));
    const PartId three = named(t.document, "Box 3"), four = named(t.document, "Box 4");
    const auto take = [&](const json& step) { return t.again(step); };
    const std::size_t parts = t.document.parts.size();
    EXPECT_EQ(series->again({three}, t.document, take).error().code, "steps.count");
    ASSERT_TRUE(series->again({three, four}, t.document, take).ok());
    EXPECT_EQ(t.document.parts.find(three)->parent, four);
    ASSERT_EQ(t.document.parts.size(), parts + 2);
    std::size_t slides = 0;
    for (const Part& part : t.document.parts) slides += part.joint.kind == JointKind::Slide;
    EXPECT_EQ(slides, 2u) << "the copy of the second run, not that of the first again";
    EXPECT_EQ(t.document.parts.find(copy)->joint.kind, JointKind::Slide);
}

/// A count that happens to be some part's number is left alone.
TEST(StepSeries, NumbersThatNameNoPartStay) {
    Taking t = with_boxes(3);
    const PartId one = named(t.document, "Box 1"), two = named(t.document, "Box 2");
    t.step(
        {{"op", "part.repeat_line"}, {"parts", {one.value}}, {"count", one.value + 2}, {"step", {0, 0, 1}}});
    const auto series = StepSeries::make(t.registry, t.taken);
    ASSERT_TRUE(series.ok());
    const std::size_t before = t.document.parts.size();
    ASSERT_TRUE(series->again({two}, t.document, [&](const json& step) { return t.again(step); }).ok());
    EXPECT_EQ(t.document.parts.size(), before + one.value + 1);
}

TEST(StepSeries, WhatCannotBeTakenAgainIsToldWhy) {
    Taking t = with_boxes(2);
    t.step({{"op", "part.rename"}, {"part", "Box 1"}, {"name", "Lid"}});
    EXPECT_TRUE(StepSeries::make(t.registry, t.taken).ok());
    Taking faces = with_boxes(1);
    faces.taken.push_back({{{"op", "split.faces"}, {"faces", {{{"part", "Box 1"}, {"faces", "0-1"}}}}},
                           faces.document,
                           faces.document});
    EXPECT_EQ(StepSeries::make(faces.registry, faces.taken).error().code, "steps.faces");
    Taking nothing;
    nothing.step({{"op", "clip.set"}, {"first_frame", 0}, {"last_frame", 20}});
    EXPECT_EQ(StepSeries::make(nothing.registry, nothing.taken).error().code, "steps.none");
    // One that is refused is told with its number.
    Taking twice = with_boxes(2);
    twice.step({{"op", "tree.parent"}, {"parts", {"Box 1"}}, {"under", "Box 2"}});
    const auto series = StepSeries::make(twice.registry, twice.taken);
    const PartId one = named(twice.document, "Box 1"), two = named(twice.document, "Box 2");
    const auto refused =
        series->again({two, one}, twice.document, [&](const json& step) { return twice.again(step); });
    ASSERT_FALSE(refused.ok());
    EXPECT_EQ(refused.error().message.rfind("step 1: ", 0), 0u) << refused.error().message;
}

TEST(StepSeries, AJobNamesPartsByTheirNames) {
    Taking t = with_boxes(2);
    const PartId one = named(t.document, "Box 1");
    t.step({{"op", "joint.set"}, {"parts", {one.value}}, {"kind", "hinge"}});
    const auto series = StepSeries::make(t.registry, t.taken);
    ASSERT_TRUE(series.ok());
    EXPECT_EQ(series->named().at(0)["parts"], (json{"Box 1"}));
}

}  // namespace
}  // namespace pivrak
