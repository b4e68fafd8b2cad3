// Limits that are open at one end, through everything that looks at limits.
#include <gtest/gtest.h>

#include <cmath>
#include <limits>

#include "core/checks/exercise/exercise_ranges.h"
#include "core/checks/findings.h"
#include "core/io/project/project_file.h"
#include "core/model/limit_ends.h"
#include "core/motion/evaluator.h"
#include "tests/support/documents.h"
#include "tests/support/temp_folder.h"

namespace pivrak {
namespace {

using test::run;

/// A lid whose hinge may open as far as it likes, and not close beyond 0.
Document open_lid() {
    Document d = run(empty_document(), {{"op", "stand_in.add"},
                                        {"kind", "box"},
                                        {"name", "lid"},
                                        {"length", 0.4},
                                        {"width", 0.3},
                                        {"height", 0.02},
                                        {"at", {0, 0, 1}}});
    return run(d,
               {{"op", "joint.set"}, {"parts", {"lid"}}, {"kind", "hinge"}, {"axis", "y"}, {"min", "0 deg"}});
}

const Limits& limits_of_lid(const Document& d) {
    return *d.parts.find(test::named(d, "lid"))->joint.turn.limits;
}

TEST(OpenLimits, StopAtOneEndOnly) {
    Document d = open_lid();
    d = run(d, {{"op", "channel.set"}, {"parts", {"lid"}}, {"value", "-20 deg"}});
    EXPECT_EQ(d.parts.find(test::named(d, "lid"))->joint.turn.value, 0);
    d = run(d, {{"op", "channel.set"}, {"parts", {"lid"}}, {"value", "900 deg"}});
    EXPECT_NEAR(d.parts.find(test::named(d, "lid"))->joint.turn.value, 5 * pi, 1e-12);
    const auto evaluator = Evaluator::compile(d);
    Pose pose = evaluator->make_pose();
    evaluator->evaluate(0, pose);
    EXPECT_TRUE(pose.world_from_part[0].translation.allFinite());
}

TEST(OpenLimits, AreKeptInAProjectAndInAMirrorImage) {
    const test::TempFolder folder;
    const Document d = open_lid();
    ASSERT_TRUE(save_project(d, folder / "lid.pivrak.glb").ok());
    const auto read = open_project(folder / "lid.pivrak.glb");
    ASSERT_TRUE(read.ok()) << read.error().message;
    EXPECT_EQ(limits_of_lid(*read), limits_of_lid(d));
    EXPECT_EQ(limits_of_lid(*read).max, std::numeric_limits<double>::infinity());
    const Document mirrored = run(d, {{"op", "part.mirror"}, {"parts", {"lid"}}, {"normal", {1, 0, 0}}});
    for (const Part& part : mirrored.parts)
        EXPECT_NE(std::isfinite(part.joint.turn.limits->min), std::isfinite(part.joint.turn.limits->max))
            << part.name << ": one end, open on one side";
}

TEST(OpenLimits, AreExercisedAsFarAsUsualFromTheEndThatThereIs) {
    RigFacts facts;
    const auto ranges = exercise_ranges(open_lid(), facts);
    for (const ExerciseRange& range : ranges) {
        EXPECT_EQ(range.range.min, 0);
        EXPECT_NEAR(range.range.max, 2 * pi, 1e-12);
    }
    EXPECT_EQ(ranges.size(), 1u);
}

TEST(OpenLimits, FindingsTellThatAnEndIsNone) {
    Document d = open_lid();
    test::key(d, test::named(d, "lid"), {{0, 0}, {10, -0.5}});
    bool told = false;
    for (const Finding& f : check_document(d)) {
        EXPECT_EQ(f.message.find("inf"), std::string::npos) << f.message;
        told |= f.code == "keys.limit" && f.message.find("0.00° to none") != std::string::npos;
    }
    EXPECT_TRUE(told);
}

TEST(OpenLimits, AreClosedAboutTheEndThatThereIs) {
    constexpr double open = std::numeric_limits<double>::infinity();
    EXPECT_EQ(closed({1, open}, 2), (Limits{1, 5}));
    EXPECT_EQ(closed({-open, 1}, 2), (Limits{-3, 1}));
    EXPECT_EQ(closed({-open, open}, 2), (Limits{-2, 2}));
    EXPECT_EQ(closed({1, 2}, 9), (Limits{1, 2}));
}

}  // namespace
}  // namespace pivrak
