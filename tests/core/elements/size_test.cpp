// A machine at half size moves as the same machine built half as large. The one is made by its size channel,
// the other by scaling every shape, joint, path and measure at rest, which shares no code with it.
#include <gtest/gtest.h>

#include <unordered_set>

#include "core/checks/travel/slip_check.h"
#include "core/io/delivery/deliver.h"
#include "core/io/delivery/delivery_formats.h"
#include "core/io/project/project_file.h"
#include "core/model/edits/stand.h"
#include "core/motion/bake.h"
#include "tests/support/cart.h"
#include "tests/support/documents.h"
#include "tests/support/jobs.h"
#include "tests/support/temp_folder.h"

namespace pivrak {
namespace {

using nlohmann::json;
using test::by_demo_job;
using test::named;
using test::refusal;
using test::run;

/// Everything but grounds below one datum at the world's origin.
Document under_main(Document d, PartId& main) {
    d = run(d, {{"op", "datum.add"}, {"name", "main"}});
    main = named(d, "main");
    std::unordered_set<PartId> grounds;
    for (const Vehicle& vehicle : d.vehicles) grounds.insert(vehicle.ground);
    const Tree tree(d);
    const auto carries_one = [&](PartId top) {
        const auto branch = tree.branch(top);
        return std::any_of(branch.begin(), branch.end(), [&](PartId part) { return grounds.contains(part); });
    };
    json tops = json::array();
    for (const Part& part : d.parts)
        if (!part.parent && part.id != main && !carries_one(part.id)) tops.push_back(part.id.value);
    return run(d, {{"op", "tree.parent"}, {"parts", tops}, {"under", main.value}});
}

Document sized(const Document& d, PartId part, double size) {
    const Document can = run(d, {{"op", "joint.size"}, {"parts", {part.value}}});
    return run(can, {{"op", "channel.set"}, {"parts", {part.value}}, {"channel", "size"}, {"value", size}});
}

/// The same places and turns, at whole frames and between them.
void expect_same_motion(const Document& by_channel, const Document& by_hand, double size, PartId main,
                        double place_m, double turn_rad) {
    const Clip& clip = *by_channel.clips.begin();
    const auto one = Evaluator::compile(by_channel), other = Evaluator::compile(by_hand);
    ASSERT_TRUE(one.ok()) << one.error().message;
    ASSERT_TRUE(other.ok()) << other.error().message;
    Pose a = one->make_pose(), b = other->make_pose();
    const Tree tree(by_channel);
    const double length = clip.last_frame - clip.first_frame;
    for (int i = 0; i <= 9; ++i) {
        const double frame = clip.first_frame + length * i / 9;
        one->evaluate(frame, a);
        other->evaluate(frame, b);
        for (const PartId part : tree.branch(main)) {
            const Frame &is = a.world_from_part[*one->part_slot(part)],
                        &shall = b.world_from_part[*other->part_slot(part)];
            SCOPED_TRACE(by_channel.parts.find(part)->name + " at frame " + std::to_string(frame));
            ASSERT_LT((is.translation - shall.translation).norm(), place_m);
            ASSERT_LT(angle_between(is.rotation, shall.rotation), turn_rad);
            ASSERT_DOUBLE_EQ(is.size, size);
            ASSERT_EQ(shall.size, 1);
        }
    }
}

Document half_by_hand(Document d, PartId main) {
    stand_up(d, {main}, {.scale = 0.5});
    return d;
}

void expect_half(const Document& d, PartId main, double place_m = 1e-6, double turn_rad = 1e-6) {
    expect_same_motion(sized(d, main, 0.5), half_by_hand(d, main), 0.5, main, place_m, turn_rad);
}

TEST(Size, GroomerWithTracksLinkageAndRamsOnUnevenGround) {
    PartId main;
    const Document d = under_main(by_demo_job("groomer"), main);
    expect_half(d, main);
}

TEST(Size, TruckAndTrailerOnADrapedRoad) {
    PartId main;
    const Document d = under_main(by_demo_job("supply-truck"), main);
    expect_half(d, main);
}

TEST(Size, CabinsOnARopeThatStaysAndOnOneThatGoesAlong) {
    PartId main;
    Document d = under_main(by_demo_job("cabins"), main);
    expect_half(d, main);
    Path rope = *d.paths.begin();
    rope.carrier = main;
    d.paths.set(rope);
    expect_half(d, main);
}

TEST(Size, CraneThatReaches) {
    PartId main;
    const Document d = under_main(by_demo_job("proxy-loader"), main);
    expect_half(d, main);
}

TEST(Size, StationWithGearsAndChain) {
    const auto opened = open_project(FINISHED_STATION);
    ASSERT_TRUE(opened.ok()) << opened.error().message;
    PartId main;
    const Document d = under_main(*opened, main);
    expect_half(d, main);
}

/// A cart with a wheel, below a control that grows as the cart drives.
Document growing_cart(double to) {
    test::Cart cart;
    Document d = run(cart.document, {{"op", "datum.add"}, {"name", "main"}});
    d = run(d, {{"op", "tree.parent"}, {"parts", {"cart"}}, {"under", "main"}});
    d = run(d, {{"op", "joint.size"}, {"parts", {"main"}}});
    for (const auto& [part, channel, frame, value] : {std::tuple{"cart", "shift_x", 0, 0.0},
                                                      {"cart", "shift_x", 96, 6.0},
                                                      {"main", "size", 0, 1.0},
                                                      {"main", "size", 96, to}})
        d = run(d, {{"op", "key.set"},
                    {"parts", {part}},
                    {"channel", channel},
                    {"frame", frame},
                    {"value", value},
                    {"interpolation", "linear"}});
    return d;
}

TEST(Size, AWheelThatGrowsAsItRollsDoesNotSlide) {
    // Judged from the wheel's frames in the world: what its touching place is dragged by.
    for (const double to : {0.25, 3.0}) {
        const auto slips = slip_check(growing_cart(to), {});
        ASSERT_TRUE(slips.ok()) << slips.error().message;
        ASSERT_EQ(slips->wheels.size(), 1u);
        EXPECT_GT(slips->wheels[0].travelled_m, 1.4);
        EXPECT_LT(slips->wheels[0].slip_m, 1e-3) << "grown to " << to;
    }
}

TEST(Size, ADeliveryScalesItsNodesAndReadsBackEqual) {
    const Document d = growing_cart(2.5);
    for (const bool with_controls : {false, true}) {
        DeliveryOptions options;
        options.with_controls = with_controls;
        const auto made = delivery_bytes(d, options, {});
        ASSERT_TRUE(made.ok()) << made.error().message;
        const auto back = compare_delivery(d, made->bytes, "cart.glb", options, {});
        ASSERT_TRUE(back.ok()) << back.error().message;
        EXPECT_LT(back->at_frames.largest_m, 1e-5);
        EXPECT_LT(back->between.largest_m, 1e-3);
        EXPECT_NE(made->bytes.find("\"path\":\"scale\""), std::string::npos);
    }
}

TEST(Size, ADeliveryWithoutAClipIsAsLargeAsItIsSetByHand) {
    test::Cart cart;
    Document d = run(cart.document, {{"op", "datum.add"}, {"name", "main"}});
    d = run(d, {{"op", "tree.parent"}, {"parts", {"cart"}}, {"under", "main"}});
    d = sized(d, named(d, "main"), 0.5);
    const auto made = delivery_bytes(d, {}, {});
    ASSERT_TRUE(made.ok()) << made.error().message;
    EXPECT_NE(made->bytes.find("\"scale\":[0.5,0.5,0.5]"), std::string::npos);
    const auto back = compare_delivery(d, made->bytes, "cart.glb", {}, {});
    ASSERT_TRUE(back.ok()) << back.error().message;
    EXPECT_LT(back->at_frames.largest_m, 1e-6);
}

TEST(Size, ComesBackFromItsFileWithLimitsAndKeys) {
    Document d = growing_cart(2);
    d = run(d, {{"op", "channel.limit"}, {"parts", {"main"}}, {"channel", "size"}, {"min", 0.5}, {"max", 4}});
    test::TempFolder folder;
    ASSERT_TRUE(save_project(d, folder / "cart.pivrak.glb").ok());
    const auto opened = open_project(folder / "cart.pivrak.glb");
    ASSERT_TRUE(opened.ok()) << opened.error().message;
    EXPECT_TRUE(*opened == d);
    EXPECT_EQ(opened->parts.find(named(d, "main"))->joint.size->limits, (Limits{0.5, 4}));
}

TEST(Size, BackToRestIsOneAndOutOfRangeIsRefused) {
    Document d = empty_document();
    const PartId part = test::add_part(d, "frame");
    d = sized(d, part, 3);
    EXPECT_EQ(d.parts.find(part)->joint.size->value, 3);
    EXPECT_EQ(run(d, {{"op", "channel.rest"}, {"parts", {"frame"}}}).parts.find(part)->joint.size->value, 1);
    for (const double size : {0.0, -1.0, 1e6})
        EXPECT_EQ(
            refusal(d, {{"op", "channel.set"}, {"parts", {"frame"}}, {"channel", "size"}, {"value", size}})
                .code,
            "channel.range");
    EXPECT_EQ(refusal(run(d, {{"op", "joint.size"}, {"parts", {"frame"}}, {"on", false}}),
                      {{"op", "channel.set"}, {"parts", {"frame"}}, {"channel", "size"}, {"value", 2}})
                  .code,
              "channel.none");
}

TEST(Size, WhatWouldTearAMachineApartIsRefusedByName) {
    const Document groomer = by_demo_job("groomer");
    for (const auto& [part, across] : {std::pair{"arm", "Blade lift"}, {"wheel", "Track left"}}) {
        const Error error = refusal(groomer, {{"op", "joint.size"}, {"parts", {part}}});
        EXPECT_EQ(error.code, "size.across");
        EXPECT_NE(error.message.find(across), std::string::npos) << error.message;
    }
    EXPECT_TRUE(make_registry().run(groomer, {{"op", "joint.size"}, {"parts", {"Groomer place"}}}).ok());
    const Document truck = by_demo_job("supply-truck");
    const Error wheel = refusal(truck, {{"op", "joint.size"}, {"parts", {"tyres 1"}}});
    EXPECT_NE(wheel.message.find("'Truck'"), std::string::npos) << wheel.message;
    const Document crane = by_demo_job("proxy-loader");
    EXPECT_EQ(refusal(crane, {{"op", "joint.size"}, {"parts", {"Post"}}}).code, "size.across");
}

TEST(Size, ACarriedPartKeepsTheSizeThatTheTreeGivesIt) {
    Document d = empty_document();
    const PartId arm = test::add_part(d, "arm", {}, {Quat(1, 0, 0, 0), Vec3(2, 0, 0)}),
                 crate = test::add_part(d, "crate");
    d = sized(d, arm, 0.5);
    d = run(d, {{"op", "joint.set"}, {"parts", {"crate"}}, {"kind", "free"}});
    d = run(d, {{"op", "carry.add"}, {"parts", {"crate"}}, {"carrier", "arm"}});
    const auto evaluator = Evaluator::compile(d);
    ASSERT_TRUE(evaluator.ok()) << evaluator.error().message;
    Pose pose = evaluator->make_pose();
    evaluator->evaluate(0, pose);
    EXPECT_EQ(pose.world_from_part[*evaluator->part_slot(crate)].size, 1);
    EXPECT_EQ(pose.world_from_part[*evaluator->part_slot(arm)].size, 0.5);
}

}  // namespace
}  // namespace pivrak
