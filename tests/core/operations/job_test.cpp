#include "core/operations/job.h"

#include <gtest/gtest.h>

#include "core/io/project/project_file.h"
#include "demo/obj_file.h"
#include "tests/support/documents.h"
#include "tests/support/temp_folder.h"

namespace pivrak {
namespace {

using nlohmann::json;
using test::TempFolder;

const char* const two_boxes =
    "o lump\nv 0 0 0\nv 1 0 0\nv 1 0 1\nv 0 0 1\nv 0 1 0\nv 1 1 0\nv 1 1 1\nv 0 1 1\n"
    "f 1 2 3 4\nf 8 7 6 5\nf 1 5 6 2\nf 2 6 7 3\nf 3 7 8 4\nf 4 8 5 1\n"
    "v 3 0 0\nv 4 0 0\nv 3 1 0\nf 9 10 11\n";

json good_job() {
    return {{"import", {{"file", "lump.obj"}, {"unit", "m"}}},
            {"steps",
             {{{"op", "split.pieces"}, {"parts", "lump"}},
              {{"op", "joint.set"}, {"parts", "lump 1"}, {"kind", "hinge"}, {"axis", "z"}},
              {{"op", "key.set"}, {"parts", "lump 1"}, {"frame", 0}, {"value", 0}},
              {{"op", "key.set"}, {"parts", "lump 1"}, {"frame", 24}, {"value", "90 deg"}},
              {{"op", "clip.set"}, {"last_frame", 24}}}},
            {"save", "out.pivrak.glb"},
            {"deliver", "out.glb"}};
}

TEST(Job, RunsSavesAndDelivers) {
    TempFolder folder;
    folder.write("lump.obj", two_boxes);
    const auto done = run_job(make_registry(), good_job(), {folder.path(), {}});
    ASSERT_TRUE(done.ok()) << done.error().message;
    EXPECT_TRUE(done->saved.has_value());
    EXPECT_LE(done->delivered->read_back.at_frames.largest_m, 1e-5);
    const auto back = open_project(folder / "out.pivrak.glb");
    ASSERT_TRUE(back.ok());
    EXPECT_TRUE(*back == done->document);
    const auto again =
        run_job(make_registry(), {{"open", "out.pivrak.glb"}, {"deliver", "again.glb"}}, {folder.path(), {}});
    ASSERT_TRUE(again.ok());
    EXPECT_EQ(folder.read("again.glb"), folder.read("out.glb")) << "the same rig gives the same bytes";
}

TEST(Job, GoesOnWhereThereIsNothingToDo) {
    TempFolder folder;
    folder.write("lump.obj", two_boxes);
    json job = good_job();
    job["steps"].push_back({{"op", "tree.tidy"}});
    job["steps"].push_back({{"op", "tree.tidy"}});
    job["steps"].push_back({{"op", "part.find_repeats"}});
    job["steps"].push_back({{"op", "channel.rest"}});
    const auto done = run_job(make_registry(), job, {folder.path(), {}});
    ASSERT_TRUE(done.ok()) << done.error().message;
    EXPECT_NE(
        std::find(done->messages.begin(), done->messages.end(), "there is nothing of that kind to tidy"),
        done->messages.end());
}

// Keys before the start hold their last value, and a clip in which nothing moves is left out by name.
TEST(Job, AnEmptyProjectAndAStillClipAreToldOf) {
    TempFolder folder;
    const auto empty = run_job(make_registry(), {{"deliver", "out.glb"}}, {folder.path(), {}});
    ASSERT_FALSE(empty.ok());
    EXPECT_EQ(empty.error().code, "delivery.nothing");
    EXPECT_FALSE(std::filesystem::exists(folder / "out.glb"));
    folder.write("lump.obj", two_boxes);
    json job = good_job();
    job["steps"][2]["frame"] = -48;
    job["steps"][3]["frame"] = -24;
    job["steps"][3]["value"] = 0;
    const auto still = run_job(make_registry(), job, {folder.path(), {}});
    ASSERT_TRUE(still.ok()) << still.error().message;
    EXPECT_EQ(still->delivered->clips, 0u);
    EXPECT_EQ(still->delivered->still_clips, std::vector<std::string>{"clip 1"});
    EXPECT_NE(summary(*still->delivered).find("'clip 1'"), std::string::npos);
}

TEST(Job, AFailingStepIsNamedAndNothingIsWritten) {
    TempFolder folder;
    folder.write("lump.obj", two_boxes);
    json job = good_job();
    job["steps"][2]["parts"] = "lump 9";
    const auto done = run_job(make_registry(), job, {folder.path(), {}});
    ASSERT_FALSE(done.ok());
    EXPECT_EQ(done.error().subject, "3");
    EXPECT_EQ(done.error().message, "step 3 (key.set): there is no part 'lump 9'; did you mean 'lump 1'?");
    EXPECT_FALSE(std::filesystem::exists(folder / "out.pivrak.glb"));
    EXPECT_FALSE(std::filesystem::exists(folder / "out.glb"));
}

TEST(Job, NothingIsWrittenWhenTheDeliveryOrTheSaveCannotBe) {
    TempFolder folder;
    folder.write("lump.obj", two_boxes);
    json job = good_job();
    job["deliver"] = "absent/out.glb";
    EXPECT_EQ(run_job(make_registry(), job, {folder.path(), {}}).error().code, "output.folder");
    job = good_job();
    job["save"] = "out.glb";
    EXPECT_EQ(run_job(make_registry(), job, {folder.path(), {}}).error().code, "project.name");
    EXPECT_FALSE(std::filesystem::exists(folder / "out.pivrak.glb"));
    EXPECT_FALSE(std::filesystem::exists(folder / "out.glb"));
}

TEST(Job, RefusesWhatIsNoJob) {
    const Registry registry = make_registry();
    for (const json& job : {json::array(), json{{"colour", "red"}}, json{{"steps", "all"}}, json{{"open", 3}},
                            json{{"open", "a.pivrak.glb"}, {"import", "b.obj"}}})
        EXPECT_EQ(run_job(registry, job, {}).error().code, "job.format") << job.dump();
    EXPECT_EQ(run_job(registry, {{"open", "absent.pivrak.glb"}}, {}).error().code, "file.read");
    EXPECT_EQ(run_job(registry, {{"import", "absent.obj"}}, {}).error().message.substr(0, 26),
              "step import (model.import)");
    EXPECT_EQ(run_job(registry, {{"steps", {3}}}, {}).error().code, "operation.unknown");
}

/// A job begins with what another one makes, which is written nowhere; and brings in what a third one makes.
TEST(Job, BeginsWithWhatAnotherJobMakes) {
    TempFolder folder;
    const auto job_file = [&](const char* name, const json& job) { folder.write(name, job.dump()); };
    job_file("post.job.json",
             {{"steps", {{{"op", "datum.add"}, {"name", "Post"}}}}, {"save", "post.pivrak.glb"}});
    job_file("crane.job.json", {{"open", "post.job.json"},
                                {"steps", {{{"op", "datum.add"}, {"name", "Boom"}, {"under", "Post"}}}}});
    job_file("lamp.job.json", {{"steps", {{{"op", "datum.add"}, {"name", "Lamp"}}}}});
    const json job{{"open", "crane.job.json"},
                   {"steps", {{{"op", "project.add"}, {"file", "lamp.job.json"}}}}};
    const auto done = run_job(make_registry(), job, {folder.path(), {}});
    ASSERT_TRUE(done.ok()) << done.error().message;
    EXPECT_EQ(part_path(done->document, test::named(done->document, "Boom")), "Post/Boom");
    EXPECT_TRUE(find_part(done->document, "Lamp").ok());
    EXPECT_FALSE(std::filesystem::exists(folder / "post.pivrak.glb"));
    job_file("lamp.job.json", {{"open", "lamp.job.json"}});
    EXPECT_EQ(run_job(make_registry(), job, {folder.path(), {}}).error().code, "job.circle");
    job_file("lamp.job.json", {{"steps", {{{"op", "part.remove"}, {"parts", {"Lamp"}}}}}});
    const Error told = run_job(make_registry(), job, {folder.path(), {}}).error();
    EXPECT_NE(told.message.find("lamp.job.json: step 1 (part.remove)"), std::string::npos) << told.message;
    folder.write("lamp.job.json", "no job");
    EXPECT_EQ(run_job(make_registry(), job, {folder.path(), {}}).error().code, "job.format");
}

/// The drive station from its raw file: every pivot must be where its builder put the shaft.
TEST(DriveStation, PivotsAreFoundWhereTheBuilderPutTheShafts) {
    TempFolder folder;
    const demo::StationFigures truth;
    const auto components = demo::drive_station(truth);
    const auto texts = demo::obj_texts(components, "drive-station.mtl");
    folder.write("drive-station.obj", texts.obj);
    folder.write("drive-station.mtl", texts.mtl);
    const auto done = run_job(
        make_registry(),
        {{"import", {{"file", "drive-station.obj"}}}, {"steps", demo::drive_station_steps(components)}},
        {folder.path(), {}});
    ASSERT_TRUE(done.ok()) << done.error().message;
    const Document& d = done->document;
    const std::vector<std::pair<const char*, Vec3>> axes{
        {"Motor shaft", truth.motor_axis},     {"Pinion 17T", truth.motor_axis},
        {"Layshaft", truth.layshaft_axis},     {"Wheel 51T", truth.layshaft_axis},
        {"Sprocket 19T", truth.layshaft_axis}, {"Sprocket 38T", truth.bull_axis},
        {"Bull wheel", truth.bull_axis},       {"Carrier", truth.bull_axis}};
    for (const auto& [name, axis_mm] : axes) {
        SCOPED_TRACE(name);
        const Frame world = world_from_rest(d, test::named(d, name));
        const Vec3 off = world.translation - 1e-3 * axis_mm;
        EXPECT_LT(Vec3(off.x(), 0, off.z()).norm(), 0.05e-3) << "within 0.05 mm";
        EXPECT_LT(std::acos(std::min(1.0, world.axis(0).y())), 0.02 * rad_per_deg) << "within 0.02 degrees";
    }
    const GearPair& gear = *d.couplings.begin()->as<GearPair>();
    EXPECT_TRUE(gear.phase_measured);
    // The chain's two links became all of its links, and every bolt is a part of its own.
    EXPECT_TRUE(find_part(d, "Drive chain link 90").ok());
    EXPECT_TRUE(find_part(d, "Bolt Ring 12").ok());
}

}  // namespace
}  // namespace pivrak
