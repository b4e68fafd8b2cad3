// What becomes of couplings, rides, tows, paths and vehicles when their parts are removed, replaced, copied.
#include "core/model/rig_parts.h"

#include <gtest/gtest.h>

#include "core/model/edits/branch_copy.h"
#include "core/model/edits/edits.h"
#include "core/model/edits/tidy.h"
#include "tests/support/documents.h"

namespace pivrak {
namespace {

/// A train of two on a path that a boat carries, a wheel that rolls with the first, a cart towed by the
/// second.
struct Scene {
    Document d = empty_document();
    PartId boat, first, second, wheel, cart, steering;
    PathId path;

    Scene() {
        boat = test::add_part(d, "boat", {}, test::world_poses()[1]);
        first = test::add_part(d, "car left", boat);
        second = test::add_part(d, "car 2", boat);
        wheel = test::add_part(d, "wheel", first);
        steering = test::add_part(d, "steering", first);
        cart = test::add_part(d, "cart");
        Path line;
        line.id = path = d.new_id<PathId>();
        line.name = "line";
        line.carrier = boat;
        line.points = {{{0, 0, 0}}, {{5, 0, 0}}};
        d.paths.set(line);
        test::make_hinge(d, wheel, 1);
        test::make_hinge(d, steering);
        change(first, [&](Part& p) {
            p.ride = Ride{path};
            p.ride->side_m = 0.4;
        });
        change(second, [&](Part& p) {
            p.ride = Ride{path};
            p.ride->ahead = first;
        });
        change(cart, [&](Part& p) { p.tow = Tow{second, {-1, 0, 0}, 1}; });
        d.couplings.set({d.new_id<CouplingId>(), Roll{{wheel, ChannelKind::Turn}, first, 0.3}});
        d.couplings.set({d.new_id<CouplingId>(),
                         Steer{{steering, ChannelKind::Turn}, {wheel, ChannelKind::Turn}, 3, 2, 0.7, first}});
        d.vehicles.set(Vehicle{
            d.new_id<VehicleId>(), "van", first, {}, first, first, steering, boat, {{wheel, {}, {}}}});
        d.prints.set(Print{d.new_id<PrintId>(), "print", wheel, boat});
    }
    template <class Change>
    void change(PartId id, Change act) {
        Part part = *d.parts.find(id);
        act(part);
        d.parts.set(part);
    }
    const Part& part(PartId id) const { return *d.parts.find(id); }
};

TEST(RigParts, AllThatTheRigNamesAreKnown) {
    const Scene s;
    const auto named = parts_of_rig(s.d);
    for (const PartId id : {s.boat, s.first, s.second, s.wheel, s.steering, s.cart})
        EXPECT_TRUE(named.contains(id));
    EXPECT_EQ(named.size(), 6u);
}

TEST(RigParts, TidyingLeavesWhatTheRigNeeds) {
    Scene s;
    EXPECT_NE(test::nothing_done(s.d, {{"op", "tree.tidy"}, {"what", "empty"}}).find("nothing of that kind"),
              std::string::npos);
}

TEST(RigParts, WithoutThePartAheadTheNextOneGoesByItself) {
    Scene s;
    remove_branch(s.d, s.first);
    EXPECT_TRUE(s.part(s.second).ride.has_value());
    EXPECT_FALSE(s.part(s.second).ride->ahead);
    EXPECT_EQ(s.d.couplings.size(), 0u) << "their wheel is gone";
    EXPECT_EQ(s.d.vehicles.size(), 0u) << "a vehicle without its root is none";
    EXPECT_TRUE(s.part(s.cart).tow.has_value());
    remove_branch(s.d, s.second);
    EXPECT_FALSE(s.part(s.cart).tow.has_value()) << "nothing pulls it any more";
}

TEST(RigParts, AVehicleLosesAWheelAndStays) {
    Scene s;
    remove_branch(s.d, s.wheel);
    ASSERT_EQ(s.d.vehicles.size(), 1u);
    EXPECT_TRUE(s.d.vehicles.begin()->wheels.empty());
    EXPECT_TRUE(s.d.prints.empty()) << "its print goes with it";
    remove_branch(s.d, s.steering);
    EXPECT_FALSE(s.d.vehicles.begin()->steering);
}

TEST(RigParts, AFrameAboveTakesTheRideAndAllNames) {
    Scene s;
    const PartId above = put_frame_above(s.d, s.first, "frame", true);
    EXPECT_FALSE(s.part(s.first).ride.has_value());
    ASSERT_TRUE(s.part(above).ride.has_value());
    EXPECT_EQ(s.part(above).ride->path, s.path);
    EXPECT_EQ(s.part(s.second).ride->ahead, above);
    for (const Coupling& c : s.d.couplings)
        if (c.as<Roll>()) {
            EXPECT_EQ(c.as<Roll>()->rider, above);
        }
    EXPECT_EQ(s.d.vehicles.begin()->place, above);
}

TEST(RigParts, ABranchIsCopiedWithTheRigInsideIt) {
    Scene s;
    const BranchCopy copy = copy_branches(s.d, {s.boat}, {Frame{Quat(1, 0, 0, 0), Vec3(0, 9, 0)}, {}, false});
    EXPECT_EQ(copy.couplings, 2u);
    ASSERT_EQ(s.d.paths.size(), 2u) << "the path it carries comes along";
    const PartId first = copy.copy_of.at(s.first), second = copy.copy_of.at(s.second);
    const Path& own = *s.d.paths.find(s.part(first).ride->path);
    EXPECT_EQ(own.carrier, copy.copy_of.at(s.boat));
    EXPECT_NE(own.id, s.path);
    EXPECT_EQ(s.part(second).ride->ahead, first);
    ASSERT_EQ(s.d.vehicles.size(), 2u);
    EXPECT_TRUE(std::any_of(s.d.vehicles.begin(), s.d.vehicles.end(), [&](const Vehicle& v) {
        return v.place == first && v.wheels.front().wheel == copy.copy_of.at(s.wheel);
    }));
    // One part alone keeps its ride on the same path, and goes behind the same one.
    const BranchCopy alone = copy_branches(s.d, {s.second}, {});
    EXPECT_EQ(s.part(alone.tops.front()).ride->path, s.path);
    EXPECT_EQ(s.part(alone.tops.front()).ride->ahead, s.first);
}

TEST(RigParts, AWheelLeansOnWhenItIsCopiedAndWhenItsGroundIsGone) {
    Document d = empty_document();
    const PartId frame = test::add_part(d, "frame"), wheel = test::add_part(d, "wheel", frame),
                 ground = test::add_part(d, "ground");
    d.couplings.set({d.new_id<CouplingId>(), Lean{{frame, ChannelKind::ShiftZ}, wheel, ground}});
    d.prints.set(Print{d.new_id<PrintId>(), "print", wheel, ground});
    const BranchCopy copy = copy_branches(d, {frame}, {});
    ASSERT_EQ(d.couplings.size(), 2u);
    bool found = false;
    for (const Coupling& c : d.couplings)
        if (c.driven().part() == copy.copy_of.at(frame)) {
            found = true;
            EXPECT_EQ(c.as<Lean>()->wheel, copy.copy_of.at(wheel));
            EXPECT_EQ(c.as<Lean>()->ground, ground) << "which is no part of it";
        }
    EXPECT_TRUE(found);
    ASSERT_EQ(d.prints.size(), 2u);
    for (const Print& print : d.prints) EXPECT_EQ(print.ground, ground);
    remove_branch(d, ground);
    EXPECT_EQ(d.couplings.size(), 2u);
    for (const Coupling& c : d.couplings) EXPECT_FALSE(c.as<Lean>()->ground) << "on the floor";
    for (const Print& print : d.prints) EXPECT_FALSE(print.ground);
    remove_branch(d, wheel);
    EXPECT_EQ(d.couplings.size(), 1u);
    EXPECT_EQ(d.prints.size(), 1u);
}

TEST(RigParts, AMirrorMakesLeftRight) {
    Scene s;
    const BranchCopy copy = copy_branches(s.d, {s.first}, {{}, Plane{Vec3(0, 0, 0), Vec3(0, 1, 0)}, false});
    EXPECT_EQ(s.part(copy.tops.front()).ride->side_m, -0.4);
    const PartId wheel = copy.copy_of.at(s.wheel);
    bool found = false;
    for (const Coupling& c : s.d.couplings)
        if (c.as<Steer>() && c.driven().part() == wheel) {
            found = true;
            EXPECT_EQ(c.as<Steer>()->left_m, -0.7);
        }
    EXPECT_TRUE(found);
    EXPECT_EQ(s.part(copy.tops.front()).name, "car right");
}

}  // namespace
}  // namespace pivrak
