// Who carries whom, frames above parts, alignment, locks, rest and names, as operations.
#include <gtest/gtest.h>

#include "core/checks/findings.h"
#include "core/io/project/project_file.h"
#include "core/motion/evaluator.h"
#include "tests/support/documents.h"

namespace pivrak {
namespace {

using nlohmann::json;
using test::named;
using test::refusal;
using test::run;

/// A body that carries a door with a handle, the door hinged, keyed and geared to a pointer on its own.
Document family_car() {
    Document d = empty_document();
    const PartId body =
        test::add_shaped(d, "Body", test::box({-2, -1, 0}, {2, 1, 1}), {}, test::world_poses()[1]);
    const PartId door = test::add_shaped(d, "Door", test::box({0, 0, 0}, {1, 0.05, 1}), body,
                                         {turn_about_axis(2, 0.2), Vec3(0.3, 1, 0)});
    test::add_shaped(d, "Handle", test::box({0.8, 0, 0.4}, {0.9, 0.1, 0.5}), door, test::world_poses()[2]);
    const PartId pointer = test::add_shaped(d, "Pointer", test::box({0, 0, 0}, {0.1, 0.1, 0.1}), {});
    test::make_hinge(d, door, 2);
    test::make_hinge(d, pointer, 2);
    test::couple(d, door, pointer, 10, 20);
    test::key(d, door, {{0, 0, Interpolation::Linear}, {24, 1.2, Interpolation::Linear}});
    return d;
}

/// World frames of all parts that both documents have, at a frame of the first clip.
double largest_difference(const Document& a, const Document& b, double frame) {
    const auto first = Evaluator::compile(a), second = Evaluator::compile(b);
    EXPECT_TRUE(first.ok() && second.ok());
    Pose pose_a = first->make_pose(), pose_b = second->make_pose();
    first->evaluate(frame, pose_a);
    second->evaluate(frame, pose_b);
    double largest = 0;
    for (const Part& part : a.parts) {
        const auto in_b = second->part_slot(part.id);
        if (!in_b) continue;
        const Frame& fa = pose_a.world_from_part[*first->part_slot(part.id)];
        const Frame& fb = pose_b.world_from_part[*in_b];
        largest = std::max(
            {largest, (fa.translation - fb.translation).norm(), angle_between(fa.rotation, fb.rotation)});
    }
    return largest;
}

TEST(FrameAbove, TakesOverTheMotionAndThePartStaysWhereItWas) {
    const Document before = family_car();
    const Document after = run(before, {{"op", "tree.frame_above"}, {"parts", {"Door"}}});
    const PartId frame = named(after, "Door frame");
    EXPECT_TRUE(after.parts.find(frame)->is_datum());
    EXPECT_EQ(after.parts.find(named(after, "Door"))->parent, frame);
    EXPECT_EQ(after.parts.find(named(after, "Door"))->joint.kind, JointKind::Fixed);
    EXPECT_EQ(after.parts.find(frame)->joint.kind, JointKind::Hinge);
    EXPECT_EQ(after.couplings.begin()->as<GearPair>()->driver.part(), frame);
    EXPECT_NE(clip_or_first(after).track({frame, ChannelKind::Turn}), nullptr);
    for (const double at : {0.0, 7.5, 24.0}) EXPECT_LT(largest_difference(before, after, at), 1e-12);
}

TEST(FrameAbove, AlsoWithoutTheJointAndForManyAtOnce) {
    const Document before = family_car();
    const Document after = run(
        before, {{"op", "tree.frame_above"}, {"parts", {"Door", "Handle", "Body"}}, {"takes_joint", false}});
    EXPECT_EQ(after.parts.size(), before.parts.size() + 3);
    EXPECT_EQ(after.parts.find(named(after, "Door"))->joint.kind, JointKind::Hinge);
    for (const double at : {0.0, 24.0}) EXPECT_LT(largest_difference(before, after, at), 1e-12);
}

TEST(Align, PlaceAxesOrBothWithAllThatIsCarried) {
    const Document before = family_car();
    const Frame goal = world_from_rest(before, named(before, "Pointer"));
    const Document both =
        run(before, {{"op", "tree.align"}, {"parts", {"Door", "Handle"}}, {"to", "Pointer"}});
    const Frame door = world_from_rest(both, named(both, "Door"));
    EXPECT_LT((door.translation - goal.translation).norm(), 1e-12);
    EXPECT_LT(angle_between(door.rotation, goal.rotation), 1e-12);
    EXPECT_TRUE(both.parts.find(named(both, "Handle"))->parent_from_rest ==
                before.parts.find(named(before, "Handle"))->parent_from_rest)
        << "what a moved part carries goes with it and is not moved again";
    const Document place =
        run(before, {{"op", "tree.align"}, {"parts", {"Door"}}, {"to", "Pointer"}, {"what", "place"}});
    EXPECT_LT(angle_between(world_from_rest(place, named(place, "Door")).rotation,
                            world_from_rest(before, named(before, "Door")).rotation),
              1e-12);
    EXPECT_LT((world_from_rest(place, named(place, "Door")).translation - goal.translation).norm(), 1e-12);
    EXPECT_EQ(refusal(before, {{"op", "tree.align"}, {"parts", {"Door"}}, {"to", "Handle"}}).code,
              "align.carried");
    EXPECT_EQ(refusal(before, {{"op", "tree.align"}, {"parts", {"Door"}}, {"to", "Door"}}).code,
              "align.itself");
}

TEST(Datum, StandsWhereAskedUnderWhatCarriesIt) {
    const Document d = run(family_car(), {{"op", "datum.add"},
                                          {"name", "Eye"},
                                          {"like", "Door"},
                                          {"place", {{"part", "Handle"}, {"at", "middle"}}},
                                          {"under", "Body"}});
    const Part& eye = *d.parts.find(named(d, "Eye"));
    EXPECT_TRUE(eye.is_datum());
    EXPECT_EQ(eye.parent, named(d, "Body"));
    const Frame world = world_from_rest(d, eye.id);
    EXPECT_LT(angle_between(world.rotation, world_from_rest(d, named(d, "Door")).rotation), 1e-12);
    const Document two = run(run(d, {{"op", "datum.add"}}), {{"op", "datum.add"}});
    EXPECT_TRUE(find_part(two, "Datum 2").ok()) << "names are numbered";
}

TEST(Tree, LoopsAreRefusedByName) {
    const Error error =
        refusal(family_car(), {{"op", "tree.parent"}, {"parts", {"Body"}}, {"under", "Handle"}});
    EXPECT_EQ(error.code, "tree.loop");
    EXPECT_NE(error.message.find("Body/Door/Handle"), std::string::npos) << error.message;
}

TEST(Joints, ManyAtOnceKeepTheirKindsAndLock) {
    Document d = family_car();
    d = run(d, {{"op", "joint.set"}, {"parts", {"Handle"}}, {"kind", "slide"}, {"axis", "y"}});
    d = run(d, {{"op", "joint.set"}, {"parts", {"Door", "Handle"}}, {"min", -0.1}, {"max", 0.2}});
    EXPECT_EQ(d.parts.find(named(d, "Handle"))->joint.kind, JointKind::Slide);
    EXPECT_EQ(d.parts.find(named(d, "Handle"))->joint.shift.limits, (Limits{-0.1, 0.2}));
    EXPECT_EQ(d.parts.find(named(d, "Door"))->joint.turn.limits, (Limits{-0.1, 0.2}));

    const PartId door = named(d, "Door");
    d = run(d, {{"op", "joint.set"}, {"parts", {"Door"}}, {"locked", true}});
    EXPECT_EQ(refusal(d, {{"op", "channel.set"}, {"parts", {"Door"}}, {"value", 0.1}}).code,
              "channel.locked");
    EXPECT_EQ(refusal(d, {{"op", "key.set"}, {"parts", {"Door"}}, {"frame", 3}}).code, "channel.locked");
    const auto evaluator = Evaluator::compile(d);
    Pose pose = evaluator->make_pose();
    evaluator->evaluate(24, pose);
    EXPECT_EQ(pose.channels[*evaluator->channel_slot({door, ChannelKind::Turn})], 0)
        << "keys move it no more";
    EXPECT_TRUE(*project_from_bytes(*project_bytes(d), "p") == d) << "locks are saved";
    EXPECT_EQ(refusal(d, {{"op", "joint.set"}, {"parts", {"Body"}}, {"locked", true}}).code, "channel.none");
}

TEST(Joints, NoNumberIsRefused) {
    const Document d = family_car();
    for (const char* bad : {"nan", "inf", "1/0", "", "12 kg"})
        EXPECT_FALSE(
            make_registry().run(d, {{"op", "joint.set"}, {"parts", {"Door"}}, {"min", bad}, {"max", 1}}).ok())
            << bad;
    EXPECT_FALSE(make_registry()
                     .run(d, {{"op", "joint.set"}, {"parts", {"Door"}}, {"min", std::nan("")}, {"max", 1}})
                     .ok());
}

TEST(Rest, AllChannelsOrAsNearAsLimitsLet) {
    Document d = family_car();
    d = run(d, {{"op", "joint.set"}, {"parts", {"Body"}}, {"kind", "free"}});
    d = run(d, {{"op", "channel.set"}, {"parts", {"Body"}}, {"channel", "shift_y"}, {"value", 0.4}});
    d = run(d, {{"op", "joint.set"}, {"parts", {"Handle"}}, {"kind", "slide"}, {"min", 0.01}, {"max", 0.02}});
    d = run(d, {{"op", "channel.set"}, {"parts", {"Handle"}}, {"channel", "shift"}, {"value", 0.02}});
    const Document rest = run(d, {{"op", "channel.rest"}, {"frame", 24}});
    EXPECT_EQ(rest.parts.find(named(rest, "Body"))->joint.channel(ChannelKind::ShiftY).value, 0);
    EXPECT_EQ(rest.parts.find(named(rest, "Handle"))->joint.shift.value, 0.01);
    const Track* track = clip_or_first(rest).track({named(rest, "Door"), ChannelKind::Turn});
    EXPECT_EQ(track->key_at(24)->value, 0) << "what is keyed gets a key at rest";
    EXPECT_EQ(track->key_at(0)->value, 0);
    const Document still = run(rest, {{"op", "channel.rest"}, {"frame", 12}});
    EXPECT_EQ(test::nothing_done(still, {{"op", "channel.rest"}}), "everything is at rest already");
}

TEST(Names, ByPatternAreCountedAlongTheMachine) {
    Document d = empty_document();
    for (const auto& [x, y] : {std::pair(-2.0, 1.0), {2.0, -1.0}, {-2.0, -1.0}, {2.0, 1.0}, {0.0, 0.0}})
        test::add_shaped(d, fmt::format("mesh_{}", d.parts.size()),
                         test::box({-0.1, -0.1, 0}, {0.1, 0.1, 0.2}), {}, {Quat(1, 0, 0, 0), Vec3(x, y, 0)});
    const json all = {"mesh_0", "mesh_1", "mesh_2", "mesh_3", "mesh_4"};
    const Document sides = run(d, {{"op", "name.pattern"}, {"parts", all}, {"pattern", "<side> wheel"}});
    for (const char* name :
         {"rear left wheel", "front right wheel", "rear right wheel", "front left wheel", "wheel"})
        EXPECT_TRUE(find_part(sides, name).ok()) << name;
    const Document series = run(d, {{"op", "name.pattern"},
                                    {"parts", all},
                                    {"pattern", "wheel <number>"},
                                    {"order", "front_to_rear"},
                                    {"first", 8}});
    EXPECT_NEAR(world_from_rest(series, named(series, "wheel 08")).translation.x(), 2, 1e-9)
        << "counted from the front";
    EXPECT_NEAR(world_from_rest(series, named(series, "wheel 12")).translation.x(), -2, 1e-9);
    EXPECT_EQ(refusal(d, {{"op", "name.pattern"}, {"parts", all}, {"pattern", "<nam> 1"}}).code,
              "name.pattern");
    EXPECT_EQ(refusal(d, {{"op", "name.pattern"}, {"parts", all}, {"pattern", "wheel <numb"}}).code,
              "name.pattern");
    EXPECT_EQ(refusal(d, {{"op", "name.pattern"}, {"parts", all}, {"pattern", "<carrier>"}}).code,
              "name.empty");
    const Document put = run(d, {{"op", "name.replace"}, {"find", "mesh_"}, {"put", "Achse "}});
    EXPECT_TRUE(find_part(put, "Achse 3").ok());
    EXPECT_EQ(refusal(d, {{"op", "name.replace"}, {"find", "zz"}, {"put", "y"}}).code, "name.not_found");
}

TEST(Names, TakenOnesAreNumberedNotDoubled) {
    Document d = empty_document();
    for (const char* name : {"a", "b", "c"}) test::add_part(d, name);
    const Document out = run(d, {{"op", "name.pattern"}, {"parts", {"a", "b"}}, {"pattern", "c"}});
    EXPECT_TRUE(find_part(out, "c 2").ok() && find_part(out, "c 3").ok());
    const Document swapped = run(d, {{"op", "name.replace"}, {"find", "a"}, {"put", "b"}, {"parts", {"a"}}});
    EXPECT_TRUE(find_part(swapped, "b 2").ok());
}

TEST(Convention, IsCheckedAsAFindingWithOneMendForAll) {
    Document d = empty_document();
    for (const char* name : {"Front left wheel", "Rear axle", "cab_door"}) test::add_part(d, name);
    const auto off = [](const Document& document) {
        const auto findings = check_document(document);
        return std::find_if(findings.begin(), findings.end(),
                            [](const Finding& f) { return f.code == "name.convention"; }) != findings.end();
    };
    EXPECT_FALSE(off(d));
    d = run(
        d,
        {{"op", "project.naming"}, {"letters", "lower"}, {"separator", "underscore"}, {"sides", "letters"}});
    EXPECT_TRUE(off(d));
    EXPECT_TRUE(*project_from_bytes(*project_bytes(d), "p") == d) << "the convention is saved";
    const Document kept = run(d, {{"op", "name.conform"}});
    EXPECT_TRUE(find_part(kept, "FL_wheel").ok());
    EXPECT_TRUE(find_part(kept, "rear_axle").ok());
    EXPECT_FALSE(off(kept));
    EXPECT_NE(test::nothing_done(kept, {{"op", "name.conform"}}), "");
    EXPECT_EQ(refusal(family_car(), {{"op", "name.conform"}}).code, "name.no_convention");
}

TEST(Carriers, PartsLeftBehindInsideAMachineAreFound) {
    Document d = family_car();
    test::add_shaped(d, "Seat", test::box({-0.2, -0.2, 0.2}, {0.2, 0.2, 0.6}), {}, test::world_poses()[1]);
    const auto find = [](const Document& document) {
        std::optional<Finding> found;
        for (const Finding& f : check_document(document))
            if (f.code == "part.no_carrier") found = f;
        return found;
    };
    const auto finding = find(d);
    ASSERT_TRUE(finding.has_value());
    EXPECT_EQ(finding->part, named(d, "Seat"));
    const Document mended = run(d, finding->fix);
    EXPECT_EQ(mended.parts.find(named(mended, "Seat"))->parent, named(mended, "Body"));
    EXPECT_FALSE(find(mended).has_value());
}

}  // namespace
}  // namespace pivrak
