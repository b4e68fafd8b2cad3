// Motion made into keys, and keys into a response: judged from where parts stand before and after.
#include <gtest/gtest.h>

#include <random>

#include "core/checks/findings.h"
#include "tests/core/operations/keys/carriage.h"

namespace pivrak {
namespace {

using namespace test;
using nlohmann::json;

/// A lamp that follows the carriage by a curve, and sways.
Document followed() {
    Document d = keyed(carriage(), "carriage", "smooth", {{0, 0}, {30, 2}, {55, 0.4}, {120, 3}});
    d = run(d, {{"op", "follow.add"},
                {"parts", {"lamp"}},
                {"driver", "carriage"},
                {"curve", "0 m: 0 deg, 1 m: 70 deg, 3 m: -20 deg"}});
    return d;
}

std::size_t keys_of(const Document& d, const char* part) {
    std::size_t count = 0;
    for (const Track& track : clip_or_first(d).tracks)
        if (track.channel.part() == named(d, part)) count += track.keys.size();
    return count;
}

/// At every tenth of a frame, by the keys alone.
TEST(MotionKeys, WhatIsDrivenBecomesKeysWithinTheTolerance) {
    const Document d = followed();
    std::size_t fewest = 1000;
    for (const char* angle : {"0.001 deg", "0.05 deg", "1 deg"}) {
        const Document keyed =
            run(d, {{"op", "motion.keys"}, {"parts", {"lamp"}}, {"angle", angle}, {"free", true}});
        ASSERT_TRUE(keyed.couplings.begin()->is_off());
        const double tolerance = std::atof(angle);
        Moved was(d), is(keyed);
        double most = 0;
        for (double frame = 0; frame <= 120; frame += 0.1)
            most = std::max(most, std::abs(was(frame).value("lamp") - is(frame).value("lamp")) * deg_per_rad);
        EXPECT_LT(most, 1.5 * tolerance) << angle;
        EXPECT_LT(keys_of(keyed, "lamp"), fewest) << "fewer keys for less";
        fewest = keys_of(keyed, "lamp");
        // The driver goes its way, and nothing follows it.
        const Document pulled =
            run(keyed, {{"op", "key.remove"}, {"parts", {"carriage"}}, {"channel", "shift"}});
        EXPECT_NEAR(turned_deg(pulled, 30), turned_deg(keyed, 30), 1e-12);
    }
    EXPECT_LT(fewest, 25u);
}

TEST(MotionKeys, KeysOfWhatIsStillDrivenWait) {
    const Document d = run(followed(), {{"op", "motion.keys"}, {"parts", {"lamp"}}});
    EXPECT_FALSE(d.couplings.begin()->is_off());
    const Document before = followed();
    Moved was(before), is(d);
    for (double frame = 0; frame <= 120; frame += 7)
        EXPECT_EQ(was(frame).value("lamp"), is(frame).value("lamp"));
    const Document off = run(d, {{"op", "driver.off"}, {"parts", {"lamp"}}});
    EXPECT_NEAR(turned_deg(off, 55), turned_deg(d, 55), 0.02);
}

/// A range alone is keyed; what lies outside it stays.
TEST(MotionKeys, OutsideTheRangeKeysStay) {
    Document d = keyed(carriage(), "carriage", "linear", {{0, 0}, {50, 1}, {100, 5}});
    d = run(d, {{"op", "motion.keys"}, {"parts", {"carriage"}}, {"from", 20}, {"to", 40}});
    const Document way = keyed(carriage(), "carriage", "linear", {{0, 0}, {50, 1}, {100, 5}});
    for (double frame = 0; frame <= 100; frame += 0.5)
        EXPECT_NEAR(place(d, frame), place(way, frame), 1e-4) << frame;
    for (const auto& [from, to, step] :
         {std::tuple(40.0, 20.0, 1.0), {0.0, 40.0, 0.0}, {0.0, 1e9, 1.0}, {0.0, 1e6, 0.001}})
        EXPECT_FALSE(
            refusal(
                d,
                {{"op", "motion.keys"}, {"parts", {"carriage"}}, {"from", from}, {"to", to}, {"step", step}})
                .message.empty());
}

/// Gears have no switch: the pair goes, and is told.
TEST(MotionKeys, WhatCannotBeSwitchedOffGoesOrIsNamed) {
    Document d = empty_document();
    for (const char* name : {"one", "other"}) make_hinge(d, add_part(d, name));
    couple(d, named(d, "one"), named(d, "other"), 10, 20);
    key(d, named(d, "one"), {{0, 0, Interpolation::Linear}, {48, 4, Interpolation::Linear}});
    const auto outcome =
        make_registry().run(d, {{"op", "motion.keys"}, {"parts", {"other"}}, {"free", true}});
    ASSERT_TRUE(outcome.ok()) << outcome.error().message;
    EXPECT_TRUE(outcome->document.couplings.empty());
    EXPECT_NE(outcome->messages.back().find("removed"), std::string::npos) << outcome->messages.back();
    Moved was(d), is(outcome->document);
    for (double frame = 0; frame <= 48; frame += 0.7)
        EXPECT_NEAR(was(frame).value("other"), is(frame).value("other"), 2e-4);
}

/// The lamp, keyed by hand beside a carriage that goes one way, answers to it from then on wherever it is
/// put.
TEST(MotionKeys, KeysBecomeAnAnswerToADriver) {
    Document d = keyed(carriage(), "carriage", "smooth", {{0, 0}, {60, 2}, {120, 3}});
    d = keyed(d, "lamp", "smooth", {{0, 0}, {20, 1}, {60, -0.5}, {110, 0.7}, {120, 0}});
    const Document answers =
        run(d, {{"op", "keys.response"}, {"parts", {"lamp"}}, {"driver", "carriage"}, {"angle", "0.1 deg"}});
    EXPECT_EQ(keys_of(answers, "lamp"), 0u);
    Moved was(d), is(answers);
    double most = 0;
    for (double frame = 0; frame <= 120; frame += 0.1)
        most = std::max(most, std::abs(was(frame).value("lamp") - is(frame).value("lamp")) * deg_per_rad);
    EXPECT_LT(most, 0.3);
    // Played faster, the same at the same place.
    const Document fast = run(answers, {{"op", "key.scale"}, {"into", 30}});
    EXPECT_NEAR(turned_deg(fast, 15), turned_deg(d, 60), 0.3);
    const Document back = keyed(d, "carriage", "smooth", {{90, 1}});
    EXPECT_EQ(refusal(back, {{"op", "keys.response"}, {"parts", {"lamp"}}, {"driver", "carriage"}}).code,
              "response.back");
    Document still = carriage();
    still = keyed(still, "lamp", "smooth", {{0, 0}, {20, 1}});
    EXPECT_EQ(refusal(still, {{"op", "keys.response"}, {"parts", {"lamp"}}, {"driver", "carriage"}}).code,
              "response.still");
}

/// What loops is looked at where it begins again, from where parts stand.
struct Seam {
    std::string code, message;
    json fix;
};
std::vector<Seam> seams(const Document& d) {
    std::vector<Seam> found;
    for (const Finding& f : check_document(d))
        if (f.code.starts_with("keys.seam")) found.push_back({f.code, f.message, f.fix});
    return found;
}

TEST(Seam, JumpsChangesOfSpeedAndStopsAreToldAndMended) {
    const auto lamp = [](const char* runs, const std::vector<std::pair<double, double>>& keys) {
        return run(keyed(carriage(), "lamp", runs, keys), {{"op", "clip.set"}, {"last_frame", 24}});
    };
    const struct {
        Document d;
        const char *code, *says;
    } cases[] = {
        {lamp("smooth", {{0, 0}, {12, 1}, {24, 0.5}}), "keys.seam_jump", "jumps by 28.65°"},
        {lamp("smooth", {{0, 0}, {24, 2 * pi}}), "keys.seam_stops", "stops there"},
        {lamp("linear", {{0, 0}, {6, 1}, {24, 0}}), "keys.seam_speed", "comes to the end"},
        {lamp("smooth", {{0, 0}, {12, 1}, {25, 0}}), "keys.seam_late", "frame 25"},
        {lamp("smooth", {{0, 0}, {12, 1}, {24, 0}}), "", ""},
        {lamp("linear", {{0, 0}, {24, 4 * pi}}), "", ""},
    };
    for (const auto& one : cases) {
        const auto found = seams(one.d);
        if (!*one.code) {
            EXPECT_TRUE(found.empty()) << found.front().message;
            continue;
        }
        ASSERT_EQ(found.size(), 1u) << one.code;
        EXPECT_EQ(found.front().code, one.code);
        EXPECT_NE(found.front().message.find(one.says), std::string::npos) << found.front().message;
        if (!found.front().fix.is_null()) {
            const auto after = seams(run(one.d, found.front().fix));
            EXPECT_TRUE(after.empty()) << after.front().message;
        }
        EXPECT_TRUE(seams(run(one.d, {{"op", "clip.set"}, {"loop", false}})).empty()) << "no loop, no seam";
    }
}

}  // namespace
}  // namespace pivrak
