// Keys moved, scaled, copied, held, bent and thinned, judged from where parts stand and by figures worked out
// by hand.
#include <gtest/gtest.h>

#include <cmath>

#include "core/io/project/project_file.h"
#include "tests/core/operations/keys/carriage.h"

namespace pivrak {
namespace {

using namespace test;
using nlohmann::json;

std::vector<double> frames_of_track(const Document& d, const char* part) {
    std::vector<double> frames;
    for (const Track& track : clip_or_first(d).tracks)
        if (track.channel.part() == named(d, part))
            for (const Key& key : track.keys) frames.push_back(key.frame);
    return frames;
}

/// Source: the figures of the job: 365 days are played in 37 frames.
TEST(KeyEdits, AYearIsPlayedIn37Frames) {
    const Document year = keyed(carriage(), "carriage", "linear", {{0, 0}, {73, 1}, {365, 5}});
    const Document d = run(year, {{"op", "key.scale"}, {"into", 37}});
    EXPECT_EQ(frames_of_track(d, "carriage"), (std::vector<double>{0, 73 * 37.0 / 365, 37}));
    for (double day = 0; day <= 365; day += 3.65)
        EXPECT_NEAR(place(d, day * 37 / 365), place(year, day), 1e-12) << day;
    const Document whole = run(year, {{"op", "key.scale"}, {"into", 37}, {"whole", true}});
    EXPECT_EQ(frames_of_track(whole, "carriage"), (std::vector<double>{0, 7, 37}));
    const Document back = run(d, {{"op", "key.scale"}, {"into", 365}});
    for (double day = 0; day <= 365; day += 7.3) EXPECT_NEAR(place(back, day), place(year, day), 1e-12);
}

TEST(KeyEdits, ACarriageStopsHalfwayAndGoesOn) {
    const Document way = keyed(carriage(), "carriage", "linear", {{0, 0}, {40, 4}});
    const Document d = run(way, {{"op", "key.hold"}, {"frame", 20}, {"frames", 20}});
    for (double frame = 20; frame <= 40; frame += 0.5) EXPECT_NEAR(place(d, frame), 2, 1e-12) << frame;
    EXPECT_NEAR(place(d, 60), 4, 1e-12) << "it arrives 20 frames later";
    EXPECT_NEAR(place(d, 0), 0, 1e-12);
    // Into the stop and out of it it eases.
    EXPECT_NEAR((place(d, 20) - place(d, 19.999)) / 0.001, 0, 1e-3);
    EXPECT_NEAR((place(d, 40.001) - place(d, 40)) / 0.001, 0, 1e-3);
    const Document hard = run(way, {{"op", "key.hold"}, {"frame", 20}, {"frames", 20}, {"sudden", true}});
    for (double frame = 0; frame <= 20; frame += 0.5) {
        EXPECT_NEAR(place(hard, frame), 0.1 * frame, 1e-12);
        EXPECT_NEAR(place(hard, 60 - frame), 4 - 0.1 * frame, 1e-12);
    }
    EXPECT_EQ(refusal(way, {{"op", "key.hold"}, {"frame", 20}, {"frames", 0}}).code, "key.hold");
}

TEST(KeyEdits, MovedWithWhatFollowsAndBackItIsAsItWas) {
    const Document d = keyed(keyed(carriage(), "carriage", "smooth", {{0, 0}, {10, 1}, {20, -1}, {40, 3}}),
                             "lamp", "linear", {{5, 0.1}, {15, 0.4}});
    const Document later = run(d, {{"op", "key.move"},
                                   {"parts", {"carriage"}},
                                   {"from", 10},
                                   {"to", 10},
                                   {"frames", 6},
                                   {"value", "50 mm"},
                                   {"ripple", true}});
    EXPECT_EQ(frames_of_track(later, "carriage"), (std::vector<double>{0, 16, 26, 46}));
    EXPECT_EQ(frames_of_track(later, "lamp"), (std::vector<double>{5, 15}));
    EXPECT_NEAR(place(later, 16), 1.05, 1e-12);
    EXPECT_NEAR(place(later, 46), 3, 1e-12);
    const Document back = run(later, {{"op", "key.move"},
                                      {"parts", {"carriage"}},
                                      {"from", 16},
                                      {"to", 16},
                                      {"frames", -6},
                                      {"value", "-50 mm"},
                                      {"ripple", true}});
    EXPECT_EQ(frames_of_track(back, "carriage"), frames_of_track(d, "carriage"));
    for (double frame = 0; frame <= 40; frame += 0.5) EXPECT_NEAR(place(back, frame), place(d, frame), 1e-12);
    // Single keys of several channels at once; one on the way makes room, and that is told.
    const auto outcome =
        make_registry().run(d, {{"op", "key.move"},
                                {"keys",
                                 {{{"of", "carriage"}, {"channel", "shift"}, {"frames", {10}}},
                                  {{"of", "lamp"}, {"channel", "turn"}, {"frames", {5}}}}},
                                {"frames", 10}});
    ASSERT_TRUE(outcome.ok()) << outcome.error().message;
    EXPECT_NE(outcome->messages.front().find("2 others"), std::string::npos) << outcome->messages.front();
    EXPECT_EQ(frames_of_track(outcome->document, "carriage"), (std::vector<double>{0, 20, 40}));
    const auto move = [&](json more) {
        json step{{"op", "key.move"}};
        step.update(more);
        return refusal(d, step).code;
    };
    EXPECT_EQ(move({{"frames", 1e9}}), "key.frame");
    EXPECT_EQ(move({{"from", 20}, {"to", 10}}), "key.range");
    EXPECT_EQ(move({{"from", 100}}), "key.none");
    EXPECT_EQ(refusal(d, {{"op", "key.scale"}, {"times", 0}}).code, "key.scale");
    EXPECT_EQ(refusal(d, {{"op", "key.scale"}, {"times", 0.01}, {"whole", true}}).code, "key.coincide");
}

TEST(KeyEdits, MirroredInTimeAndInValue) {
    const Document d = keyed(carriage(), "carriage", "smooth", {{0, 0}, {10, 1}, {30, 3}});
    const Document reversed = run(d, {{"op", "key.reverse"}});
    const Document negative = run(d, {{"op", "key.scale"}, {"value_times", -1}});
    const Document about = run(d, {{"op", "key.scale"}, {"value_times", -1}, {"about_value", "1 m"}});
    for (double frame = 0; frame <= 30; frame += 0.25) {
        EXPECT_NEAR(place(reversed, frame), place(d, 30 - frame), 1e-9);
        EXPECT_NEAR(place(negative, frame), -place(d, frame), 1e-12);
        EXPECT_NEAR(place(about, frame), 2 - place(d, frame), 1e-12);
    }
}

TEST(KeyEdits, CopiesStandEndToEndAndAddUp) {
    const Document d = keyed(carriage(), "carriage", "linear", {{0, 0}, {6, 1}, {12, 0.5}});
    const Document three = run(d, {{"op", "key.copy"}, {"to_frame", 12}, {"count", 3}, {"add_up", true}});
    // The first copy begins where the original ended: it makes room for the copy's first key.
    for (int n = 0; n < 3; ++n) EXPECT_NEAR(place(three, 12 + 12 * n + 6), 1 + 0.5 * n, 1e-12) << n;
    EXPECT_EQ(frames_of_track(three, "carriage").back(), 48);
    EXPECT_EQ(refusal(d, {{"op", "key.copy"}, {"to_frame", 5}, {"count", 0}}).code, "key.copy");
}

/// The figures of the job: keys 1, 7, 13 with 60, -40, 60 degrees play 1 to 12; a lid of 25 frames and one of
/// 40 meet again after their least common multiple.
TEST(KeyEdits, ACycleRepeatsWithoutADoubledFrame) {
    Document d = keyed(carriage(), "lamp", "smooth",
                       {{1, 60 * rad_per_deg}, {7, -40 * rad_per_deg}, {13, 58 * rad_per_deg}});
    d = run(d, {{"op", "cycle.close"}, {"parts", {"lamp"}}});
    d = run(d, {{"op", "clip.set"}, {"first_frame", 1}, {"last_frame", 12}});
    EXPECT_NEAR(turned_deg(d, 13), 60, 1e-9) << "it ends where it began";
    for (int frame = 1; frame <= 12; ++frame)
        EXPECT_NEAR(turned_deg(d, frame + 12), turned_deg(d, frame), 1e-9);
    EXPECT_NE(turned_deg(d, 12), turned_deg(d, 1)) << "the end frame is not played twice";
    const Document wheel = run(keyed(carriage(), "lamp", "smooth", {{0, 0}, {24, 2 * pi}}),
                               {{"op", "cycle.close"}, {"add_up", true}, {"even", true}});
    Moved at(wheel);
    for (double frame = -30; frame <= 100; frame += 1.25)
        EXPECT_NEAR(at(frame).value("lamp"), 2 * pi * frame / 24, 1e-9) << "it neither stops nor eases";
    Document lids = keyed(keyed(carriage(), "lamp", "linear", {{0, 0}, {10, 1}, {25, 0}}), "carriage",
                          "linear", {{0, 0}, {15, 1}, {40, 0}});
    const auto closed = make_registry().run(lids, {{"op", "cycle.close"}});
    ASSERT_TRUE(closed.ok());
    EXPECT_NE(closed->messages.front().find("after 200 frames"), std::string::npos)
        << closed->messages.front();
    lids = closed->document;
    Moved both(lids);
    int again = 1;
    while (again < 1000) {
        bool same = true;
        for (double frame = 0; frame <= 40 && same; frame += 0.5) {
            const double lamp = both(frame).value("lamp"), slide = both.value("carriage", ChannelKind::Shift);
            both(frame + again);
            same = std::abs(both.value("lamp") - lamp) < 1e-9 &&
                   std::abs(both.value("carriage", ChannelKind::Shift) - slide) < 1e-9;
        }
        if (same) break;
        ++again;
    }
    EXPECT_EQ(again, 200) << "25 and 40 frames";
}

TEST(KeyEdits, TangentsAreTypedJoinedAndBroken) {
    Document d = keyed(carriage(), "lamp", "smooth", {{0, 0}, {24, 1}, {48, 0}});
    d = run(d, {{"op", "key.shape"}, {"parts", {"lamp"}}, {"from", 24}, {"to", 24}, {"slope", "48 deg"}});
    const auto slope = [&](const Document& of, double frame, double h) {
        return (turned_deg(of, frame + h) - turned_deg(of, frame)) / h;
    };
    EXPECT_NEAR(slope(d, 24, 1e-5), 2, 1e-3) << "48 degrees a second are 2 a frame";
    EXPECT_NEAR(slope(d, 24, -1e-5), 2, 1e-3);
    const Document broken = run(d, {{"op", "key.shape"}, {"from", 24}, {"to", 24}, {"slope_in", "-24 deg"}});
    EXPECT_NEAR(slope(broken, 24, 1e-5), 2, 1e-3);
    EXPECT_NEAR(slope(broken, 24, -1e-5), -1, 1e-3);
    const Document joined = run(broken, {{"op", "key.shape"}, {"from", 24}, {"to", 24}, {"joined", true}});
    EXPECT_NEAR(slope(joined, 24, -1e-5), 2, 1e-3);
    const Document weighted = run(d, {{"op", "key.shape"}, {"from", 24}, {"to", 24}, {"weight", 0.9}});
    EXPECT_GT(turned_deg(weighted, 30), turned_deg(d, 30)) << "a longer tangent pulls further";
    for (const Document& kept : {d, broken, weighted})
        EXPECT_TRUE(*project_from_bytes(*project_bytes(kept), "keys") == kept);
    const Document stepped = run(d, {{"op", "key.shape"}, {"runs", "stepped"}});
    EXPECT_NEAR(turned_deg(stepped, 23.9), 0, 1e-9);
    const Document level = run(d, {{"op", "key.shape"}, {"runs", "flat"}});
    EXPECT_NEAR(slope(level, 24, 1e-5), 0, 1e-3);
    EXPECT_EQ(refusal(d, {{"op", "key.shape"}, {"weight", 0}}).code, "key.weight");
    EXPECT_EQ(refusal(d, {{"op", "key.shape"}, {"weight", 1.5}}).code, "key.weight");
}

TEST(KeyEdits, InsertedSnappedSmoothedAndThinned) {
    const Document d = keyed(carriage(), "carriage", "smooth", {{0, 0}, {13.4, 1.234}, {30, 3}});
    const Document more = run(d, {{"op", "key.insert"}, {"frame", 7}});
    EXPECT_EQ(frames_of_track(more, "carriage").size(), 4u);
    for (double frame = -5; frame <= 35; frame += 0.25)
        EXPECT_NEAR(place(more, frame), place(d, frame), 1e-9);
    EXPECT_NE(nothing_done(more, {{"op", "key.insert"}, {"frame", 7}}), "");
    const Document whole = run(d, {{"op", "key.snap"}});
    EXPECT_EQ(frames_of_track(whole, "carriage")[1], 13);
    const Document tens = run(d, {{"op", "key.snap"}, {"values", "10 mm"}});
    EXPECT_NEAR(place(tens, 13.4), 1.23, 1e-12);
    std::vector<std::pair<double, double>> dense;
    for (int f = 0; f <= 60; ++f) dense.push_back({f, std::sin(0.1 * f)});
    const Document baked = keyed(carriage(), "carriage", "linear", dense);
    const Document thin = run(baked, {{"op", "key.thin"}, {"length", "5 mm"}});
    EXPECT_LT(frames_of_track(thin, "carriage").size(), 14u);
    for (double frame = 0; frame <= 60; frame += 0.1)
        EXPECT_NEAR(place(thin, frame), place(baked, frame), 0.005);
    const Document calm = run(keyed(carriage(), "carriage", "linear", {{0, 0}, {10, 1}, {20, 0}}),
                              {{"op", "key.smooth"}, {"amount", 0.5}});
    EXPECT_NEAR(place(calm, 10), 0.5, 1e-12);
}

TEST(KeyEdits, ClipsAreAddedCopiedAndRemoved) {
    const Document d = keyed(carriage(), "carriage", "linear", {{0, 0}, {10, 1}});
    const Document two = run(d, {{"op", "clip.add"}, {"name", "pass"}, {"keys", true}, {"last_frame", 50}});
    ASSERT_EQ(two.clips.size(), 2u);
    EXPECT_EQ(std::next(two.clips.begin())->tracks.size(), 1u);
    const Document changed = run(two, {{"op", "key.move"}, {"clip", "pass"}, {"frames", 5}});
    EXPECT_EQ(frames_of_track(changed, "carriage"), (std::vector<double>{0, 10})) << "the first clip stays";
    EXPECT_EQ(refusal(two, {{"op", "clip.add"}, {"name", "pass"}}).code, "clip.duplicate");
    const Document one = run(two, {{"op", "clip.remove"}, {"clip", "pass"}});
    EXPECT_EQ(one.clips.size(), 1u);
    EXPECT_EQ(refusal(one, {{"op", "clip.remove"}}).code, "clip.last");
    EXPECT_EQ(
        refusal(two, {{"op", "clip.add"}, {"name", "back"}, {"first_frame", 9}, {"last_frame", 3}}).code,
        "clip.range");
}

/// Mirror images and larger machines take tangents along.
TEST(KeyEdits, TangentsGoWithCopiesAndSizes) {
    Document d = keyed(carriage(), "carriage", "smooth", {{0, 0}, {24, 1}});
    d = run(d, {{"op", "key.shape"}, {"parts", {"carriage"}}, {"slope", "2 m"}});
    d = run(d, {{"op", "key.beyond"}, {"after", "straight"}});
    const Document copied = run(d, {{"op", "part.duplicate"}, {"parts", {"carriage"}}, {"shift", {0, 1, 0}}});
    Moved at(copied);
    const std::string copy = [&] {
        for (const Part& part : copied.parts)
            if (part.name.starts_with("carriage") && part.name != "carriage") return part.name;
        return std::string();
    }();
    for (double frame = 0; frame <= 40; frame += 1.5) {
        at(frame);
        EXPECT_NEAR(at.world(copy).translation.x(), at.world("carriage").translation.x(), 1e-12) << frame;
    }
}

}  // namespace
}  // namespace pivrak
