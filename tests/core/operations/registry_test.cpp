#include "core/operations/registry.h"

#include <gtest/gtest.h>

#include <cmath>
#include <set>

#include "core/operations/history.h"
#include "tests/support/documents.h"

namespace pivrak {
namespace {

using nlohmann::json;
using test::refusal;
using test::run;

Document two_parts() {
    Document d = empty_document();
    test::add_shaped(d, "a", with_normals(test::box({0, 0, 0}, {1, 1, 1})));
    test::add_shaped(d, "b", with_normals(test::box({2, 0, 0}, {3, 1, 1})));
    return d;
}

TEST(Registry, EveryOperationExplainsItself) {
    const Registry registry = make_registry();
    std::set<std::string> names;
    for (const Operation& operation : registry.all()) {
        SCOPED_TRACE(operation.name);
        EXPECT_TRUE(names.insert(operation.name).second) << "named twice";
        EXPECT_NE(operation.name.find('.'), std::string::npos);
        EXPECT_GT(operation.title.size(), 3u);
        EXPECT_EQ(operation.summary.back(), '.');
        for (const ArgumentSpec& spec : operation.arguments) {
            EXPECT_FALSE(spec.summary.empty()) << spec.name;
            EXPECT_EQ(spec.kind == ArgumentKind::Choice, !spec.choices.empty()) << spec.name;
            EXPECT_FALSE(spec.required && !spec.fallback.is_null()) << spec.name;
        }
    }
    const json schema = registry.schema();
    EXPECT_EQ(schema.size(), registry.all().size());
    for (const json& entry : schema) EXPECT_TRUE(entry.contains("arguments"));
}

TEST(Registry, RefusesWhatItCannotRead) {
    const Document d = two_parts();
    struct Case {
        json step;
        const char* code;
    };
    for (const Case& c :
         {Case{json::array(), "operation.unknown"}, Case{{{"op", 3}}, "operation.unknown"},
          Case{{{"op", "part.fly"}}, "operation.unknown"},
          Case{{{"op", "part.rename"}, {"part", "a"}}, "argument.missing"},
          Case{{{"op", "part.rename"}, {"part", "a"}, {"name", "x"}, {"colour", "red"}}, "argument.unknown"},
          Case{{{"op", "part.rename"}, {"part", "a"}, {"name", 5}}, "argument.type"},
          Case{{{"op", "part.rename"}, {"part", 99}, {"name", "x"}}, "part.unknown"},
          Case{{{"op", "part.rename"}, {"part", true}, {"name", "x"}}, "argument.type"},
          Case{{{"op", "part.remove"}, {"parts", json::array()}}, "argument.missing"},
          Case{{{"op", "part.show"}, {"parts", "a"}, {"shown", "yes"}}, "argument.type"},
          Case{{{"op", "joint.set"}, {"parts", "a"}, {"kind", "screw"}}, "argument.type"},
          Case{{{"op", "split.pieces"}, {"parts", "a"}, {"weld", "3 deg"}}, "quantity.syntax"},
          Case{{{"op", "split.pieces"}, {"parts", "a"}, {"weld", {1}}}, "argument.type"},
          Case{{{"op", "key.set"}, {"parts", "a"}, {"frame", nullptr}}, "argument.missing"}}) {
        SCOPED_TRACE(c.step.dump());
        const Document before = d;
        EXPECT_EQ(refusal(d, c.step).code, c.code);
        EXPECT_TRUE(d == before);
    }
}

TEST(Registry, PartsCanBeGivenByIdNameOrPathAndOnceIsEnough) {
    const Document d = two_parts();
    const std::uint64_t a = test::named(d, "a").value;
    const Document by_id = run(d, {{"op", "part.show"}, {"parts", {a, "a", a}}, {"shown", false}});
    EXPECT_FALSE(by_id.parts.find(PartId{a})->shown);
    EXPECT_TRUE(by_id == run(d, {{"op", "part.show"}, {"parts", "a"}, {"shown", false}}));
}

TEST(PartOperations, RenameRefusesEmptyNamesAndSlashes) {
    const Document d = two_parts();
    EXPECT_EQ(refusal(d, {{"op", "part.rename"}, {"part", "a"}, {"name", "  "}}).code, "name.empty");
    EXPECT_EQ(refusal(d, {{"op", "part.rename"}, {"part", "a"}, {"name", "a/b"}}).code, "name.slash");
    EXPECT_TRUE(
        find_part(run(d, {{"op", "part.rename"}, {"part", "a"}, {"name", "Welle ∅40"}}), "Welle ∅40").ok());
}

TEST(SplitOperations, PiecesHangUnderTheirSourceAndStay) {
    Document d = empty_document();
    Mesh lump = with_normals(
        test::joined(test::box({0, 0, 0}, {1, 1, 1}),
                     test::joined(test::box({2, 0, 0}, {3, 1, 1}), test::box({5, 5, 5}, {6, 7, 8}))));
    const PartId source = test::add_shaped(d, "lump", lump, {}, test::world_poses()[1]);
    const auto outcome = make_registry().run(d, {{"op", "split.pieces"}, {"parts", "lump"}});
    ASSERT_TRUE(outcome.ok());
    ASSERT_EQ(outcome->created.size(), 3u);
    const Document& after = outcome->document;
    EXPECT_TRUE(after.parts.find(source)->is_datum());
    EXPECT_EQ(after.shapes.size(), 3u) << "the lump's own shape is gone";
    Bounds before = document_bounds(d), now = document_bounds(after);
    EXPECT_LT((before.min - now.min).norm() + (before.max - now.max).norm(), 1e-9);
    for (std::size_t i = 0; i < 3; ++i) {
        const Part& piece = *after.parts.find(outcome->created[i]);
        EXPECT_EQ(piece.name, "lump " + std::to_string(i + 1));
        EXPECT_EQ(piece.parent, source);
        const Bounds own = mesh_bounds(*after.shapes.find(piece.shape)->mesh, piece.part_from_shape);
        EXPECT_LT(own.middle().norm(), 1e-6) << "the pivot is in the middle";
    }
}

TEST(SplitOperations, SayWhatCannotBeBroken) {
    Document d = two_parts();
    test::add_part(d, "datum");
    EXPECT_EQ(test::nothing_done(d, {{"op", "split.pieces"}, {"parts", {"a", "datum"}}}),
              "nothing to break apart: 'a' is one piece, 'datum' has no shape");
    EXPECT_EQ(test::nothing_done(d, {{"op", "split.material"}, {"parts", "a"}}),
              "nothing to break apart: 'a' has one material");
    EXPECT_EQ(refusal(d, {{"op", "split.pieces"}, {"parts", "a"}, {"weld", -1}}).code, "split.weld");
}

TEST(SplitOperations, ByMaterialNamesThemAfterIt) {
    Document d = empty_document();
    Material steel, paint;
    steel.id = d.new_id<MaterialId>();
    steel.name = "steel";
    paint.id = d.new_id<MaterialId>();
    paint.name = "paint";
    d.materials.set(steel);
    d.materials.set(paint);
    Mesh mesh = test::box({0, 0, 0}, {1, 1, 1});
    mesh.submeshes = {{steel.id, 0, 18}, {paint.id, 18, 18}};
    test::add_shaped(d, "lid", mesh);
    const Document after = run(d, {{"op", "split.material"}, {"parts", "lid"}});
    EXPECT_TRUE(find_part(after, "lid steel").ok());
    EXPECT_TRUE(find_part(after, "lid paint").ok());
}

TEST(SplitOperations, PartsThatShareAShapeShareItsPieces) {
    Document d = empty_document();
    const PartId first = test::add_shaped(
        d, "left",
        with_normals(test::joined(test::box({0, 0, 0}, {1, 1, 1}), test::box({2, 0, 0}, {3, 1, 1}))));
    Part second = *d.parts.find(first);
    second.id = d.new_id<PartId>();
    second.name = "right";
    d.parts.set(second);
    const Document after = run(d, {{"op", "split.pieces"}, {"parts", {"left", "right"}}});
    EXPECT_EQ(after.parts.size(), 6u);
    EXPECT_EQ(after.shapes.size(), 2u);
}

TEST(JointOperations, LimitsAreTakenChangedAndFreed) {
    Document d = run(two_parts(), {{"op", "joint.set"},
                                   {"parts", {"a", "b"}},
                                   {"kind", "hinge"},
                                   {"axis", "z"},
                                   {"min", "-30 deg"},
                                   {"max", "1/4 turn"}});
    const auto joint = [&] { return d.parts.find(test::named(d, "b"))->joint; };
    EXPECT_NEAR(joint().turn.limits->max, pi / 2, 1e-12);
    d = run(d, {{"op", "joint.set"}, {"parts", "b"}, {"kind", "hinge"}, {"max", 0.25}});
    EXPECT_NEAR(joint().turn.limits->min, -pi / 6, 1e-12);
    EXPECT_EQ(joint().turn.limits->max, 0.25);
    EXPECT_EQ(joint().axis, 2) << "left out means as it is";
    EXPECT_EQ(refusal(d, {{"op", "joint.set"}, {"parts", "b"}, {"kind", "hinge"}, {"min", 1}}).code,
              "limits.inverted");
    d = run(d, {{"op", "joint.set"}, {"parts", "b"}, {"kind", "hinge"}, {"unlimited", true}});
    EXPECT_FALSE(joint().turn.limits.has_value());
    // One end alone leaves the other open, until that is given, or taken away again.
    d = run(d, {{"op", "joint.set"}, {"parts", "b"}, {"kind", "hinge"}, {"min", 1}});
    EXPECT_EQ(joint().turn.limits->min, 1);
    EXPECT_FALSE(std::isfinite(joint().turn.limits->max));
    EXPECT_EQ(joint().turn.value, 1) << "what stood beyond is stopped";
    d = run(d, {{"op", "joint.set"}, {"parts", "b"}, {"max", 2}});
    EXPECT_EQ(joint().turn.limits, (Limits{1, 2}));
    d = run(d, {{"op", "joint.set"}, {"parts", "b"}, {"min", "none"}});
    EXPECT_EQ(joint().turn.limits->max, 2);
    EXPECT_FALSE(std::isfinite(joint().turn.limits->min));
    d = run(d, {{"op", "joint.set"}, {"parts", "b"}, {"max", "none"}});
    EXPECT_FALSE(joint().turn.limits.has_value()) << "two open ends are no limits";
    EXPECT_EQ(
        refusal(d, {{"op", "joint.set"}, {"parts", "b"}, {"kind", "hinge"}, {"min", "1/0"}, {"max", 1}}).code,
        "quantity.not_finite");
}

TEST(JointOperations, ALimitStopsTheHandAndSaysSo) {
    const Document d =
        run(two_parts(), {{"op", "joint.set"}, {"parts", "a"}, {"kind", "hinge"}, {"min", 0}, {"max", 1}});
    const auto outcome = make_registry().run(d, {{"op", "channel.set"}, {"parts", "a"}, {"value", 5}});
    ASSERT_TRUE(outcome.ok());
    EXPECT_EQ(outcome->document.parts.find(test::named(d, "a"))->joint.turn.value, 1);
    EXPECT_EQ(outcome->messages.front(), "'a' stops at its limit 57.30°");
    EXPECT_EQ(refusal(d, {{"op", "channel.set"}, {"parts", "b"}, {"value", 1}}).code, "channel.fixed");
}

Document two_gears() {
    Document d = empty_document();
    test::add_shaped(d, "small", test::to_mesh(pivrak::gear({17, 8, 20, 20})));
    test::add_shaped(d, "large", test::to_mesh(pivrak::gear({51, 8, 20, 20})), {},
                     {Quat(1, 0, 0, 0), Vec3(0.272, 0, 0)});
    return run(d, {{"op", "joint.set"}, {"parts", {"small", "large"}}, {"kind", "hinge"}, {"axis", "z"}});
}

TEST(CouplingOperations, RefuseWhatMakesNoSenseByName) {
    const Document d = two_gears();
    const json pair{{"op", "coupling.gear"}, {"driver", "small"}, {"driven", "large"}};
    const Document coupled = run(d, pair);
    EXPECT_EQ(refusal(coupled, pair).message, "'small' and 'large' are a pair already; remove that first");
    EXPECT_EQ(refusal(d, {{"op", "coupling.gear"}, {"driver", "small"}, {"driven", "small"}}).code,
              "gear.itself");
    EXPECT_EQ(
        refusal(d, {{"op", "coupling.gear"}, {"driver", "small"}, {"driven", "large"}, {"driver_teeth", 0}})
            .code,
        "gear.teeth");
    EXPECT_EQ(refusal(coupled, {{"op", "coupling.gear"}, {"driver", "large"}, {"driven", "small"}}).code,
              "gear.driven_twice");
    EXPECT_EQ(refusal(coupled, {{"op", "channel.set"}, {"parts", "large"}, {"value", 1}}).message,
              "'large' is driven by 'small'; move that one");
    EXPECT_EQ(refusal(coupled, {{"op", "key.set"}, {"parts", "large"}, {"frame", 0}}).code, "channel.driven");
    EXPECT_EQ(refusal(coupled, {{"op", "joint.set"}, {"parts", "small"}, {"kind", "fixed"}}).code,
              "joint.coupled");
    EXPECT_EQ(refusal(d, {{"op", "coupling.remove"}, {"driven", "large"}}).code, "gear.none");
    EXPECT_TRUE(run(coupled, {{"op", "coupling.remove"}, {"driven", "large"}}).couplings.empty());
    const Document fixed = run(d, {{"op", "joint.set"}, {"parts", "large"}, {"kind", "fixed"}});
    EXPECT_EQ(refusal(fixed, pair).code, "gear.not_hinge");
}

TEST(KeyOperations, SetReplaceAndRemove) {
    Document d = run(two_parts(), {{"op", "joint.set"}, {"parts", "a"}, {"kind", "hinge"}});
    for (const double frame : {10.0, 0.0, 5.0})
        d = run(d, {{"op", "key.set"},
                    {"parts", "a"},
                    {"frame", frame},
                    {"value", frame},
                    {"interpolation", "linear"}});
    const auto track = [&] { return clip_or_first(d).track({test::named(d, "a"), ChannelKind::Turn}); };
    ASSERT_EQ(track()->keys.size(), 3u);
    EXPECT_EQ(track()->keys[1].frame, 5);
    d = run(d, {{"op", "key.set"}, {"parts", "a"}, {"frame", 5}, {"value", "1 rad"}});
    EXPECT_EQ(track()->keys.size(), 3u);
    EXPECT_EQ(track()->keys[1], (Key{5, 1, Interpolation::Linear})) << "it runs on as it did";
    d = run(d, {{"op", "key.set"}, {"parts", "a"}, {"frame", 7}});
    EXPECT_GT(track()->keys[2].value, 1) << "a key without a value keeps the turn as it stands";
    EXPECT_LT(track()->keys[2].value, 10);
    d = run(d, {{"op", "key.remove"}, {"parts", "a"}, {"frame", 7}});
    EXPECT_EQ(refusal(d, {{"op", "key.remove"}, {"parts", "a"}, {"frame", 7}}).code, "key.none");
    d = run(d, {{"op", "key.remove"}, {"parts", "a"}});
    EXPECT_EQ(track(), nullptr);
    EXPECT_EQ(refusal(d, {{"op", "key.set"}, {"parts", "b"}, {"frame", 0}}).code, "channel.fixed");
    EXPECT_EQ(refusal(d, {{"op", "key.set"}, {"parts", "a"}, {"frame", 0}, {"clip", "no such"}}).code,
              "clip.unknown");
}

TEST(ClipOperations, NumbersBeyondAllUseAreRefusedAtOnce) {
    Document d = two_parts();
    const std::string part = d.parts.begin()->name;
    test::make_hinge(d, d.parts.begin()->id);
    json step{{"op", "key.set"}, {"parts", {part}}, {"frame", 24e9}, {"value", 1}};
    EXPECT_EQ(refusal(d, step).code, "key.frame");
    step["frame"] = -1e12;
    EXPECT_EQ(refusal(d, step).code, "key.frame");
    EXPECT_EQ(refusal(d, {{"op", "channel.rest"}, {"frame", 1e9}}).code, "key.frame");
    EXPECT_EQ(refusal(d, {{"op", "channel.set"}, {"parts", {part}}, {"value", "1e30 turn"}}).code,
              "quantity.range");
    EXPECT_EQ(refusal(d, {{"op", "channel.set"}, {"parts", {part}}, {"value", 1e30}}).code, "quantity.range");
    EXPECT_EQ(refusal(d, {{"op", "stand_in.add"}, {"kind", "box"}, {"name", "b"}, {"length", 1e12}}).code,
              "quantity.range");
}

TEST(ClipOperations, RangeNameAndLoop) {
    Document d = run(two_parts(), {{"op", "clip.set"},
                                   {"name", "station run"},
                                   {"first_frame", 1},
                                   {"last_frame", 13},
                                   {"loop", false}});
    EXPECT_EQ(clip_or_first(d).name, "station run");
    EXPECT_EQ(clip_or_first(d).last_frame, 13);
    EXPECT_FALSE(clip_or_first(d).loop);
    EXPECT_EQ(refusal(d, {{"op", "clip.set"}, {"last_frame", 1}}).code, "clip.range");
    EXPECT_EQ(refusal(d, {{"op", "clip.set"}, {"last_frame", 1e9}}).code, "clip.range");
    EXPECT_EQ(refusal(d, {{"op", "clip.set"}, {"name", ""}}).code, "name.empty");
    EXPECT_EQ(refusal(d, {{"op", "project.set"}, {"frame_rate", 0}}).code, "settings.frame_rate");
}

TEST(History, UndoToTheStartAndRedoToTheEndGiveEqualDocuments) {
    const Registry registry = make_registry();
    History history(two_gears());
    const Document start = history.document();
    for (const json& step : {json{{"op", "part.rename"}, {"part", "small"}, {"name", "pinion"}},
                             json{{"op", "coupling.gear"}, {"driver", "pinion"}, {"driven", "large"}},
                             json{{"op", "key.set"}, {"parts", "pinion"}, {"frame", 0}, {"value", 0}},
                             json{{"op", "tree.parent"}, {"parts", "large"}, {"under", "pinion"}},
                             json{{"op", "part.remove"}, {"parts", "large"}}}) {
        auto outcome = registry.run(history.document(), step);
        ASSERT_TRUE(outcome.ok()) << outcome.error().message;
        history.push(outcome->document, registry.find(step["op"].get<std::string>())->title, step);
    }
    const Document end = history.document();
    EXPECT_FALSE(end == start);
    EXPECT_EQ(history.steps().size(), 5u);
    EXPECT_EQ(history.undo_title(), "Remove");
    while (history.can_undo()) history.undo();
    EXPECT_TRUE(history.document() == start);
    EXPECT_TRUE(history.is_saved());
    while (history.can_redo()) history.redo();
    EXPECT_TRUE(history.document() == end);
    EXPECT_FALSE(history.is_saved());
}

TEST(History, ANewEditDropsWhatWasUndone) {
    History history(empty_document());
    Document named = empty_document();
    test::add_part(named, "x");
    history.push(named, "add", {});
    history.mark_saved();
    history.undo();
    EXPECT_FALSE(history.is_saved());
    history.push(empty_document(), "other", {});
    EXPECT_FALSE(history.can_redo());
    EXPECT_FALSE(history.is_saved()) << "the saved state can no longer be reached";
}

}  // namespace
}  // namespace pivrak
