// Carriers that change, judged from where parts stand in the world, also between frames.
#include "core/io/delivery/deliver.h"
#include "tests/core/elements/standing.h"

namespace pivrak {
namespace {

using namespace test;
using nlohmann::json;

/// A crate that stands on a belt, is taken by a crane, and set down in the world.
Document handed_over() {
    Document d = empty_document();
    add_part(d, "belt", {}, {Quat(1, 0, 0, 0), Vec3(0, 0, 1)});
    add_part(d, "crane", {}, {Quat(1, 0, 0, 0), Vec3(4, 0, 0)});
    const PartId crane = *find_part(d, "crane");
    add_part(d, "hook", crane, {Quat(1, 0, 0, 0), Vec3(-4, 0.5, 2)});
    add_part(d, "crate", *find_part(d, "belt"), {Quat(1, 0, 0, 0), Vec3(0, 0, 0.3)});
    d = run(d, {{"op", "joint.set"}, {"parts", {"belt"}}, {"kind", "slide"}, {"axis", "x"}});
    d = run(d, {{"op", "joint.set"}, {"parts", {"crane"}}, {"kind", "hinge"}, {"axis", "z"}});
    const auto key = [&](const char* part, const char* channel, int frame, double value) {
        d = run(
            d,
            {{"op", "key.set"}, {"parts", {part}}, {"channel", channel}, {"frame", frame}, {"value", value}});
    };
    key("belt", "shift", 0, 0), key("belt", "shift", 60, 2);
    key("crane", "turn", 0, 0), key("crane", "turn", 60, 1.5);
    return d;
}

TEST(Carry, CarriersAreChangedWithoutAJump) {
    Document d = handed_over();
    d = run(d, {{"op", "carry.change"}, {"parts", {"crate"}}, {"carrier", "hook"}, {"frame", 20}});
    d = run(d, {{"op", "carry.change"}, {"parts", {"crate"}}, {"frame", 45}});
    At at(d);
    at(0);
    const Frame on_belt = at.world("belt").inverse() * at.world("crate");
    at(20);
    const Frame on_hook = at.world("hook").inverse() * at.world("crate");
    const Frame left = at(45).world("crate");
    Vec3 before = at(0).world("crate").translation;
    double fastest = 0;
    for (double frame = 0; frame <= 60; frame += 0.125) {
        at(frame);
        const Frame crate = at.world("crate");
        if (frame < 20) {
            EXPECT_LT(((at.world("belt").inverse() * crate).translation - on_belt.translation).norm(), 1e-12);
        }
        if (frame >= 20 && frame < 45) {
            EXPECT_LT(((at.world("hook").inverse() * crate).translation - on_hook.translation).norm(), 1e-12);
            EXPECT_LT(angle_between((at.world("hook").inverse() * crate).rotation, on_hook.rotation), 1e-12);
        }
        if (frame >= 45) {
            EXPECT_LT((crate.translation - left.translation).norm(), 1e-12) << "it stands in the world";
        }
        fastest = std::max(fastest, (crate.translation - before).norm() / 0.125);
        before = crate.translation;
    }
    // The hook at the crate's radius goes 4.1 m a rad; a smooth key runs at most half as fast again as on
    // average.
    EXPECT_LT(fastest, 1.5 * 4.2 * 1.5 / 60 + 0.02);
}

TEST(Carry, WhatIsDeliveredChangesHandsAlike) {
    Document d = handed_over();
    d = run(d, {{"op", "carry.change"}, {"parts", {"crate"}}, {"carrier", "hook"}, {"frame", 20}});
    const auto delivery = delivery_bytes(d);
    ASSERT_TRUE(delivery.ok()) << delivery.error().message;
    const auto back = compare_delivery(d, delivery->bytes, "d.glb");
    ASSERT_TRUE(back.ok());
    EXPECT_LT(back->at_frames.largest_m, 1e-5);
    EXPECT_LT(back->between.largest_m, 2e-3);
}

TEST(Carry, HalfABlendLiesHalfWay) {
    Document d = handed_over();
    d = run(d, {{"op", "carry.add"}, {"parts", {"crate"}}, {"carrier", "hook"}, {"blend", 0.5}});
    At at(d);
    for (const double frame : {0.0, 17.5, 60.0}) {
        const Vec3 belt = at(frame).world("belt").point({0, 0, 0.3});
        const Frame rest =
            world_from_rest(d, *find_part(d, "hook")).inverse() * world_from_rest(d, *find_part(d, "crate"));
        const Vec3 hook = (at.world("hook") * rest).translation;
        EXPECT_LT((at.world("crate").translation - 0.5 * (belt + hook)).norm(), 1e-12);
    }
    EXPECT_FALSE(
        make_registry().run(d, {{"op", "carry.set"}, {"carries", {"crate by hook"}}, {"blend", -0.1}}).ok());
}

TEST(Carry, ItsOwnJointAndConstraintsGoOnFromThere) {
    Document d = handed_over();
    d = run(d, {{"op", "joint.set"}, {"parts", {"crate"}}, {"kind", "hinge"}, {"axis", "z"}});
    d = run(d, {{"op", "carry.add"}, {"parts", {"crate"}}, {"carrier", "hook"}});
    d = run(d, {{"op", "constraint.add"}, {"parts", {"crate"}}, {"asks", "aim"}, {"to", {0, -9, 0}}});
    At at(d);
    for (const double frame : {0.0, 20.0, 60.0}) {
        const Frame crate = at(frame).world("crate");
        const Vec3 way = Vec3(0, -9, 0) - crate.translation;
        EXPECT_LT(angle(crate.axis(0), Vec3(way.x(), way.y(), 0)), 1e-12)
            << "it hangs on the hook and still looks there";
    }
}

TEST(Carry, WhatItCarriesCannotCarryIt) {
    Document d = handed_over();
    add_part(d, "lid", *find_part(d, "crate"), {});
    const auto below =
        make_registry().run(d, {{"op", "carry.add"}, {"parts", {"crate"}}, {"carrier", "lid"}});
    ASSERT_FALSE(below.ok());
    EXPECT_EQ(below.error().code, "carry.itself");
    d = run(d, {{"op", "carry.add"}, {"parts", {"crate"}}, {"carrier", "hook"}});
    const auto round =
        make_registry().run(d, {{"op", "carry.add"}, {"parts", {"crane"}}, {"carrier", "lid"}});
    ASSERT_FALSE(round.ok());
    EXPECT_EQ(round.error().code, "rig.loop");
    for (const char* name : {"crane", "hook", "crate"})
        EXPECT_NE(round.error().message.find(name), std::string::npos) << round.error().message;
}

TEST(Carry, ACarrierThatIsRemovedLetsGo) {
    Document d = handed_over();
    d = run(d, {{"op", "carry.change"}, {"parts", {"crate"}}, {"carrier", "hook"}, {"frame", 20}});
    d = run(d, {{"op", "part.remove"}, {"parts", {"hook"}}});
    EXPECT_TRUE(d.carries.empty());
    EXPECT_TRUE(d.clips.begin()->tracks.size() == 2) << "keys of its blend are gone with it";
    At at(d);
    EXPECT_LT((at(60).world("crate").translation - Vec3(2, 0, 1.3)).norm(), 1e-12);
}

}  // namespace
}  // namespace pivrak
