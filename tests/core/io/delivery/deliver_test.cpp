#include "core/io/delivery/deliver.h"

#include <gtest/gtest.h>

#include <random>

#include "core/io/gltf/gltf_read.h"
#include "core/io/gltf/gltf_sample.h"
#include "core/io/gltf/thin_samples.h"
#include "tests/support/documents.h"
#include "tests/support/temp_folder.h"

namespace pivrak {
namespace {

using test::TempFolder;

/// A carrier that swings, a gear on it that spins fast, and another that it drives.
Document machine() {
    Document d = empty_document();
    const PartId carrier = test::add_shaped(d, "carrier", test::to_mesh(pivrak::shaft(20, 0, 3000, 2, 24)),
                                            {}, test::world_poses()[1]);
    const PartId gear = test::add_shaped(d, "gear", test::to_mesh(pivrak::gear({17, 8, 20, 20})), carrier,
                                         {Quat(1, 0, 0, 0), Vec3(0, 0, 3)});
    const PartId wheel = test::add_shaped(d, "wheel", test::to_mesh(pivrak::gear({51, 8, 20, 20})), carrier,
                                          {Quat(1, 0, 0, 0), Vec3(0.272, 0, 3)});
    test::make_hinge(d, carrier, 0);
    test::make_hinge(d, gear, 2);
    test::make_hinge(d, wheel, 2);
    Part part = *d.parts.find(gear);
    part.part_from_shape = {turn_about_axis(1, 0.3), Vec3(0.01, 0.02, 0.03)};
    d.parts.set(part);
    test::couple(d, gear, wheel, 17, 51, 0.3);
    test::key(d, gear, {{0, 0, Interpolation::Linear}, {72, 6 * pi, Interpolation::Linear}});
    test::key(
        d, carrier,
        {{0, 0, Interpolation::Smooth}, {30, 1.2, Interpolation::Smooth}, {72, -0.4, Interpolation::Smooth}});
    Clip clip = clip_or_first(d);
    clip.last_frame = 72;
    d.clips.set(clip);
    return d;
}

TEST(Deliver, ReadsBackWithinAHundredthOfAMillimetreAndAThousandthOfADegree) {
    TempFolder folder;
    const auto delivery = deliver(machine(), folder / "machine.glb");
    ASSERT_TRUE(delivery.ok()) << delivery.error().message;
    EXPECT_LE(delivery->read_back.at_frames.largest_m, 1e-5);
    EXPECT_LE(delivery->read_back.at_frames.largest_rad, 0.001 * rad_per_deg);
    EXPECT_EQ(delivery->read_back.frames, 73u);
    EXPECT_EQ(delivery->read_back.parts, 3u);
    EXPECT_EQ(std::filesystem::file_size(folder / "machine.glb"), delivery->bytes);
}

TEST(Deliver, EvenTurnsKeepFewSamples) {
    Document d = machine();
    Clip clip = clip_or_first(d);
    std::erase_if(clip.tracks,
                  [&](const Track& track) { return d.parts.find(track.channel.part())->name == "carrier"; });
    d.clips.set(clip);
    const auto delivery = delivery_bytes(d);
    ASSERT_TRUE(delivery.ok());
    EXPECT_EQ(delivery->report.samples, 2u * 73u);
    // 1080 degrees in steps of at most 2 rad (7 frames of 15 degrees): 11 stretches; 360 degrees: 4 of them.
    EXPECT_LE(delivery->report.kept_samples, 12u + 5u);
}

/// A rotor on a carrier: how far each is to turn over a clip of 24 frames.
Document rotor(double rotor_turns, double carrier_turns, Interpolation way = Interpolation::Linear) {
    Document d = empty_document();
    const PartId carrier = test::add_part(d, "carrier"),
                 rotor = test::add_shaped(d, "rotor", test::box({-1, -0.1, 0}, {1, 0.1, 0.1}), carrier);
    test::make_hinge(d, carrier, 2);
    test::make_hinge(d, rotor, 2);
    Clip clip = clip_or_first(d);
    clip.last_frame = 24;
    d.clips.set(clip);
    test::key(d, carrier, {{0, 0, way}, {24, carrier_turns * 2 * pi, way}});
    test::key(d, rotor, {{0, 0, way}, {24, rotor_turns * 2 * pi, way}});
    return d;
}

/// How far a node turns about up over a delivered clip, added up in steps too small to be mistaken.
double turned_in_file(const std::string& bytes, const char* name) {
    const auto model = read_glb(bytes, "file");
    EXPECT_TRUE(model.ok());
    const auto player = GltfPlayer::make(*model, 0);
    EXPECT_TRUE(player.ok());
    std::size_t node = 0;
    while (model->nodes[node].name != name) ++node;
    double turn = 0;
    Frame last = player->world_from_nodes(0)[node];
    for (int i = 1; i <= 24 * 64; ++i) {
        const Frame now = player->world_from_nodes(i / 64.0 / 24)[node];
        const Vec3 was = last.axis(0), is = now.axis(0);
        turn += std::atan2(was.cross(is).z(), was.dot(is));
        last = now;
    }
    return turn / (2 * pi);
}

TEST(Deliver, FastTurnsGoTheirWayHoweverFast) {
    struct Case {
        const char* name;
        double rotor, carrier;
        Interpolation way;
    };
    for (const Case& c : {Case{"16 turns in 24 frames", 16, 0, Interpolation::Linear},
                          Case{"a whole turn each frame", 24, 0, Interpolation::Linear},
                          Case{"backwards, fifty", -50, 0, Interpolation::Linear},
                          Case{"both turn", 9, 8, Interpolation::Smooth},
                          Case{"against each other", 20, -20.5, Interpolation::Linear}}) {
        SCOPED_TRACE(c.name);
        const Document d = rotor(c.rotor, c.carrier, c.way);
        const auto made = delivery_bytes(d);
        ASSERT_TRUE(made.ok());
        EXPECT_NEAR(turned_in_file(made->bytes, "rotor"), c.rotor + c.carrier, 1e-3);
        const auto read_back = compare_delivery(d, made->bytes, "file");
        ASSERT_TRUE(read_back.ok());
        EXPECT_LT(read_back->at_frames.largest_rad, 0.001 * rad_per_deg);
        const bool even = c.way == Interpolation::Linear;
        EXPECT_LT(read_back->between.largest_rad, even ? 0.001 * rad_per_deg : 0.2);
    }
}

TEST(Deliver, ControlsLeftOutDoNotHideATurn) {
    // The carrier is a control: its turns go into what it carries.
    Document d = rotor(-3, 15);
    d = test::run(d, {{"op", "control.add"}, {"parts", {"carrier"}}});
    const auto made = delivery_bytes(d);
    ASSERT_TRUE(made.ok()) << made.error().message;
    EXPECT_NEAR(turned_in_file(made->bytes, "rotor"), 12, 1e-3);
}

TEST(Deliver, TheReadBackLooksBetweenFrames) {
    // Samples at whole frames only, as they were once taken: nothing is wrong there, all between them is.
    const Document fast = rotor(16, 0);
    Document slow = fast;
    test::key(slow, test::named(slow, "rotor"),
              {{0, 0, Interpolation::Linear}, {24, -8 * 2 * pi, Interpolation::Linear}});
    const auto read_back = compare_delivery(fast, delivery_bytes(slow)->bytes, "file");
    ASSERT_TRUE(read_back.ok());
    EXPECT_LT(read_back->at_frames.largest_rad, 0.001 * rad_per_deg);
    EXPECT_GT(read_back->between.largest_rad, 1);
    EXPECT_EQ(read_back->between.part_rad, "rotor");
}

TEST(Deliver, SamplesBetweenFramesBringAFileNearer) {
    Document d = rotor(0, 0.5, Interpolation::Smooth);
    test::key(
        d, test::named(d, "carrier"),
        {{0, 0, Interpolation::Smooth}, {3, 2.5, Interpolation::Smooth}, {6, 0, Interpolation::Smooth}});
    const auto between = [&](const Sampling& sampling) {
        DeliveryOptions options;
        options.sampling = sampling;
        const auto made = delivery_bytes(d, options);
        EXPECT_TRUE(made.ok());
        return compare_delivery(d, made->bytes, "file", options)->between.largest_rad;
    };
    const double one = between({1, 0}), two = between({2, 0});
    EXPECT_GT(one, 1 * rad_per_deg);
    EXPECT_LT(two, one / 3);
    EXPECT_LT(between({4, 0}), 0.001 * rad_per_deg) << "quarters are samples themselves";
    // The rotor reaches a metre out: a tenth of a millimetre there.
    EXPECT_LT(between({1, 1e-4}), 1.2e-4);
    DeliveryOptions none;
    none.sampling.per_frame = 0;
    EXPECT_EQ(delivery_bytes(d, none).error().code, "sampling.steps");
}

TEST(Bake, ATableThatCannotShowATurnIsTold) {
    const Document d = rotor(16, 0);
    const Clip& clip = clip_or_first(d);
    const auto fast = fastest_turn(d, clip.id, clip_frames(clip));
    ASSERT_TRUE(fast.has_value());
    EXPECT_NEAR(fast->turn_rad, 16 * 2 * pi / 24, 1e-9);
    EXPECT_EQ(d.parts.find(fast->part)->name, "rotor");
    EXPECT_FALSE(fastest_turn(d, clip.id, clip_frames(clip, 2)).has_value());
}

TEST(Deliver, TheComparisonSeesAFileThatIsWrong) {
    const Document d = machine();
    const std::string bytes = delivery_bytes(d)->bytes;
    Document other = d;
    Part part = *other.parts.find(test::named(other, "wheel"));
    part.parent_from_rest.translation.x() += 0.001;
    other.parts.set(part);
    const auto moved = compare_delivery(other, bytes, "machine.glb");
    ASSERT_TRUE(moved.ok());
    EXPECT_NEAR(moved->at_frames.largest_m, 0.001, 1e-5);
    EXPECT_EQ(moved->at_frames.part_m, "wheel");
    Document faster = d;
    test::key(faster, test::named(faster, "gear"),
              {{0, 0, Interpolation::Linear}, {72, 6.01 * pi, Interpolation::Linear}});
    EXPECT_NEAR(compare_delivery(faster, bytes, "machine.glb")->at_frames.largest_rad, 0.01 * pi, 1e-5);
    Document renamed = test::run(d, {{"op", "part.rename"}, {"part", "wheel"}, {"name", "disc"}});
    EXPECT_EQ(compare_delivery(renamed, bytes, "machine.glb").error().code, "delivery.part_missing");
}

TEST(Deliver, PartsThatShareAShapeShareAMesh) {
    Document d = empty_document();
    const PartId first = test::add_shaped(d, "link 1", with_normals(test::box({0, 0, 0}, {1, 1, 1})));
    for (int i = 2; i <= 4; ++i) {
        Part part = *d.parts.find(first);
        part.id = d.new_id<PartId>();
        part.name = "link " + std::to_string(i);
        part.parent_from_rest.translation.x() = i;
        d.parts.set(part);
    }
    const auto model = read_glb(delivery_bytes(d)->bytes, "links");
    ASSERT_TRUE(model.ok());
    EXPECT_EQ(model->meshes.size(), 1u);
    EXPECT_EQ(model->nodes.size(), 4u);
}

TEST(Deliver, WritesOnlyWhereItMay) {
    TempFolder folder;
    Document d = machine();
    d.sources = {{(folder / "source.glb").string()}};
    folder.write("source.glb", "precious");
    EXPECT_EQ(deliver(d, folder / "source.glb").error().code, "output.overwrites_source");
    EXPECT_EQ(folder.read("source.glb"), "precious");
    EXPECT_EQ(deliver(d, folder / "machine.pivrak.glb").error().code, "delivery.overwrites_project");
    EXPECT_EQ(deliver(d, folder / "machine.obj").error().code, "delivery.ending");
    EXPECT_EQ(deliver(d, folder / "absent/machine.glb").error().code, "output.folder");
}

TEST(Deliver, CanBeCancelledAndThenWritesNothing) {
    TempFolder folder;
    const auto delivery = deliver(machine(), folder / "machine.glb", {},
                                  Progress([](double fraction, std::string_view) { return fraction < 0.5; }));
    EXPECT_EQ(delivery.error().code, "bake.cancelled");
    EXPECT_FALSE(std::filesystem::exists(folder / "machine.glb"));
}

TEST(ThinRotations, WhatIsLeftOutCanBePutBack) {
    std::mt19937 random(4);
    std::uniform_real_distribution<double> change(-0.3, 0.3);
    const ThinOptions options{.rotation_rad = 1e-3};
    for (int round = 0; round < 20; ++round) {
        std::vector<double> times;
        std::vector<Quat> values;
        double angle = 0, speed = 0;
        for (int i = 0; i < 200; ++i) {
            if (i % 25 == 0) speed = change(random);
            times.push_back(i / 24.0);
            values.push_back(turn_about_axis(round % 3, angle += speed));
        }
        const auto kept = thin_rotations(times, values, options);
        EXPECT_EQ(kept.front(), 0u);
        EXPECT_EQ(kept.back(), 199u);
        EXPECT_LT(kept.size(), 120u);
        for (std::size_t k = 0; k + 1 < kept.size(); ++k)
            for (std::size_t i = kept[k]; i <= kept[k + 1]; ++i) {
                const double t = (times[i] - times[kept[k]]) / (times[kept[k + 1]] - times[kept[k]]);
                ASSERT_LE(angle_between(values[kept[k]].slerp(t, values[kept[k + 1]]), values[i]),
                          options.rotation_rad * 1.0001);
            }
    }
}

TEST(ThinTranslations, AStraightEvenMoveKeepsItsEnds) {
    std::vector<double> times;
    std::vector<Vec3> values;
    for (int i = 0; i <= 100; ++i) {
        times.push_back(i);
        values.emplace_back(0.1 * i, -0.2 * i, 1);
    }
    EXPECT_EQ(thin_translations(times, values, {}), (std::vector<std::size_t>{0, 100}));
    values[50].z() += 0.001;
    EXPECT_EQ(thin_translations(times, values, {}).size(), 5u);
    EXPECT_TRUE(thin_translations({}, {}, {}).empty());
}

TEST(GltfPlayer, FollowsTheSpecificationBetweenSamples) {
    // glTF 2.0, appendix C: LINEAR rotation is slerp; half way between 0 and 90 degrees are 45.
    Document one = empty_document();
    const PartId part = test::add_shaped(one, "part", with_normals(test::box({0, 0, 0}, {1, 1, 1})));
    test::make_hinge(one, part, 2);
    test::key(one, part, {{0, 0, Interpolation::Linear}, {24, pi / 2, Interpolation::Linear}});
    Clip clip = clip_or_first(one);
    clip.last_frame = 24;
    one.clips.set(clip);
    const auto file = read_glb(delivery_bytes(one)->bytes, "one");
    ASSERT_TRUE(file.ok());
    const auto made = GltfPlayer::make(*file, 0);
    ASSERT_TRUE(made.ok());
    EXPECT_NEAR(angle_between(made->world_from_nodes(0.5)[0].rotation, turn_about_axis(2, pi / 4)), 0, 1e-6);
    EXPECT_NEAR(angle_between(made->world_from_nodes(99)[0].rotation, turn_about_axis(2, pi / 2)), 0, 1e-6)
        << "holds after its end";
    EXPECT_EQ(GltfPlayer::make(*file, 7).error().code, "gltf.animation");
}

}  // namespace
}  // namespace pivrak
