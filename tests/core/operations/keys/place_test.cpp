// Where a place goes over a clip, how fast, how near others; and keys that bring it somewhere.
#include <gtest/gtest.h>

#include "core/motion/place_course.h"
#include "tests/core/operations/keys/carriage.h"

namespace pivrak {
namespace {

using namespace test;
using nlohmann::json;

/// Round a circle of 2 m in 48 frames at 24 a second: 2 pi 2 m in two seconds.
TEST(PlaceCourse, OfARoundWayLengthAndSpeedAreKnown) {
    Document d = empty_document();
    make_hinge(d, add_part(d, "arm"));
    key(d, named(d, "arm"), {{0, 0, Interpolation::Linear}, {48, 2 * pi, Interpolation::Linear}});
    d = run(d, {{"op", "clip.set"}, {"last_frame", 48}});
    const auto course = place_course(d, {}, named(d, "arm"), Vec3(2, 0, 0));
    ASSERT_TRUE(course.ok());
    ASSERT_EQ(course->frames.size(), 49u);
    // Chords of 7.5 degrees instead of arcs.
    const double way = 48 * 2 * 2 * std::sin(pi / 48);
    EXPECT_NEAR(course->way_m(), way, 1e-9);
    for (const double speed : course->speeds_m_s) EXPECT_NEAR(speed, way / 2, 1e-9);
    for (const Vec3& place : course->places) EXPECT_NEAR(place.head<2>().norm(), 2, 1e-12);
    const Document slow = run(d, {{"op", "clip.set"}, {"rate", 12}});
    EXPECT_NEAR(place_course(slow, {}, named(d, "arm"), Vec3(2, 0, 0))->speeds_m_s[7], way / 4, 1e-9);
    EXPECT_EQ(place_course(d, {}, named(d, "arm"), Vec3(2, 0, 0), {}, 10)->frames.back(), 48)
        << "of few moments the last is one";
    EXPECT_EQ(place_course(d, {}, PartId{999}, Vec3(0, 0, 0)).error().code, "part.unknown");
}

TEST(PlaceCourse, TheLeastClearanceIsWhereTwoBoxesPass) {
    Document d = empty_document();
    add_shaped(d, "goer", box({-0.5, -0.5, 0}, {0.5, 0.5, 1}));
    add_shaped(d, "post", box({4.5, 0.8, 0}, {5.5, 1.8, 1}));
    add_part(d, "bare");
    d = run(d, {{"op", "joint.set"}, {"parts", {"goer"}}, {"kind", "slide"}, {"axis", "x"}});
    d = keyed(d, "goer", "linear", {{0, 0}, {100, 10}});
    d = run(d, {{"op", "clip.set"}, {"last_frame", 100}});
    const auto least = least_clearance(d, {}, named(d, "goer"), named(d, "post"));
    ASSERT_TRUE(least.ok()) << least.error().message;
    EXPECT_NEAR(least->clearance_m, 0.3, 1e-6);
    EXPECT_GE(least->frame, 40);
    EXPECT_LE(least->frame, 60) << "beside it";
    EXPECT_EQ(least_clearance(d, {}, named(d, "goer"), named(d, "bare")).error().code, "clearance.none");
}

/// Wings that count in their own ways: the other one's tip is the mirror image at every frame.
TEST(KeyMirror, TheOtherSideDoesTheMirrorImage) {
    for (const bool turned : {false, true}) {
        Document d = empty_document();
        const Frame left{Quat(1, 0, 0, 0), Vec3(0, 1, 0)};
        const Frame right{turned ? turn_about_axis(0, pi) : Quat(1, 0, 0, 0), Vec3(0, -1, 0)};
        make_hinge(d, add_part(d, "wing left", {}, left), 0);
        make_hinge(d, add_part(d, "wing right", {}, right), 2);
        d = run(d, {{"op", "joint.set"}, {"parts", {"wing right"}}, {"kind", "hinge"}, {"axis", "x"}});
        d = run(d, {{"op", "key.set"}, {"parts", {"wing left"}}, {"frame", 0}, {"value", 0}});
        d = run(d, {{"op", "key.set"}, {"parts", {"wing left"}}, {"frame", 20}, {"value", "50 deg"}});
        const Document both = run(d, {{"op", "key.mirror"}, {"parts", {"wing left"}}});
        Moved at(both);
        for (const double frame : {0.0, 7.0, 20.0}) {
            at(frame);
            const Vec3 one = at.world("wing left").point({0.3, 2, 0.1});
            const Vec3 place = at.world("wing right").point(right.inverse().point({0.3, -3, 0.1}));
            EXPECT_LT((Vec3(one.x(), -one.y(), one.z()) - place).norm(), 1e-12) << frame << turned;
        }
        const Document later = run(d, {{"op", "key.mirror"}, {"parts", {"wing left"}}, {"to_frame", 30}});
        EXPECT_NEAR(Moved(later)(30).value("wing right"), 0, 1e-12);
        EXPECT_NEAR(std::abs(Moved(later)(50).value("wing right")), 50 * rad_per_deg, 1e-12);
    }
    Document alone = empty_document();
    make_hinge(alone, add_part(alone, "wing left"), 0);
    key(alone, named(alone, "wing left"), {{0, 1}});
    EXPECT_EQ(refusal(alone, {{"op", "key.mirror"}, {"parts", {"wing left"}}}).code, "mirror.none");
}

/// A slide and a lamp on it: with keys of both at a frame its arm's end comes where it shall, in their plane.
TEST(KeyPlace, KeysAreMovedUntilAPlaceIsWhereItShallBe) {
    Document d = keyed(keyed(carriage(), "carriage", "smooth", {{0, 0}, {20, 1}, {40, 2}}), "lamp", "smooth",
                       {{0, 0}, {20, 0.3}, {40, 0}});
    const json step{
        {"op", "key.place"}, {"part", "lamp"}, {"at", {0.5, 0, 0}}, {"to", {1.7, 0.3, 0}}, {"frame", 20}};
    const Document moved = run(d, step);
    Moved at(moved), was(d);
    EXPECT_LT((at(20).world("lamp").point({0.5, 0, 0}) - Vec3(1.7, 0.3, 0)).norm(), 1e-7);
    for (const double frame : {0.0, 40.0})
        EXPECT_LT((at(frame).world("lamp").translation - was(frame).world("lamp").translation).norm(), 1e-12)
            << "other keys stay";
    // Out of reach it comes as near as it can: the arm is half a metre long.
    json far = step;
    far["to"] = {1.7, 2.0, 0};
    const auto outcome = make_registry().run(d, far);
    ASSERT_TRUE(outcome.ok());
    EXPECT_NE(outcome->messages.front().find("short"), std::string::npos) << outcome->messages.front();
    Moved near(outcome->document);
    EXPECT_LT((near(20).world("lamp").point({0.5, 0, 0}) - Vec3(1.7, 0.5, 0)).norm(), 1e-3);
    json none = step;
    none["frame"] = 13;
    EXPECT_EQ(refusal(d, none).code, "key.place");
    json through = step;
    through["to"] = {1.0 + 0.5 * std::cos(0.3), 0.5 * std::sin(0.3), 0};
    EXPECT_TRUE(make_registry().run(d, through)->document.clips.begin()->tracks.size() == 2);
}

}  // namespace
}  // namespace pivrak
