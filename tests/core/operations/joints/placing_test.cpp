// Parts placed at rest, and one part in the place of others.
#include <gtest/gtest.h>

#include "core/motion/evaluator.h"
#include "tests/support/documents.h"

namespace pivrak {
namespace {

using nlohmann::json;
using test::named;
using test::refusal;
using test::run;

Frame world_at(const Document& d, const std::string& name, double frame) {
    const auto evaluator = Evaluator::compile(d);
    EXPECT_TRUE(evaluator.ok());
    Pose pose = evaluator->make_pose();
    evaluator->evaluate(frame, pose);
    return pose.world_from_part[*evaluator->part_slot(named(d, name))];
}

/// A post that turns with a boom on it, and a crate that stands beside.
Document crane() {
    Document d = empty_document();
    const PartId post = test::add_shaped(d, "Post", test::box({-0.2, -0.2, 0}, {0.2, 0.2, 2}), {},
                                         {turn_about_axis(2, 0.3), Vec3(1, 2, 0)});
    test::add_shaped(d, "Boom", test::box({0, -0.1, 0}, {2, 0.1, 0.2}), post,
                     {Quat(1, 0, 0, 0), Vec3(0, 0, 1.8)});
    test::add_shaped(d, "Crate", test::box({0, 0, 0}, {1, 1, 1}), {}, {Quat(1, 0, 0, 0), Vec3(3, 2, 0)});
    test::make_hinge(d, post, 2);
    test::key(d, post, {{0, 0, Interpolation::Linear}, {10, 1, Interpolation::Linear}});
    return d;
}

TEST(PlaceAtRest, MovesAMachineAsOneAndItsMotionWithIt) {
    const Document before = crane();
    const Document after = run(before, {{"op", "tree.place"},
                                        {"parts", {"Crate", "Boom", "Post"}},
                                        {"forward", "4 m"},
                                        {"left", "-2 m"},
                                        {"up", "50 cm"},
                                        {"turn", "90 deg"},
                                        {"about", {1, 1, 0}}});
    // A quarter turn about z through (1, 1): (x, y) goes to (2 - y, x), and then by the way.
    const Frame motion{turn_about_axis(2, pi / 2), Vec3(2 + 4, 0 - 2, 0.5)};
    for (const char* name : {"Post", "Boom", "Crate"})
        for (const double frame : {0.0, 3.7, 10.0}) {
            const Frame expected = motion * world_at(before, name, frame), is = world_at(after, name, frame);
            EXPECT_LT((expected.translation - is.translation).norm(), 1e-12) << name << frame;
            EXPECT_LT(angle_between(expected.rotation, is.rotation), 1e-7) << name << frame;
        }
    EXPECT_EQ(after.clips, before.clips);
}

TEST(PlaceAtRest, TurnsAboutThePivotOfThePartNamedLast) {
    const Document after =
        run(crane(), {{"op", "tree.place"}, {"parts", {"Crate"}}, {"turn", "30 deg"}, {"axis", "x"}});
    EXPECT_LT((world_at(after, "Crate", 0).translation - Vec3(3, 2, 0)).norm(), 1e-12);
    EXPECT_LT(angle_between(world_at(after, "Crate", 0).rotation, turn_about_axis(0, pi / 6)), 1e-7);
}

TEST(PlaceAtRest, RefusesWhatHasItsPlaceFromElsewhere) {
    Document d = run(crane(), {{"op", "path.add"}, {"name", "way"}, {"points", {{0, 0, 0}, {9, 0, 0}}}});
    d = run(d, {{"op", "ride.set"}, {"parts", {"Crate"}}, {"path", "way"}});
    EXPECT_EQ(refusal(d, {{"op", "tree.place"}, {"parts", {"Crate"}}, {"up", 1}}).message,
              "'Crate' has its place from the path that it rides: move that instead");
    EXPECT_EQ(refusal(crane(), {{"op", "tree.place"}, {"parts", {"Crate"}}}).code, "place.nowhere");
}

/// Two machines that each brought their ground: one ground carries both.
TEST(ReplaceParts, TwoGroundsBecomeOne) {
    Document d = crane();
    for (const char* name : {"Snow", "Other snow"}) {
        test::add_shaped(d, name, test::box({-9, -9, -1}, {9, 9, 0}));
        const std::string way = std::string(name) + " way";
        d = run(d, {{"op", "path.add"}, {"name", way}, {"points", {{0, 0, 0}, {9, 0, 0}}}});
        d = run(d, {{"op", "path.drape"}, {"path", way}, {"ground", name}});
    }
    d = run(d, {{"op", "tree.parent"}, {"parts", {"Crate"}}, {"under", "Other snow"}});
    const Frame stood = world_at(d, "Crate", 0);
    const PartId snow = named(d, "Snow");
    const Document one = run(d, {{"op", "tree.replace"}, {"parts", {"Other snow"}}, {"with", "Snow"}});
    EXPECT_FALSE(find_part(one, "Other snow").ok());
    for (const Path& path : one.paths) EXPECT_EQ(path.drape->ground, snow) << path.name;
    EXPECT_EQ(one.parts.find(named(one, "Crate"))->parent, snow);
    EXPECT_LT((world_at(one, "Crate", 0).translation - stood.translation).norm(), 1e-12);
}

TEST(ReplaceParts, RefusesWhatCannotBeReplaced) {
    const auto replace = [](const Document& d, const char* gone, const char* with) {
        return refusal(d, {{"op", "tree.replace"}, {"parts", {gone}}, {"with", with}});
    };
    EXPECT_EQ(replace(crane(), "Crate", "Crate").code, "replace.itself");
    EXPECT_EQ(replace(crane(), "Post", "Boom").code, "replace.carried");
    EXPECT_EQ(replace(crane(), "Post", "Crate").message,
              "'Post' moves by a joint of its own, which 'Crate' does not have");
}

/// A corner of one box onto a corner of another, along all axes or one; then a face on a face.
TEST(Snap, PlacesComeOntoEachOther) {
    Document d = empty_document();
    test::add_shaped(d, "table", with_normals(test::box({0, 0, 0}, {2, 1, 0.8})));
    const PartId lamp =
        test::add_shaped(d, "lamp", with_normals(test::box({0, 0, 0}, {0.2, 0.2, 0.4})), {},
                         Frame{Quat(Eigen::AngleAxisd(0.4, Vec3(1, 2, 3).normalized())), Vec3(5, 5, 5)});
    const Vec3 corner = world_from_rest(d, lamp).translation;
    const auto number_of = [&](const char* name, const Vec3f& place) {
        const Mesh& mesh = *d.shapes.find(d.parts.find(test::named(d, name))->shape)->mesh;
        return std::find(mesh.positions.begin(), mesh.positions.end(), place) - mesh.positions.begin();
    };
    const nlohmann::json step{{"op", "tree.snap"},
                              {"parts", {"lamp"}},
                              {"from", {{"part", "lamp"}, {"vertex", number_of("lamp", {0, 0, 0})}}},
                              {"to", {{"part", "table"}, {"vertex", number_of("table", {2, 1, 0.8f})}}}};
    const Document onto = test::run(d, step);
    EXPECT_LT((world_from_rest(onto, lamp).translation - Vec3(2, 1, 0.8)).norm(), 1e-6);
    nlohmann::json only_up = step;
    only_up["along"] = "z";
    const Document up = test::run(d, only_up);
    EXPECT_LT((world_from_rest(up, lamp).translation - Vec3(corner.x(), corner.y(), 0.8)).norm(), 1e-6);
    // The lamp's floor, whose normal is its own -z, onto the table's top.
    nlohmann::json flat = step;
    const Vec3 down = world_from_rest(d, lamp).direction(Vec3(0, 0, -1));
    flat["from_normal"] = {down.x(), down.y(), down.z()};
    flat["to_normal"] = {0, 0, 1};
    const Document stands = test::run(d, flat);
    EXPECT_NEAR(world_from_rest(stands, lamp).axis(2).z(), 1, 1e-9) << "upright on it";
    EXPECT_LT((world_from_rest(stands, lamp).translation - Vec3(2, 1, 0.8)).norm(), 1e-6);
    EXPECT_TRUE(make_registry().run(onto, step)->unchanged) << "once more there is nothing to do";
    nlohmann::json half = flat;
    half.erase("to_normal");
    EXPECT_EQ(make_registry().run(d, half).error().code, "snap.normals");
}

}  // namespace
}  // namespace pivrak
