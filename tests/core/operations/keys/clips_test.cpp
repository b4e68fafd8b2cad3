// Clips with a rate, a place, markers and layers of their own; steps in sequence. Judged from where parts
// stand.
#include <gtest/gtest.h>

#include <random>

#include "core/checks/findings.h"
#include "core/io/delivery/deliver.h"
#include "core/io/gltf/gltf_read.h"
#include "core/io/project/project_file.h"
#include "tests/core/operations/keys/carriage.h"

namespace pivrak {
namespace {

using namespace test;
using nlohmann::json;

const Clip& clip_called(const Document& d, const std::string& name) {
    for (const Clip& clip : d.clips)
        if (clip.name == name) return clip;
    ADD_FAILURE() << name;
    return *d.clips.begin();
}

Document shaken(double share = 1, double from = 12) {
    Document d = keyed(carriage(), "carriage", "linear", {{0, 0}, {24, 2.4}});
    d = run(d, {{"op", "clip.set"}, {"name", "drive"}, {"last_frame", 24}});
    d = run(d, {{"op", "clip.add"}, {"name", "shake"}, {"last_frame", 4}});
    for (const auto& [frame, value] : {std::pair(0, 0.0), {1, 0.1}, {3, -0.1}, {4, 0.0}})
        d = run(d, {{"op", "key.set"},
                    {"clip", "shake"},
                    {"parts", {"carriage"}},
                    {"channel", "shift"},
                    {"frame", frame},
                    {"value", value},
                    {"interpolation", "linear"}});
    d = run(d,
            {{"op", "key.set"}, {"clip", "shake"}, {"parts", {"lamp"}}, {"frame", 0}, {"value", "30 deg"}});
    return run(
        d,
        {{"op", "layer.set"}, {"clip", "drive"}, {"add", "shake"}, {"share", share}, {"from_frame", from}});
}

/// Where the carriage would be by the drive alone is 0.1 m a frame; the shake adds what it is at its frame.
TEST(Clips, AShakeIsAddedToADrive) {
    for (const double share : {1.0, 0.5, -2.0}) {
        const Document d = shaken(share);
        const auto shake = [](double frame) {
            double at = std::fmod(frame - 12 + 40, 4);
            return at < 1 ? 0.1 * at : at < 3 ? 0.1 - 0.1 * (at - 1) : -0.1 + 0.1 * (at - 3);
        };
        for (double frame = 0; frame <= 24; frame += 0.25)
            EXPECT_NEAR(place(d, frame), 0.1 * frame + share * shake(frame), 1e-12) << frame;
        EXPECT_NEAR(turned_deg(d, 7), share * 30, 1e-9) << "where it has no keys, to where it stands";
        EXPECT_TRUE(*project_from_bytes(*project_bytes(d), "layers") == d);
    }
    Document once = run(shaken(), {{"op", "clip.set"}, {"clip", "shake"}, {"loop", false}});
    once = run(once, {{"op", "clip.set"}, {"clip", "shake"}, {"rate", 48}});
    EXPECT_NEAR(place(once, 12.5), 1.25 + 0.1, 1e-12)
        << "at twice the rate a frame of it is half of one here";
    EXPECT_NEAR(place(once, 20), 2, 1e-12) << "once, and it is over";
}

/// Where no clip is named it is the first one of the list, wherever it was made.
TEST(Clips, TheFirstOneIsTheFirstOfTheList) {
    Document d = shaken();
    EXPECT_EQ(clip_or_first(d).name, "drive");
    d = run(d, {{"op", "clip.set"}, {"clip", "shake"}, {"before", "drive"}});
    EXPECT_EQ(clips_in_order(d).front()->name, "shake");
    EXPECT_EQ(clip_or_first(d).name, "shake");
    EXPECT_EQ(clip_or_first(d, clip_called(d, "drive").id).name, "drive");
}

/// A part that stands turned without keys goes in a clip that adds its motion as it goes in its own.
TEST(Clips, ALayerAddsWhatGoesBeyondWhereAPartStands) {
    Document d = run(shaken(), {{"op", "clip.add"}, {"name", "nod"}, {"last_frame", 10}, {"loop", false}});
    d = run(d, {{"op", "channel.set"}, {"parts", {"lamp"}}, {"value", "20 deg"}});
    for (const auto& [frame, value] : {std::pair(0, "20 deg"), {10, "50 deg"}})
        d = run(d, {{"op", "key.set"},
                    {"clip", "nod"},
                    {"parts", {"lamp"}},
                    {"frame", frame},
                    {"value", value},
                    {"interpolation", "linear"}});
    d = run(d, {{"op", "layer.set"}, {"clip", "drive"}, {"add", "shake"}, {"share", 0}});
    for (const double share : {1.0, 0.5}) {
        d = run(
            d, {{"op", "layer.set"}, {"clip", "drive"}, {"add", "nod"}, {"share", share}, {"from_frame", 4}});
        for (const double frame : {0.0, 4.0, 9.0, 14.0, 20.0})
            EXPECT_NEAR(turned_deg(d, frame), 20 + share * 3 * std::clamp(frame - 4, 0.0, 10.0), 1e-9)
                << frame;
    }
}

/// A key set where a layer adds something keeps the carriage where it is seen.
TEST(Clips, AKeyLeavesOutWhatALayerAdds) {
    const Document d = run(
        shaken(),
        {{"op", "key.set"}, {"parts", {"carriage"}}, {"channel", "shift"}, {"frame", 13}, {"clip", "drive"}});
    for (double frame = 0; frame <= 24; frame += 0.5)
        EXPECT_NEAR(place(d, frame), place(shaken(), frame), 1e-9);
    EXPECT_EQ(clip_called(d, "drive").tracks.front().keys.size(), 3u);
}

TEST(Clips, LayersNeverRunInACircleAndGoWithTheirClip) {
    Document d = run(shaken(), {{"op", "clip.add"}, {"name", "third"}});
    d = run(d, {{"op", "layer.set"}, {"clip", "shake"}, {"add", "third"}});
    EXPECT_EQ(refusal(d, {{"op", "layer.set"}, {"clip", "third"}, {"add", "drive"}}).code, "layer.circle");
    EXPECT_EQ(refusal(d, {{"op", "layer.set"}, {"clip", "third"}, {"add", "third"}}).code, "layer.circle");
    EXPECT_EQ(refusal(d, {{"op", "layer.set"}, {"clip", "third"}, {"add", "none"}}).code, "clip.unknown");
    const Document gone = run(d, {{"op", "clip.remove"}, {"clip", "shake"}});
    EXPECT_TRUE(clip_called(gone, "drive").layers.empty());
    EXPECT_NEAR(place(gone, 13), 1.3, 1e-12);
    const Document off = run(d, {{"op", "layer.set"}, {"clip", "drive"}, {"add", "shake"}, {"share", 0}});
    EXPECT_NEAR(place(off, 13), 1.3, 1e-12);
    // A damaged file is told, not played for ever.
    Document circle = d;
    Clip third = clip_called(circle, "third");
    third.layers.push_back({clip_called(circle, "drive").id});
    circle.clips.set(third);
    const auto read = project_from_bytes(*project_bytes(circle), "circle");
    ASSERT_FALSE(read.ok());
    EXPECT_NE(read.error().message.find("added to itself"), std::string::npos) << read.error().message;
}

/// What follows later does what its driver did, shake and all.
TEST(Clips, WhatFollowsLaterFollowsTheLayerToo) {
    const Document d =
        run(shaken(),
            {{"op", "follow.add"}, {"parts", {"lamp"}}, {"driver", "carriage"}, {"gain", 10}, {"delay", 3}});
    for (double frame = 4; frame <= 24; frame += 0.5)
        EXPECT_NEAR(turned_deg(d, frame), 10 * place(shaken(), frame - 3), 1e-9) << frame;
}

/// Seconds or frames are kept by choice: judged by where the carriage is at a second.
TEST(Clips, AnotherRateKeepsFramesOrSeconds) {
    const Document d = keyed(carriage(), "carriage", "smooth", {{0, 0}, {24, 1}, {60, 3}});
    const auto at_second = [](const Document& rig, double second) {
        return place(rig, second * frame_rate_of(rig, clip_or_first(rig)));
    };
    for (const json& step : {json{{"op", "project.set"}, {"frame_rate", 60}, {"keep", "seconds"}},
                             json{{"op", "clip.set"}, {"rate", 60}, {"keep", "seconds"}}}) {
        const Document kept = run(d, step);
        for (double second = 0; second < 3; second += 0.1)
            EXPECT_NEAR(at_second(kept, second), at_second(d, second), 1e-9);
        EXPECT_EQ(clip_or_first(kept).last_frame, 300);
    }
    const Document frames = run(d, {{"op", "clip.set"}, {"rate", 60}});
    for (double frame = 0; frame < 60; frame += 2.5) EXPECT_EQ(place(frames, frame), place(d, frame));
    EXPECT_TRUE(*project_from_bytes(*project_bytes(frames), "rate") == frames);
    EXPECT_EQ(run(frames, {{"op", "clip.set"}, {"rate", 0}}), d) << "the project's again";
    for (const double rate : {-1.0, 0.5, 1e9})
        EXPECT_EQ(refusal(d, {{"op", "clip.set"}, {"rate", rate}}).code, "settings.frame_rate");
}

TEST(Clips, HaveAPlaceAColourAndMarkers) {
    Document d = shaken();
    d = run(d, {{"op", "clip.add"}, {"name", "third"}});
    const auto order = [](const Document& of) {
        std::string names;
        for (const Clip* clip : clips_in_order(of)) names += clip->name + " ";
        return names;
    };
    EXPECT_EQ(order(d), "drive shake third ");
    d = run(d, {{"op", "clip.set"}, {"clip", "third"}, {"before", "shake"}, {"color", "rust"}});
    EXPECT_EQ(order(d), "drive third shake ");
    d = run(d, {{"op", "clip.set"}, {"clip", "drive"}, {"before", ""}});
    EXPECT_EQ(order(d), "third shake drive ");
    d = run(d, {{"op", "marker.set"}, {"clip", "drive"}, {"frame", 20}, {"name", "stops"}});
    d = run(d, {{"op", "marker.set"}, {"clip", "drive"}, {"frame", 5}, {"name", "turns"}});
    d = run(d, {{"op", "marker.set"}, {"clip", "drive"}, {"frame", 20}, {"to_frame", 2}});
    EXPECT_EQ(clip_called(d, "drive").markers, (std::vector<Marker>{{2, "stops"}, {5, "turns"}}));
    EXPECT_EQ(refusal(d, {{"op", "marker.set"}, {"clip", "drive"}, {"frame", 2}, {"to_frame", 5}}).code,
              "marker.there");
    EXPECT_EQ(refusal(d, {{"op", "marker.set"}, {"clip", "drive"}, {"frame", 9}}).code, "marker.none");
    EXPECT_TRUE(*project_from_bytes(*project_bytes(d), "order") == d);
    d = run(d, {{"op", "marker.set"}, {"clip", "drive"}, {"frame", 2}});
    EXPECT_EQ(clip_called(d, "drive").markers.size(), 1u);
}

/// A clip that only adds others, without a key of its own, goes out as well, and moves as it is seen to.
TEST(Clips, AClipOfLayersAloneIsDelivered) {
    Document d = run(shaken(), {{"op", "clip.add"}, {"name", "both"}, {"last_frame", 24}, {"loop", false}});
    d = run(d, {{"op", "layer.set"}, {"clip", "both"}, {"add", "drive"}});
    const auto delivered = delivery_bytes(d);
    ASSERT_TRUE(delivered.ok()) << delivered.error().message;
    const auto model = read_glb(delivered->bytes, "both");
    ASSERT_TRUE(model.ok());
    std::vector<std::string> names;
    for (const auto& animation : model->animations) names.push_back(animation.name);
    std::ranges::sort(names);
    EXPECT_EQ(names, (std::vector<std::string>{"both", "drive", "shake"}));
    const auto back = compare_delivery(d, delivered->bytes, "both");
    ASSERT_TRUE(back.ok()) << back.error().message;
    EXPECT_GE(back->frames, 25 + 25 + 5);
    EXPECT_LT(back->at_frames.largest_m, 1e-5);
}

/// A clip of its own rate is delivered in its own seconds, and read back so.
TEST(Clips, AClipOfItsOwnRateIsDeliveredInItsSeconds) {
    Document d = run(shaken(), {{"op", "clip.set"}, {"clip", "drive"}, {"rate", 12}});
    add_shaped(d, "body", box(Vec3(0, 0, 0), Vec3(1, 1, 1)), named(d, "carriage"));
    const auto delivered = delivery_bytes(d);
    ASSERT_TRUE(delivered.ok()) << delivered.error().message;
    const auto model = read_glb(delivered->bytes, "slow");
    ASSERT_TRUE(model.ok());
    ASSERT_EQ(model->animations.front().name, "drive");
    double longest = 0;
    for (const auto& sampler : model->animations.front().samplers)
        longest =
            std::max(longest, model->accessors[static_cast<std::size_t>(sampler.input)].maxValues.front());
    EXPECT_NEAR(longest, 2, 1e-6) << "24 frames at 12 a second";
    const auto back = compare_delivery(d, delivered->bytes, "slow");
    ASSERT_TRUE(back.ok());
    EXPECT_LT(back->at_frames.largest_m, 1e-5);
}

/// Housing, arm and hook one after the other: each stands until its turn comes, and stays from then on.
TEST(Sequence, StepsGoOneAfterTheOther) {
    Document d = carriage();
    for (const char* name : {"arm", "hook"}) make_hinge(d, add_part(d, name, named(d, "carriage")));
    d = run(d, {{"op", "sequence.add"},
                {"parts", {"lamp", "arm", "hook"}},
                {"to", "90 deg"},
                {"frames", 10},
                {"gap", 5},
                {"frame", 0},
                {"eases", "no"}});
    const auto turn = [](const Document& of, const char* name, double frame) {
        Moved at(of);
        const Vec3 x = at(frame).in(name, "carriage").axis(0);
        return std::atan2(x.y(), x.x()) * deg_per_rad;
    };
    int number = 0;
    for (const char* name : {"lamp", "arm", "hook"}) {
        const double start = 15.0 * number++;
        for (const auto& [frame, deg] : {std::pair(start - 3, 0.0),
                                         {start, 0.0},
                                         {start + 5, 45.0},
                                         {start + 10, 90.0},
                                         {start + 30, 90.0}})
            EXPECT_NEAR(turn(d, name, frame), deg, 1e-9) << name << " " << frame;
    }
    // Closer together: they overlap by two frames.
    const Document close =
        run(d, {{"op", "sequence.space"}, {"parts", {"lamp", "arm", "hook"}}, {"gap", -2}});
    EXPECT_NEAR(turn(close, "arm", 8), 0, 1e-9);
    EXPECT_NEAR(turn(close, "arm", 13), 45, 1e-9);
    EXPECT_NEAR(turn(close, "hook", 21), 45, 1e-9);
    // Back again, behind all: in the other order, by so much.
    const Document back = run(d, {{"op", "sequence.add"},
                                  {"parts", {"hook", "lamp"}},
                                  {"to", "-90 deg"},
                                  {"by", true},
                                  {"frames", 4}});
    EXPECT_NEAR(turn(back, "hook", 40), 90, 1e-9);
    EXPECT_NEAR(turn(back, "hook", 44), 0, 1e-9);
    EXPECT_NEAR(turn(back, "lamp", 48), 0, 1e-9);
    EXPECT_EQ(refusal(d, {{"op", "sequence.add"}, {"parts", {"lamp"}}, {"to", 1}, {"frames", 0}}).code,
              "sequence.frames");
    EXPECT_EQ(refusal(d, {{"op", "sequence.space"}, {"parts", {"carriage"}}}).code, "key.none");
}

}  // namespace
}  // namespace pivrak
