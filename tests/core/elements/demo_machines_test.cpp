// The demo's machines, by their jobs.
#include <gtest/gtest.h>

#include "core/checks/findings.h"
#include "core/io/project/project_file.h"
#include "core/motion/evaluator.h"
#include "tests/support/jobs.h"

namespace pivrak {
namespace {

using nlohmann::json;
using test::by_demo_job;
using test::named;

/// The crane on stand-ins gets its finished shapes, and nothing is set up again: it moves as before, to the
/// bit.
TEST(DemoMachines, FinishedShapesTakeTheirPlaceAndTheCraneMovesAsBefore) {
    const Document before = by_demo_job("proxy-loader");
    const auto text = read_file(std::filesystem::path(DEMO_MODELS) / "loader.job.json");
    ASSERT_TRUE(text.ok());
    OperationContext context;
    context.folder = std::filesystem::path(DEMO_MODELS) / "";
    Document after = before;
    const json job = json::parse(*text);
    for (const json& step : job.at("steps")) {
        const auto out = make_registry().run(after, step, context);
        ASSERT_TRUE(out.ok()) << step.dump() << out.error().message;
        after = out->document;
    }
    EXPECT_GT(triangle_count(after), 10 * triangle_count(before));
    const auto was = Evaluator::compile(before), is = Evaluator::compile(after);
    Pose a = was->make_pose(), b = is->make_pose();
    for (double frame = 0; frame <= 120; frame += 0.5) {
        was->evaluate(frame, a);
        is->evaluate(frame, b);
        for (const Part& part : before.parts)
            ASSERT_TRUE(a.world_from_part[*was->part_slot(part.id)] ==
                        b.world_from_part[*is->part_slot(part.id)])
                << part.name << frame;
    }
}

/// Three copies of one arm on a turntable: each goes to a goal of its own, picks in its turn, and goes round
/// with the table.
TEST(DemoMachines, ThreeArmsOnATurntableReachForTheirOwnGoals) {
    const Document d = by_demo_job("three-arms");
    ASSERT_EQ(d.reaches.size(), 3u);
    const auto evaluator = Evaluator::compile(d);
    ASSERT_TRUE(evaluator.ok()) << evaluator.error().message;
    Pose pose = evaluator->make_pose();
    const auto world = [&](const std::string& part) {
        return pose.world_from_part[*evaluator->part_slot(named(d, part))];
    };
    const std::vector<std::string> numbers{"", " 2", " 3"};
    std::vector<double> lowest(3, 9);
    evaluator->evaluate(0, pose);
    const Frame start = world("Turntable");
    for (double frame = 0; frame <= 120; frame += 0.25) {
        evaluator->evaluate(frame, pose);
        const Frame table = world("Turntable");  // it stands on its own x
        std::vector<double> bearing;
        for (std::size_t i = 0; i < 3; ++i) {
            const Frame at = world("Grip" + numbers[i]);
            EXPECT_LT((at.translation - world("Fore goal" + numbers[i]).translation).norm(), 1e-8) << frame;
            EXPECT_NEAR(at.axis(2).z(), 1, 1e-9) << "it hangs plumb";
            const Vec3 on_table = table.inverse().point(at.translation);
            bearing.push_back(std::atan2(on_table.z(), on_table.y()));
            lowest[i] = std::min(lowest[i], at.translation.z());
        }
        for (std::size_t i = 0; i < 3; ++i)
            EXPECT_NEAR(std::remainder(bearing[(i + 1) % 3] - bearing[i] - 2 * pi / 3, 2 * pi), 0, 1e-6)
                << frame;
    }
    for (const double low : lowest) EXPECT_NEAR(low, lowest.front(), 1e-9) << "each has picked";
    EXPECT_LT(lowest.front(), 0.35);
    EXPECT_NEAR(world("Turntable").axis(0).z(), 1, 1e-9) << "it stays level";
    EXPECT_NEAR(angle_between(world("Turntable").rotation, start.rotation), 2 * pi / 3, 1e-9);
    for (const Finding& finding : check_document(d))
        EXPECT_FALSE(finding.code.starts_with("reach.")) << finding.message;
}

/// Slats of a shutter by a cord: from end to end of their range, never touching; a fan as fast as the motor,
/// two flaps against each other.
TEST(DemoMachines, TheShutterOpensByItsCordAndItsSlatsNeverTouch) {
    const Document d = by_demo_job("station-shutter");
    const auto evaluator = Evaluator::compile(d);
    ASSERT_TRUE(evaluator.ok()) << evaluator.error().message;
    Pose pose = evaluator->make_pose();
    const auto world = [&](const std::string& part) {
        return pose.world_from_part[*evaluator->part_slot(named(d, part))];
    };
    evaluator->evaluate(0, pose);
    const Frame cord_up = world("Shutter cord"), motor = world("Motor shaft"), fan = world("Cabinet fan");
    double most = -1e9, least = 1e9;
    for (double frame = 0; frame <= 48; frame += 0.25) {
        evaluator->evaluate(frame, pose);
        const double drawn = cord_up.translation.z() - world("Shutter cord").translation.z();
        const double wanted = (-80 + 160 * drawn / 1.2) * rad_per_deg;
        for (const std::string slat : {"Shutter slat", "Shutter slat 2", "Shutter slat 24"}) {
            const Vec3 along = world(slat).axis(0);
            EXPECT_NEAR(std::atan2(-along.z(), along.x()), wanted, 1e-9) << slat << frame;
        }
        // What is left between two that lie in line, 18 mm apart and 2.5 mm thick.
        const Vec3 across = world("Shutter slat").axis(2);
        const double gap =
            (world("Shutter slat 2").translation - world("Shutter slat").translation).dot(across) - 2.5e-3;
        EXPECT_GT(gap, 0.5e-3) << frame;
        most = std::max(most, wanted), least = std::min(least, wanted);
        EXPECT_NEAR(angle_between(world("Cabinet fan").rotation, fan.rotation),
                    angle_between(world("Motor shaft").rotation, motor.rotation), 1e-6)
            << frame;
        const Vec3 left = world("Left flap").axis(0), right = world("Right flap").axis(0);
        EXPECT_LT((left - Vec3(right.x(), right.y(), -right.z())).norm(), 1e-9) << "mirror images";
    }
    EXPECT_NEAR(most, 80 * rad_per_deg, 1e-9);
    EXPECT_NEAR(least, -80 * rad_per_deg, 1e-9);
    // The needle shows how fast the rope's wheel goes at its rim: 2 m/s are 270 degrees.
    double fastest = 0;
    for (const double frame : {6.0, 20.0, 36.0, 60.0}) {
        evaluator->evaluate(frame - 0.5, pose);
        const Frame before = world("Bull wheel");
        evaluator->evaluate(frame, pose);
        const Frame now = world("Bull wheel");
        const Vec3 rim = now.inverse().point(now.translation + Vec3(0, 0, 1.23275));
        const double speed = (now.point(rim) - before.point(rim)).norm() * 2 * d.settings.frame_rate;
        const Vec3 needle = world("Speed needle").axis(2);  // it stands up at rest, and turns about y
        const double shown = std::atan2(needle.x(), needle.z()) * deg_per_rad;
        EXPECT_NEAR(std::remainder(shown - std::min(speed / 2, 1.0) * 270, 360), 0, 1e-4) << frame;
        fastest = std::max(fastest, speed);
    }
    EXPECT_GT(fastest, 0.05);
    for (const Finding& finding : check_document(d)) ADD_FAILURE() << finding.message;
}

/// Doors open by the place on the rope: at its beginning, and shut on the way.
TEST(DemoMachines, CabinDoorsOpenInTheStationAlone) {
    const Document d = by_demo_job("cabin-doors");
    const auto evaluator = Evaluator::compile(d);
    ASSERT_TRUE(evaluator.ok()) << evaluator.error().message;
    Pose pose = evaluator->make_pose();
    int open = 0, shut = 0;
    evaluator->evaluate(0, pose);
    // The first one begins where the rope does.
    const Vec3 start = pose.world_from_part[*evaluator->part_slot(named(d, "cabin"))].translation;
    for (double frame = 0; frame <= 240; frame += 0.5) {
        evaluator->evaluate(frame, pose);
        for (const std::string number : {"", " 2", " 3", " 4", " 5", " 6"}) {
            const auto in_cabin = [&](const std::string& part) {
                return pose.world_from_part[*evaluator->part_slot(named(d, "cabin" + number))]
                    .inverse()
                    .point(pose.world_from_part[*evaluator->part_slot(named(d, part + number))].translation);
            };
            const double gap = in_cabin("door front").x() - in_cabin("door rear").x();
            const Vec3 at =
                pose.world_from_part[*evaluator->part_slot(named(d, "cabin" + number))].translation;
            const double from_start = (at - start).norm();
            if (from_start < 1.5) {
                EXPECT_NEAR(gap, 0.84, 1e-9) << frame << number;
                ++open;
            } else if (from_start > 6) {
                EXPECT_NEAR(gap, 0, 1e-9) << frame << number;
                ++shut;
            }
        }
    }
    EXPECT_GT(open, 20);
    EXPECT_GT(shut, 1000);
}

/// All machines in one project, as it is opened first.
struct Saddle : testing::Test {
    static const Document& whole() {
        static const Document d = [] {
            auto opened = open_project(std::filesystem::path(DEMO_MODELS) / "saddle.pivrak.glb");
            EXPECT_TRUE(opened.ok());
            return opened ? std::move(*opened) : empty_document();
        }();
        return d;
    }
    const Document& d = whole();
    Pose pose;
    std::optional<Evaluator> evaluator;
    const Clip* clip = nullptr;

    void play(const std::string& name) {
        for (const Clip& one : d.clips)
            if (one.name == name) clip = &one;
        ASSERT_TRUE(clip) << name;
        auto compiled = Evaluator::compile(d, clip->id);
        ASSERT_TRUE(compiled.ok()) << compiled.error().message;
        evaluator = std::move(*compiled);
        pose = evaluator->make_pose();
    }
    Frame world(const std::string& part, double frame) {
        evaluator->evaluate(frame, pose);
        return pose.world_from_part[*evaluator->part_slot(named(d, part))];
    }
};

TEST_F(Saddle, HasItsClipsAndTwoFindingsAlone) {
    std::vector<std::string> clips, told;
    for (const Clip& one : d.clips) clips.push_back(one.name);
    std::ranges::sort(clips);
    EXPECT_EQ(clips, (std::vector<std::string>{"cabin doors", "crane lift", "groomer pass", "station run",
                                               "truck delivery", "whole pass"}));
    for (const Finding& finding : check_document(d)) told.push_back(finding.code);
    EXPECT_EQ(told, (std::vector<std::string>{"shape.loose_pieces", "limits.contact"}))
        << "two are left in on purpose";
    std::uintmax_t bytes = 0;
    for (const auto& entry : std::filesystem::directory_iterator(DEMO_MODELS)) bytes += entry.file_size();
    EXPECT_LT(bytes, 12'000'000u);
}

/// The rope runs as far as the bull wheel's rim, whatever told it so: by the world's frames of both.
TEST_F(Saddle, CabinsGoAsFarAsTheBullWheelTurnsOutAndTheRunCloses) {
    play("station run");
    double rim = 0, way = 0;
    Frame wheel = world("Bull wheel", 0);
    Vec3 grip = world("cabin", 0).point({0, 0, 3.75});
    const Vec3 start = grip;
    const double step = 0.25, end = clip->last_frame;
    for (double frame = step; frame <= end + 1e-9; frame += step) {
        const Frame turned = world("Bull wheel", frame);
        rim += 1.2 * angle_between(wheel.rotation, turned.rotation);
        wheel = turned;
        const Vec3 now = world("cabin", frame).point({0, 0, 3.75});
        way += (now - grip).norm();
        grip = now;
    }
    // Source: 21 turns of a wheel of 1.2 m; chords are a little shorter than the bends that they cut.
    EXPECT_NEAR(rim, 21 * 2 * pi * 1.2, 1e-3);
    EXPECT_NEAR(way, rim, 5e-3);
    EXPECT_LT((grip - start).norm(), 1e-3) << "once round";
    for (const char* part : {"Motor shaft", "Wheel 51T", "Sprocket 38T", "Planet 2", "Carrier", "cabin 4",
                             "door front 3", "return wheel"}) {
        const Frame first = world(part, 0), last = world(part, end);
        EXPECT_LT((first.translation - last.translation).norm(), 1e-3) << part;
        EXPECT_LT(angle_between(first.rotation, last.rotation), 1e-3) << part;
    }
}

/// Six cabins, evenly apart along the rope, hang plumb and keep off towers, decks and each other.
TEST_F(Saddle, CabinsHangPlumbAndEvenlyApart) {
    play("station run");
    const std::vector<std::string> cabins{"cabin", "cabin 2", "cabin 3", "cabin 4", "cabin 5", "cabin 6"};
    for (double frame = 0; frame <= clip->last_frame; frame += 37.5)
        for (const std::string& cabin : cabins) {
            const Frame at = world(cabin, frame);
            EXPECT_GT(at.axis(2).z(), 1 - 1e-9) << cabin << frame;
            EXPECT_GT(at.translation.z(), 0.7) << "above deck and snow";
        }
    // Where one is a sixth of a lap later, the next one is now.
    const double sixth = clip->last_frame / 6;
    for (std::size_t i = 0; i + 1 < cabins.size(); ++i) {
        const Vec3 behind = world(cabins[i + 1], 400 + sixth).translation,
                   before = world(cabins[i], 400).translation;
        EXPECT_LT((behind - before).norm(), 1e-3) << cabins[i];
    }
}

/// While the hook has the crate, it holds it in one place.
TEST_F(Saddle, TheHookFollowsTheCrate) {
    play("crane lift");
    // 650 mm above where the crate's pivot is, as the crane was told to grab it.
    std::optional<double> apart;
    double lifted = 0;
    const double floor = world("Crate", 0).translation.z();
    for (double frame = 32; frame <= 98; frame += 0.5) {
        const Vec3 crate = world("Crate", frame).translation, hook = world("Hook", frame).translation;
        if (!apart) apart = (hook - crate).norm();
        EXPECT_NEAR((hook - crate).norm(), *apart, 1e-3) << frame;
        lifted = std::max(lifted, crate.z() - floor);
    }
    EXPECT_NEAR(lifted, 0.7, 1e-9);
}

/// In the clip that adds the others, each machine does what it does in its own, so many frames later.
TEST_F(Saddle, TheWholePassAddsTheOthers) {
    for (const auto& [name, part, later] : {std::tuple("groomer pass", "Groomer place", 24.0),
                                            {"truck delivery", "Truck place", 72.0},
                                            {"crane lift", "Hook", 216.0},
                                            {"station run", "cabin 3", 0.0}})
        for (const double frame : {3.0, 41.5, 110.0}) {
            play(name);
            const Frame alone = world(part, frame);
            play("whole pass");
            const Frame together = world(part, frame + later);
            EXPECT_LT((alone.translation - together.translation).norm(), 1e-9) << part << frame;
            EXPECT_LT(angle_between(alone.rotation, together.rotation), 1e-7) << part << frame;
        }
}

/// The project that ships is what its job makes.
TEST_F(Saddle, IsMadeByItsJob) {
    const Document made = by_demo_job("saddle");
    ASSERT_EQ(made.parts.size(), d.parts.size());
    EXPECT_EQ(triangle_count(made), triangle_count(d));
    const auto a = Evaluator::compile(d), b = Evaluator::compile(made);
    ASSERT_TRUE(a.ok() && b.ok());
    Pose one = a->make_pose(), other = b->make_pose();
    for (const double frame : {0.0, 133.0, 480.0}) {
        a->evaluate(frame, one);
        b->evaluate(frame, other);
        for (const Part& part : d.parts)
            ASSERT_LT((one.world_from_part[*a->part_slot(part.id)].translation -
                       other.world_from_part[*b->part_slot(part.id)].translation)
                          .norm(),
                      1e-6)
                << part.name;
    }
}

/// What ships was made on some machine, and knows nothing of it.
TEST(DemoMachines, ShippedProjectsNameTheirModelsByFileAlone) {
    int projects = 0;
    for (const auto& entry : std::filesystem::directory_iterator(DEMO_MODELS)) {
        if (!entry.path().filename().string().ends_with(".pivrak.glb")) continue;
        const auto project = open_project(entry.path());
        ASSERT_TRUE(project.ok()) << project.error().message;
        ++projects;
        for (const Source& source : project->sources)
            EXPECT_FALSE(std::filesystem::path(source.path).is_absolute()) << source.path;
    }
    EXPECT_GE(projects, 2);
}

/// A scissor of two stages: twice the arm's length times the sine of its angle, and the table stays level.
TEST(DemoMachines, TheTableOnTheTruckRisesByBothStages) {
    const Document d = by_demo_job("truck-table");
    const auto evaluator = Evaluator::compile(d);
    ASSERT_TRUE(evaluator.ok()) << evaluator.error().message;
    Pose pose = evaluator->make_pose();
    const auto world = [&](const char* part) {
        return pose.world_from_part[*evaluator->part_slot(named(d, part))];
    };
    double highest = 0;
    for (double frame = 0; frame <= 96; frame += 0.25) {
        evaluator->evaluate(frame, pose);
        const Vec3 arm = world("Rising arm 1").axis(0);
        const double sine = arm.z(), top = world("Table top").translation.z();
        EXPECT_NEAR(top, 0.9 + 2 * 1.4 * sine, 1e-9) << frame;
        EXPECT_LT(angle_between(world("Table top").rotation, Quat(1, 0, 0, 0)), 1e-9);
        EXPECT_NEAR(world("Table top").translation.x(), -1.6, 1e-9) << "straight up";
        highest = std::max(highest, top);
    }
    EXPECT_GT(highest, 3.1);
    for (const Finding& finding : check_document(d))
        EXPECT_FALSE(finding.code.starts_with("linkage.")) << finding.message;
}

}  // namespace
}  // namespace pivrak
