#include <gtest/gtest.h>

#include "core/io/delivery/deliver.h"
#include "core/io/import/import_model.h"
#include "core/model/edits/stand.h"
#include "core/model/edits/tidy.h"
#include "core/motion/evaluator.h"
#include "tests/support/documents.h"
#include "tests/support/temp_folder.h"

namespace pivrak {
namespace {

using nlohmann::json;
using test::refusal;
using test::run;
using test::TempFolder;

Document stood_hall() {
    Document d = empty_document();
    const PartId top = test::add_part(d, "hall", {}, {Quat(1, 0, 0, 0), Vec3(1, 2, 0.5)});
    test::add_shaped(d, "beam", with_normals(test::box({0, 0, 0}, {4, 1, 2})), top,
                     {turn_about_axis(2, 0.2), Vec3(0, 0, 1)});
    test::add_shaped(d, "foot", with_normals(test::box({-0.5, -0.5, 0}, {0.5, 0.5, 1})), top);
    return d;
}

Vec3 size_of(const Document& d) {
    return document_bounds(d).size();
}

TEST(Stand, TurnsBringAnyDirectionUpAndAnyOtherToTheFront) {
    for (int up = 0; up < 6; ++up)
        for (int front = 0; front < 6; ++front) {
            const auto turn = upright_turn(up, front);
            ASSERT_EQ(turn.has_value(), up / 2 != front / 2);
            if (!turn) continue;
            const auto unit = [](int d) { return Vec3((d % 2 ? -1.0 : 1.0) * Vec3::Unit(d / 2)); };
            EXPECT_LT((*turn * unit(up) - Vec3::UnitZ()).norm(), 1e-12);
            EXPECT_LT((*turn * unit(front) - Vec3::UnitX()).norm(), 1e-12);
            EXPECT_EQ(direction_from(direction_word(up)), up);
        }
}

TEST(Stand, SidesSwapAndNothingElseChanges) {
    const Document d = stood_hall();
    const Document up = run(d, {{"op", "model.stand"}, {"up", "+x"}, {"front", "-y"}});
    const Vec3 before = size_of(d), after = size_of(up);
    EXPECT_NEAR(after.z(), before.x(), 1e-6);
    EXPECT_NEAR(after.x(), before.y(), 1e-6);
    EXPECT_NEAR(after.y(), before.z(), 1e-6);
    // Parts that nothing moves keep their own axes as they stood against the world.
    const PartId foot = test::named(d, "foot");
    EXPECT_LT(angle_between(world_from_rest(up, foot).rotation, world_from_rest(d, foot).rotation), 1e-9);
    // Distances between vertices are kept.
    const auto a = test::vertex_places(d), b = test::vertex_places(up);
    for (std::size_t i = 1; i < a.size(); ++i) EXPECT_NEAR((a[i] - a[0]).norm(), (b[i] - b[0]).norm(), 1e-6);
}

TEST(Stand, WhereJointsExistAxesTurnAlong) {
    Document d = stood_hall();
    test::make_hinge(d, test::named(d, "beam"), 2, 0.3);
    const Document up = run(d, {{"op", "model.stand"}, {"up", "+y"}, {"front", "+x"}});
    const auto before = Evaluator::compile(d), after = Evaluator::compile(up);
    Pose p = before->make_pose(), q = after->make_pose();
    before->evaluate(0, p);
    after->evaluate(0, q);
    const Frame motion{*upright_turn(2, 0), Vec3(0, 0, 0)};
    for (std::size_t i = 0; i < p.world_from_part.size(); ++i) {
        const Frame wanted = motion * p.world_from_part[i];
        EXPECT_LT((q.world_from_part[i].translation - wanted.translation).norm(), 1e-9);
        EXPECT_LT(angle_between(q.world_from_part[i].rotation, wanted.rotation), 1e-9);
    }
}

TEST(Stand, TrueSizeBySideByTwoPointsAndByFactor) {
    const Document d = stood_hall();
    const double length = size_of(d).x();
    EXPECT_NEAR(size_of(run(d, {{"op", "model.stand"}, {"side", "x"}, {"length", "8.40 m"}})).x(), 8.4, 1e-5);
    EXPECT_NEAR(size_of(run(d, {{"op", "model.stand"}, {"scale", 0.01}})).x(), 0.01 * length, 1e-6);
    const Document measured = run(
        d,
        {{"op", "model.stand"}, {"measure_from", {0, 0, 0}}, {"measure_to", {0, 3, 0}}, {"length", "6 m"}});
    EXPECT_NEAR(size_of(measured).x(), 2 * length, 1e-5);
    EXPECT_NEAR(measured.parts.find(test::named(d, "foot"))->origin.scale, 2, 1e-12);
}

TEST(Stand, ScaleGoesIntoShapesShiftsAndKeysAndLeavesOthersAlone) {
    Document d = stood_hall();
    Part foot = *d.parts.find(test::named(d, "foot"));
    foot.joint.kind = JointKind::Slide;
    foot.joint.shift = {0.25, Limits{-1, 2}};
    d.parts.set(foot);
    const PartId other = test::add_part(d, "other");
    Part shared = *d.parts.find(other);
    shared.shape = foot.shape;
    d.parts.set(shared);
    const Document big = run(d, {{"op", "model.stand"}, {"parts", {"hall"}}, {"scale", 4}});
    const Part& after = *big.parts.find(foot.id);
    EXPECT_NEAR(after.joint.shift.value, 1, 1e-12);
    EXPECT_EQ(after.joint.shift.limits, (Limits{-4, 8}));
    EXPECT_NE(after.shape, big.parts.find(other)->shape);
    EXPECT_NEAR(big.shapes.find(big.parts.find(other)->shape)->bounds.size().z(), 1, 1e-6);
}

TEST(Stand, OnTheGroundAndCentred) {
    const Document down = run(stood_hall(), {{"op", "model.stand"}, {"ground", true}, {"centre", true}});
    const Bounds bounds = document_bounds(down);
    EXPECT_NEAR(bounds.min.z(), 0, 1e-9);
    EXPECT_NEAR(bounds.middle().x(), 0, 1e-9);
    EXPECT_NEAR(bounds.middle().y(), 0, 1e-9);
    const Document beam = run(stood_hall(), {{"op", "model.stand"}, {"touching", {"beam"}}});
    EXPECT_NEAR(document_bounds(beam).min.z(), -1, 1e-9) << "the beam touches, the foot stands a metre lower";
}

TEST(Stand, Refusals) {
    const Document d = stood_hall();
    EXPECT_EQ(refusal(d, {{"op", "model.stand"}, {"up", "+x"}, {"front", "-x"}}).code, "stand.direction");
    EXPECT_EQ(refusal(d, {{"op", "model.stand"}, {"side", "x"}}).code, "stand.length");
    EXPECT_EQ(refusal(d, {{"op", "model.stand"}, {"side", "x"}, {"length", 0}}).code, "stand.length");
    EXPECT_EQ(refusal(d, {{"op", "model.stand"}, {"scale", -1}}).code, "stand.scale");
    EXPECT_EQ(refusal(d, {{"op", "model.stand"}, {"measure_from", {0, 0, 0}}, {"length", 1}}).code,
              "stand.points");
    EXPECT_EQ(
        refusal(
            d, {{"op", "model.stand"}, {"measure_from", {1, 1, 1}}, {"measure_to", {1, 1, 1}}, {"length", 1}})
            .code,
        "stand.no_length");
    EXPECT_EQ(refusal(empty_document(), {{"op", "model.stand"}}).code, "stand.nothing");
}

/// The middle of its lowest side comes to the place, whatever else is there already.
TEST(Land, ModelsAndStandInsAreSetDownOnAPlace) {
    TempFolder folder;
    const auto bytes = delivery_bytes(stood_hall(), {}, {})->bytes;
    folder.write("hall.glb", std::string(bytes.begin(), bytes.end()));
    const std::string file = (folder / "hall.glb").string();
    const Document first = run(empty_document(), {{"op", "model.import"}, {"file", file}});
    const Document second = run(first, {{"op", "model.import"}, {"file", file}, {"at", {30, -4, 2}}});
    Bounds own;
    for (const Part& part : second.parts)
        if (!first.parts.contains(part.id) && part.shape)
            own.add(mesh_bounds(*second.shapes.find(part.shape)->mesh,
                                world_from_rest(second, part.id) * part.part_from_shape));
    EXPECT_LT((Vec3(own.middle().x(), own.middle().y(), own.min.z()) - Vec3(30, -4, 2)).norm(), 1e-5);
    EXPECT_LT((own.size() - size_of(first)).norm(), 1e-5);
    for (const Part& part : first.parts)
        EXPECT_EQ(*second.parts.find(part.id), part) << "what was there stays where it is";
    // A wheel's pivot stands a radius above what it is set down on.
    const Document wheel = run(first, {{"op", "stand_in.add"},
                                       {"kind", "wheel"},
                                       {"name", "spare"},
                                       {"diameter", 0.8},
                                       {"axis", "y"},
                                       {"on", {5, 6, 7}}});
    EXPECT_LT((world_from_rest(wheel, test::named(wheel, "spare")).translation - Vec3(5, 6, 7.4)).norm(),
              1e-3);
}

TEST(GuessUnit, SaysWhatWasReadAsWhat) {
    EXPECT_FALSE(guess_unit(6.4, LengthUnit::Metre).has_value());
    EXPECT_EQ(guess_unit(390, LengthUnit::Metre)->reason,
              "longest side 390.000 m: centimetres read as metres?");
    EXPECT_EQ(guess_unit(390, LengthUnit::Metre)->factor, 0.01);
    EXPECT_EQ(guess_unit(6400, LengthUnit::Metre)->factor, 0.001);
    EXPECT_EQ(guess_unit(0.0064, LengthUnit::Metre)->factor, 1000);
}

Document untidy() {
    Document d = empty_document();
    const PartId a = test::add_part(d, "a", {}, test::world_poses()[1]);
    const PartId b = test::add_part(d, "b", a, test::world_poses()[2]);
    test::add_shaped(d, "box", test::box({0, 0, 0}, {1, 1, 1}), b, test::world_poses()[3]);
    const PartId g = test::add_part(d, "group");
    test::add_shaped(d, "box", test::box({0, 0, 0}, {1, 2, 1}), g);
    test::add_shaped(d, "other", test::box({0, 0, 0}, {1, 3, 1}), g);
    test::add_part(d, "nothing", test::add_part(d, "empty", g));
    Part stretched = *d.parts.find(test::named(d, "other"));
    stretched.origin.stretch = Vec3(1, 2, 1);
    stretched.origin.mirrored = true;
    d.parts.set(stretched);
    return d;
}

TEST(Tidy, ListsAndMendsWithoutMovingAVertex) {
    const Document d = untidy();
    const auto count = [](const Document& document, TreeFaultKind kind) {
        const auto faults = tree_faults(document);
        return std::count_if(faults.begin(), faults.end(),
                             [&](const TreeFault& f) { return f.kind == kind; });
    };
    EXPECT_EQ(count(d, TreeFaultKind::EmptyNode), 2);
    EXPECT_EQ(count(d, TreeFaultKind::SingleChain), 2);
    EXPECT_EQ(count(d, TreeFaultKind::DuplicateName), 1);
    EXPECT_EQ(count(d, TreeFaultKind::BakedScale), 1);
    const Document tidy = run(d, {{"op", "tree.tidy"}});
    EXPECT_TRUE(tree_faults(tidy).empty());
    EXPECT_EQ(tidy.parts.size(), 4u);
    EXPECT_LT(test::largest_move(test::vertex_places(d), test::vertex_places(tidy)), 1e-6);
    EXPECT_TRUE(find_part(tidy, "box 2").ok());
    EXPECT_EQ(test::nothing_done(tidy, {{"op", "tree.tidy"}}), "there is nothing of that kind to tidy");
}

TEST(Tidy, WhatIsReferredToStays) {
    Document d = untidy();
    test::make_hinge(d, test::named(d, "a"));
    test::make_hinge(d, test::named(d, "nothing"));
    const Document tidy = run(d, {{"op", "tree.tidy"}});
    EXPECT_TRUE(find_part(tidy, "a").ok());
    EXPECT_TRUE(find_part(tidy, "nothing").ok());
}

/// A camera has no shape and carries none, and is no leftover.
TEST(Tidy, CamerasAndControlsStay) {
    Document d =
        run(untidy(), {{"op", "camera.add"}, {"name", "Side"}, {"at", {5, 0, 1}}, {"to", {0, 0, 1}}});
    d = run(d, {{"op", "control.add"}, {"parts", {"group/box"}}});
    const std::size_t controls = static_cast<std::size_t>(
        std::ranges::count_if(d.parts, [](const Part& part) { return part.is_control(); }));
    EXPECT_GE(controls, 1u);
    const Document tidy = run(d, {{"op", "tree.tidy"}});
    EXPECT_TRUE(find_part(tidy, "Side").ok());
    EXPECT_EQ(static_cast<std::size_t>(
                  std::ranges::count_if(tidy.parts, [](const Part& part) { return part.is_control(); })),
              controls);
}

TEST(Tidy, FlattenGroupAndJoinKeepEverythingInPlace) {
    const Document d = untidy();
    const auto places = test::vertex_places(d);
    const Document flat = run(d, {{"op", "tree.flatten"}, {"parts", {"a"}}});
    EXPECT_LT(test::largest_move(places, test::vertex_places(flat)), 1e-6);
    EXPECT_EQ(flat.parts.find(test::named(flat, "a/box"))->parent, test::named(flat, "a"));
    const Document grouped =
        run(d, {{"op", "tree.group"}, {"parts", {"other", "group/box"}}, {"name", "Pair"}});
    EXPECT_LT(test::largest_move(places, test::vertex_places(grouped)), 1e-6);
    EXPECT_EQ(grouped.parts.find(test::named(grouped, "Pair"))->parent, test::named(grouped, "group"));
    const Document joined = run(d, {{"op", "part.join"}, {"parts", {"group/box", "a/b/box", "other"}}});
    EXPECT_EQ(triangle_count(joined), triangle_count(d));
    const Bounds before = document_bounds(d), after = document_bounds(joined);
    EXPECT_LT((before.min - after.min).norm() + (before.max - after.max).norm(), 1e-5);
    EXPECT_EQ(refusal(d, {{"op", "part.join"}, {"parts", {"other"}}}).code, "join.one");
    EXPECT_EQ(refusal(d, {{"op", "part.join"}, {"parts", {"group", "other"}}}).code, "join.carried");
}

TEST(Repair, MendsSharedShapesOnceAndSaysWhatWasDone) {
    Document d = empty_document();
    Mesh bad = test::box({0, 0, 0}, {1, 1, 1});
    std::swap(bad.indices[1], bad.indices[2]);
    bad.indices.insert(bad.indices.end(), {0, 0, 0});
    bad.submeshes[0].index_count += 3;
    test::add_shaped(d, "bad", bad);
    Mesh nothing;
    nothing.positions = {{0, 0, 0}, {1, 0, 0}, {2, 0, 0}};
    nothing.indices = {0, 1, 2};
    nothing.submeshes = {{MaterialId{}, 0, 3, {}}};
    test::add_shaped(d, "line", nothing);
    const Document good = run(d, {{"op", "shape.repair"}});
    EXPECT_EQ(good.shapes.find(good.parts.find(test::named(good, "bad"))->shape)->mesh->triangle_count(),
              12u);
    EXPECT_TRUE(good.parts.find(test::named(good, "line"))->is_datum())
        << "a part that becomes empty is a datum";
    EXPECT_EQ(test::nothing_done(good, {{"op", "shape.repair"}}), "these surfaces need no mending");
}

TEST(Swap, KeepsPivotJointAndRigByBoundsAxisAndAsIs) {
    Document d = empty_document();
    const PartId stand_in = test::add_shaped(d, "stand-in", test::to_mesh(shaft(100, -40, 40, 0, 32)), {},
                                             {turn_about_axis(0, 0.4), Vec3(1, 2, 3)});
    test::make_hinge(d, stand_in, 2, 0.5);
    Mesh finished = test::to_mesh(gear({31, 6, 70, 20}));
    finished = transformed(finished, Frame{turn_about_axis(1, 0.7), Vec3(0.2, 0, 0.1)});
    test::add_shaped(d, "finished", finished, {}, {Quat(1, 0, 0, 0), Vec3(-5, 0, 0)});
    for (const char* match : {"bounds", "axis", "as is"}) {
        SCOPED_TRACE(match);
        const Document after =
            run(d, {{"op", "shape.swap"}, {"parts", {"stand-in"}}, {"from", "finished"}, {"match", match}});
        const Part& part = *after.parts.find(stand_in);
        EXPECT_TRUE(part.joint == d.parts.find(stand_in)->joint);
        EXPECT_TRUE(part.parent_from_rest == d.parts.find(stand_in)->parent_from_rest);
        EXPECT_FALSE(find_part(after, "finished").ok());
        const Bounds own = mesh_bounds(*after.shapes.find(part.shape)->mesh, part.part_from_shape);
        if (std::string(match) != "as is") {
            // 31 teeth have no tooth opposite a tooth: the bounds are a little off the axis.
            EXPECT_LT(own.middle().norm(), std::string(match) == "axis" ? 5e-4 : 1e-6)
                << "centred on the old one";
        }
        if (std::string(match) == "axis") {
            EXPECT_NEAR(own.size().z(), 0.07, 1e-4) << "its width lies along the old axis";
        }
    }
    EXPECT_EQ(refusal(d, {{"op", "shape.swap"}, {"parts", {"finished"}}, {"from", "finished"}}).code,
              "swap.itself");
}

}  // namespace
}  // namespace pivrak
