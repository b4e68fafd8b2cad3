// Channels that shake or swing about what is asked of them, judged from where parts stand in the world.
#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>
#include <set>

#include "core/io/project/project_file.h"
#include "tests/core/elements/linkages.h"

namespace pivrak {
namespace {

using namespace test;
using nlohmann::json;

/// Aerials on a roof; the clip lasts 48 frames of a 24th of a second.
Document aerials(int count = 1) {
    Document d = empty_document();
    for (int i = 1; i <= count; ++i)
        make_hinge(d, add_part(d, "aerial" + std::to_string(i), {}, {Quat(1, 0, 0, 0), Vec3(0.1 * i, 0, 2)}),
                   0);
    d = run(d, {{"op", "clip.set"}, {"first_frame", 0}, {"last_frame", 48}});
    EXPECT_EQ(d.settings.frame_rate, 24);
    return d;
}

json sway(json more) {
    json step{{"op", "sway.add"}, {"parts", {"aerial1"}}, {"strength", "5 deg"}};
    step.update(more);
    return step;
}

/// How far an aerial leans [degrees], by where its y axis points.
double lean_deg(const Moved& at, const std::string& name) {
    const Vec3 y = at.world(name).axis(1);
    return std::atan2(y.z(), y.y()) * deg_per_rad;
}

/// Source: a swing of so many a second, by hand: 5 sin(2 pi 3/2 t).
TEST(Sway, ASwingIsASineAboutWhatKeysAsk) {
    Document d = run(aerials(), sway({{"goes", "swing"}, {"pace", 1.5}}));
    for (const auto& [frame, value] : {std::pair(0, "0 deg"), {48, "30 deg"}})
        d = run(d, {{"op", "key.set"},
                    {"parts", {"aerial1"}},
                    {"channel", "turn"},
                    {"frame", frame},
                    {"value", value},
                    {"interpolation", "linear"}});
    Moved at(d);
    for (double frame = 0; frame <= 48; frame += 0.25)
        EXPECT_NEAR(lean_deg(at(frame), "aerial1"), 30 * frame / 48 + 5 * std::sin(2 * pi * 1.5 * frame / 24),
                    1e-9)
            << frame;
    EXPECT_NEAR(lean_deg(at(50), "aerial1"), 30 + 5 * std::sin(2 * pi * 1.5 * 50 / 24), 1e-9)
        << "it sways on behind the last key";
}

TEST(Sway, ChanceStaysWithinItsStrengthAndIsSmooth) {
    const Document d = run(aerials(3), {{"op", "sway.add"},
                                        {"parts", {"aerial1", "aerial2", "aerial3"}},
                                        {"strength", "5 deg"},
                                        {"pace", 2}});
    Moved at(d);
    double most = 0, apart = 0, fastest = 0, last = lean_deg(at(0), "aerial1");
    for (double frame = 0; frame <= 480; frame += 0.25) {
        const double now = lean_deg(at(frame), "aerial1"), other = lean_deg(at, "aerial2");
        most = std::max(most, std::abs(now));
        apart = std::max(apart, std::abs(now - other));
        fastest = std::max(fastest, std::abs(now - last));
        last = now;
    }
    EXPECT_LE(most, 5 + 1e-9);
    EXPECT_GT(most, 2);
    EXPECT_GT(apart, 2) << "each has a chance of its own";
    // A quarter frame is a 48th of a turn of chance; its steepest is four strengths for each of these.
    EXPECT_LT(fastest, 4 * 5 / 48.0 * 2);
}

/// Value and speed at the seam, from frames beside it.
TEST(Sway, WithTheClipItsEndGoesOverIntoItsStart) {
    for (const char* goes : {"chance", "swing"})
        for (const double pace : {0.4, 1.3, 2.77}) {
            const Document d =
                run(aerials(), sway({{"goes", goes}, {"pace", pace}, {"with_clip", true}, {"seed", 7}}));
            Moved at(d);
            const double step = 0.001;
            const double start = lean_deg(at(0), "aerial1"), end = lean_deg(at(48), "aerial1"),
                         start_speed = (lean_deg(at(step), "aerial1") - start) / step,
                         end_speed = (end - lean_deg(at(48 - step), "aerial1")) / step;
            EXPECT_NEAR(start, end, 1e-9) << goes << pace;
            EXPECT_NEAR(start_speed, end_speed, 2e-3) << goes << pace;
            double most = 0;
            for (double frame = 0; frame <= 48; frame += 0.5)
                most = std::max(most, std::abs(lean_deg(at(frame), "aerial1") - start));
            EXPECT_GT(most, 0.5) << goes << pace << ": it does move";
        }
}

TEST(Sway, EachNextOneDoesTheSameLater) {
    const Document d = run(aerials(3), {{"op", "sway.add"},
                                        {"parts", {"aerial1", "aerial2", "aerial3"}},
                                        {"strength", "8 deg"},
                                        {"delay", 2},
                                        {"step_delay", 5}});
    Moved at(d), before(d);
    for (double frame = 0; frame <= 60; frame += 1.5)
        for (const auto& [name, delay] : {std::pair("aerial2", 5), {"aerial3", 10}})
            EXPECT_NEAR(lean_deg(at(frame), name), lean_deg(before(frame - delay), "aerial1"), 1e-9) << frame;
}

TEST(Sway, IsKeptCopiedMirroredAndSwitchedOff) {
    const Document d = run(aerials(), sway({{"seed", 3}}));
    EXPECT_TRUE(*project_from_bytes(*project_bytes(d), "aerials") == d);
    const Document copied = run(d, {{"op", "part.duplicate"}, {"parts", {"aerial1"}}, {"shift", {1, 0, 0}}});
    EXPECT_EQ(copied.couplings.size(), 2u);
    const Document off = run(d, {{"op", "driver.off"}, {"parts", {"aerial1"}}});
    Moved at(d), still(off);
    EXPECT_GT(std::abs(lean_deg(at(17), "aerial1")), 0.01);
    EXPECT_EQ(lean_deg(still(17), "aerial1"), 0);
    const Document on = run(off, {{"op", "driver.on"}, {"parts", {"aerial1"}}});
    EXPECT_TRUE(on.couplings == d.couplings);
    const Document gone = run(d, {{"op", "driver.remove"}, {"parts", {"aerial1"}}});
    EXPECT_EQ(gone.couplings.size(), 0u);
}

TEST(Sway, RefusalsSayWhy) {
    Document d = aerials(2);
    EXPECT_EQ(refusal(d, sway({{"strength", 0}})).code, "sway.strength");
    EXPECT_EQ(refusal(d, sway({{"pace", 0}})).code, "sway.damaged");
    EXPECT_EQ(refusal(d, sway({{"seed", -1}})).code, "sway.damaged");
    add_part(d, "wall");
    EXPECT_EQ(refusal(d, sway({{"parts", {"wall"}}})).code, "channel.fixed");
    // What something else moves does not sway about hands and keys; and what sways is not led.
    const Document led = run(d, {{"op", "follow.add"}, {"parts", {"aerial1"}}, {"driver", "aerial2"}});
    const Error driven = refusal(led, sway(json::object()));
    EXPECT_EQ(driven.code, "channel.driven");
    EXPECT_NE(driven.message.find("aerial2"), std::string::npos) << driven.message;
    EXPECT_EQ(refusal(d, {{"op", "driver.on"}, {"parts", {"aerial1"}}}).code, "driver.none");
}

}  // namespace
}  // namespace pivrak
