// Springs and cables between seats: judged by where their ends stand in the world, and by what a delivery
// shows.
#include <gtest/gtest.h>

#include "core/checks/findings.h"
#include "core/elements/stretch/stretch_motion.h"
#include "core/io/delivery/deliver.h"
#include "core/io/project/project_file.h"
#include "tests/core/elements/linkages.h"
#include "tests/support/coils.h"
#include "tests/support/shapes.h"
#include "tests/support/temp_folder.h"

namespace pivrak {
namespace {

using namespace test;
using nlohmann::json;

constexpr double seat_m = 0.2;

/// A lever on a hinge above a base, a spring between the two, 0.5 m out.
Document lever() {
    Document d = empty_document();
    add_shaped(d, "base", box({-0.1, -0.1, -0.05}, {0.7, 0.1, 0}), {}, {});
    add_shaped(d, "lever", box({-0.05, -0.05, 0}, {0.7, 0.05, 0.04}), {},
               {Quat(1, 0, 0, 0), Vec3(0, 0, seat_m)});
    make_hinge(d, named(d, "lever"), 1);
    add_shaped(d, "spring", coil_mesh({.length_m = seat_m}), {}, {Quat(1, 0, 0, 0), Vec3(0.5, 0, 0)});
    for (const auto& [frame, value] : {std::pair{0, "0"}, {20, "12 deg"}, {40, "-30 deg"}})
        d = run(d, {{"op", "key.set"},
                    {"parts", {"lever"}},
                    {"channel", "turn"},
                    {"frame", frame},
                    {"value", value}});
    return run(d, {{"op", "clip.set"}, {"first_frame", 0}, {"last_frame", 40}});
}

Document sprung() {
    return run(lever(), {{"op", "stretch.add"}, {"parts", {"spring"}}, {"from", "base"}, {"to", "lever"}});
}

/// Vertices of the spring in the world, as they are shown.
std::vector<Vec3> shown(const Document& d, const Moved& at) {
    const PartId spring = named(d, "spring");
    const auto mesh = mesh_now(d, at.evaluator(), at.pose(), spring);
    const Frame world = at.world("spring") * d.parts.find(spring)->part_from_shape;
    std::vector<Vec3> places;
    for (const Vec3f& p : mesh->positions) places.push_back(world.point(p.cast<double>()));
    return places;
}

TEST(Stretch, ItsEndsStayOnTheirSeatsWhateverMoves) {
    const Document d = sprung();
    Moved at(d);
    at(0);
    // Rings at both ends of the wire, seen from what holds them.
    const auto seen = [&](const char* part, bool first) {
        const auto places = shown(d, at);
        std::vector<Vec3> out;
        for (std::size_t k = 0; k < 12; ++k)
            out.push_back(at.world(part).inverse().point(places[first ? k : places.size() - 12 + k]));
        return out;
    };
    const auto middle = [](const std::vector<Vec3>& ring) {
        Vec3 sum(0, 0, 0);
        for (const Vec3& p : ring) sum += p;
        return Vec3(sum / static_cast<double>(ring.size()));
    };
    const Vec3 base = middle(seen("base", true)), lever = middle(seen("lever", false));
    for (double frame = 0; frame <= 40; frame += 0.25) {
        at(frame);
        // The wire's end lies beside the seat's middle, and tilts with the spring by a few degrees: it goes
        // round it.
        const Vec3 seat_below(0.5, 0, 0), seat_above(0.5, 0, 0);
        EXPECT_NEAR((middle(seen("base", true)) - seat_below).norm(), (base - seat_below).norm(), 1e-4)
            << frame;
        EXPECT_NEAR((middle(seen("lever", false)) - seat_above).norm(), (lever - seat_above).norm(), 1e-4)
            << frame;
    }
}

TEST(Stretch, TheAxisPointsFromSeatToSeatAndDoesNotTwist) {
    const Document d = sprung();
    Moved at(d);
    for (double frame = 0; frame <= 40; frame += 0.5) {
        at(frame);
        const Vec3 line = at.world("lever").point({0.5, 0, 0}) - Vec3(0.5, 0, 0);
        // The axis is the wire's, measured to some micrometres; pressed together, these count more.
        EXPECT_LT(at.world("spring").axis(2).cross(line.normalized()).norm(), 1e-3) << frame;
        // All turns about y: the spring's own y stays.
        EXPECT_LT((at.world("spring").axis(1) - Vec3::UnitY()).norm(), 2e-4);
        const auto now =
            stretched_now(at.evaluator(), at.pose(), *at.evaluator().part_slot(named(d, "spring")));
        EXPECT_NEAR(now->length_m, line.norm(), 1e-3);
    }
}

TEST(Stretch, ADeliveryShowsEveryVertexWhereTheRigHasIt) {
    const Document d = sprung();
    const auto made = delivery_bytes(d, {}, {});
    ASSERT_TRUE(made.ok()) << made.error().message;
    EXPECT_NE(made->bytes.find("JOINTS_0"), std::string::npos);
    const auto back = compare_delivery(d, made->bytes, "spring.glb", {}, {});
    ASSERT_TRUE(back.ok()) << back.error().message;
    EXPECT_LT(back->at_frames.largest_m, 2e-6);
    // Between samples arcs go straight: the more there are, the less.
    DeliveryOptions fine;
    fine.sampling.per_frame = 8;
    const auto finer = compare_delivery(d, delivery_bytes(d, fine, {})->bytes, "spring.glb", fine, {});
    ASSERT_TRUE(finer.ok());
    EXPECT_LT(finer->between.largest_m, 0.05 * back->between.largest_m);
    // Another file is not taken for this one.
    Document other = run(d, {{"op", "stretch.set"}, {"stretches", {"spring stretch"}}, {"on", false}});
    const auto loose = delivery_bytes(other, {}, {});
    ASSERT_TRUE(loose.ok());
    const auto told = compare_delivery(d, loose->bytes, "spring.glb", {}, {});
    EXPECT_EQ(told.error().code, "delivery.part_missing") << "a spring without bones is told";
}

TEST(Stretch, PressedUntilItsCoilsMeetItIsAFinding) {
    const Document d = sprung();
    std::vector<std::string> told;
    for (const Finding& finding : check_document(d))
        if (finding.code == "stretch.solid") told.push_back(finding.message);
    EXPECT_TRUE(told.empty());
    // 6 coils of 8 mm wire are solid at 48 mm: the lever's seat comes down to less.
    const Document pressed = run(
        d,
        {{"op", "key.set"}, {"parts", {"lever"}}, {"channel", "turn"}, {"frame", 20}, {"value", "20 deg"}});
    for (const Finding& finding : check_document(pressed))
        if (finding.code == "stretch.solid") {
            told.push_back(finding.message);
            EXPECT_EQ(finding.frame, 20);
        }
    ASSERT_EQ(told.size(), 1u);
    EXPECT_NE(told[0].find("its coils meet at 48.2 mm"), std::string::npos) << told[0];
}

TEST(Stretch, ACableIsDrawnOutEvenlyAndSeatsAreFound) {
    Document d = empty_document();
    add_shaped(d, "winch", box({-0.1, -0.1, -0.1}, {0, 0.1, 0.1}), {}, {});
    add_shaped(d, "hook", box({0, -0.1, -0.1}, {0.1, 0.1, 0.1}), {}, {Quat(1, 0, 0, 0), Vec3(2, 0, 0)});
    add_shaped(d, "cable", box({0, -0.01, -0.01}, {2, 0.01, 0.01}), {}, {});
    d = run(d, {{"op", "joint.set"}, {"parts", {"hook"}}, {"kind", "free"}});
    d = run(d, {{"op", "stretch.add"}, {"parts", {"cable"}}, {"name", "pull"}});
    const Stretch& pull = *d.stretches.begin();
    EXPECT_EQ(std::set<PartId>({pull.from, pull.to}),
              std::set<PartId>({named(d, "winch"), named(d, "hook")}));
    d = run(d, {{"op", "channel.set"}, {"parts", {"hook"}}, {"channel", "shift_z"}, {"value", 1.5}});
    Moved at(d);
    at(0);
    const Frame world = at.world("cable");
    Bounds along;
    const auto mesh = mesh_now(d, at.evaluator(), at.pose(), named(d, "cable"));
    const Vec3 way = Vec3(2, 0, 1.5).normalized();
    for (const Vec3f& p : mesh->positions) {
        const Vec3 place = world.point(p.cast<double>());
        along.add(Vec3(place.dot(way), (place - place.dot(way) * way).norm(), 0));
    }
    EXPECT_NEAR(along.min.x(), 0, 1e-6);
    EXPECT_NEAR(along.max.x(), 2.5, 1e-6);
    EXPECT_NEAR(along.max.y(), 0.01 * std::sqrt(2.0), 1e-6);
}

TEST(Stretch, ItIsSavedCopiedAndRefusedByName) {
    const Document d = sprung();
    TempFolder folder;
    ASSERT_TRUE(save_project(d, folder / "s.pivrak.glb").ok());
    const auto opened = open_project(folder / "s.pivrak.glb");
    ASSERT_TRUE(opened.ok()) << opened.error().message;
    EXPECT_TRUE(*opened == d);
    EXPECT_EQ(
        refusal(d, {{"op", "stretch.add"}, {"parts", {"spring"}}, {"from", "base"}, {"to", "lever"}}).code,
        "stretch.twice");
    EXPECT_EQ(
        refusal(lever(), {{"op", "stretch.add"}, {"parts", {"spring"}}, {"from", "base"}, {"to", "base"}})
            .code,
        "stretch.seats");
    Document lonely = empty_document();
    add_shaped(lonely, "spring", coil_mesh({}), {}, {});
    EXPECT_EQ(refusal(lonely, {{"op", "stretch.add"}, {"parts", {"spring"}}}).code, "stretch.no_seat");
    add_part(lonely, "datum");
    EXPECT_EQ(refusal(lonely, {{"op", "stretch.add"}, {"parts", {"datum"}}}).code, "stretch.no_length");
    // What holds it goes: the spring hangs in the tree again.
    const Document gone = run(d, {{"op", "part.remove"}, {"parts", {"lever"}}});
    EXPECT_TRUE(gone.stretches.empty());
}

}  // namespace
}  // namespace pivrak
