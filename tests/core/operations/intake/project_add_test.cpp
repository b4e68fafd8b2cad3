// A project brought into another one: it moves there as it did alone.
#include <gtest/gtest.h>

#include "core/checks/findings.h"
#include "core/io/project/project_file.h"
#include "core/operations/job.h"
#include "tests/core/elements/linkages.h"
#include "tests/support/jobs.h"
#include "tests/support/temp_folder.h"

namespace pivrak {
namespace {

using namespace test;
using nlohmann::json;

std::vector<PartId> parts_of(const Document& d) {
    std::vector<PartId> parts;
    for (const Part& part : d.parts) parts.push_back(part.id);
    return parts;
}

/// Every part in the world at some frames of its clip, as it does alone.
void expect_same_motion(const Document& alone, const Clip& clip, const Document& both,
                        const std::string& clip_name, std::size_t first_part) {
    ClipId there;
    for (const Clip& one : both.clips)
        if (one.name == clip_name) there = one.id;
    const auto a = Evaluator::compile(alone, clip.id), b = Evaluator::compile(both, there);
    ASSERT_TRUE(a.ok());
    ASSERT_TRUE(b.ok()) << b.error().message;
    Pose one = a->make_pose(), other = b->make_pose();
    const auto its = parts_of(alone), theirs = parts_of(both);
    for (double frame = clip.first_frame; frame <= clip.last_frame;
         frame += (clip.last_frame - clip.first_frame) / 9) {
        a->evaluate(frame, one);
        b->evaluate(frame, other);
        for (std::size_t i = 0; i < its.size(); ++i) {
            const Frame &was = one.world_from_part[*a->part_slot(its[i])],
                        &is = other.world_from_part[*b->part_slot(theirs[first_part + i])];
            ASSERT_EQ(name_of(alone, its[i]), name_of(both, theirs[first_part + i]));
            EXPECT_LT((was.translation - is.translation).norm(), 1e-9)
                << name_of(alone, its[i]) << " " << frame;
            EXPECT_GT(std::abs(was.rotation.dot(is.rotation)), 1 - 1e-12) << name_of(alone, its[i]);
        }
    }
}

/// The demo's machines, of all kinds: the station with its shutter, the crane, doors by their place on a
/// rope.
TEST(ProjectAdd, MachinesMoveBesideEachOtherAsTheyDoAlone) {
    TempFolder folder;
    Document scene = by_demo_job("station-shutter");
    const std::size_t station = scene.parts.size();
    const Document first = scene;
    for (const char* job : {"cabin-doors", "proxy-loader", "cabin-doors"}) {
        const Document alone = by_demo_job(job);
        ASSERT_TRUE(save_project(alone, folder / "one.pivrak.glb").ok());
        const std::size_t before = scene.parts.size(), clips = scene.clips.size();
        const auto outcome = make_registry().run(
            scene, {{"op", "project.add"}, {"file", (folder / "one.pivrak.glb").string()}});
        ASSERT_TRUE(outcome.ok()) << outcome.error().message;
        scene = outcome->document;
        EXPECT_EQ(scene.parts.size(), before + alone.parts.size());
        ASSERT_EQ(scene.clips.size(), clips + 1);
        expect_same_motion(alone, *alone.clips.begin(), scene, scene.clips.last().name, before);
    }
    expect_same_motion(first, *first.clips.begin(), scene, first.clips.begin()->name, 0);
    EXPECT_EQ(scene.clips.last().name, "once round 2") << "the second one of that name";
    EXPECT_GT(station, 0u);
    const auto read = project_from_bytes(*project_bytes(scene), "scene");
    ASSERT_TRUE(read.ok()) << read.error().message;
    EXPECT_TRUE(*read == scene);
}

TEST(ProjectAdd, RatesAreKeptAndNonsenseIsRefused) {
    TempFolder folder;
    Document slow = empty_document();
    make_hinge(slow, add_part(slow, "arm"));
    key(slow, named(slow, "arm"), {{0, 0}, {30, 1}});
    slow = run(slow, {{"op", "project.set"}, {"frame_rate", 30}});
    ASSERT_TRUE(save_project(slow, folder / "slow.pivrak.glb").ok());
    const json step{{"op", "project.add"}, {"file", (folder / "slow.pivrak.glb").string()}};
    const Document both = run(run(empty_document(), step), step);
    EXPECT_EQ(both.clips.last().rate, std::optional(30.0));
    EXPECT_EQ(both.clips.size(), 3u);
    EXPECT_EQ(both.parts.size(), 2u);
    EXPECT_FALSE(refusal(both, {{"op", "project.add"}, {"file", (folder / "none.pivrak.glb").string()}})
                     .message.empty());
    folder.write("bad.pivrak.glb", "no project");
    EXPECT_FALSE(refusal(both, {{"op", "project.add"}, {"file", (folder / "bad.pivrak.glb").string()}})
                     .message.empty());
}

}  // namespace
}  // namespace pivrak
