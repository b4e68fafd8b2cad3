// Pivots by measurement: where they go, that nothing visible moves, and what is refused.
#include <gtest/gtest.h>

#include <random>

#include "core/geometry/mesh/topology.h"
#include "core/operations/places.h"
#include "tests/support/documents.h"

namespace pivrak {
namespace {

using nlohmann::json;
using test::refusal;
using test::run;

Document lid_and_box() {
    Document d = empty_document();
    test::add_shaped(d, "a", with_normals(test::box({0, 0, 0}, {1, 1, 1})));
    test::add_shaped(d, "b", with_normals(test::box({2, 0, 0}, {3, 1, 1})), {}, test::world_poses()[1]);
    return d;
}

TEST(PivotOperations, NothingVisibleMoves) {
    Document d = empty_document();
    const PartId shaft = test::add_shaped(
        d, "shaft", test::to_mesh(pivrak::shaft(30, -200, 200, 2, 32).turn(1, 0.4).move({300, 20, -50})), {},
        test::world_poses()[1]);
    test::add_shaped(d, "key", with_normals(test::box({0, 0, 0}, {0.1, 0.1, 0.1})), shaft,
                     test::world_poses()[2]);
    const auto before = test::vertex_places(d);
    for (const json& step :
         {json{{"op", "pivot.fit_cylinder"}, {"parts", "shaft"}},
          json{{"op", "pivot.fit_cylinder"}, {"parts", "shaft"}, {"axis", "z"}},
          json{{"op", "pivot.bounds"}, {"parts", {"shaft", "key"}}},
          json{{"op", "pivot.bounds"}, {"parts", "shaft"}, {"at", "base"}},
          json{{"op", "pivot.bounds"}, {"parts", "shaft"}, {"at", "centroid"}},
          json{{"op", "pivot.to"}, {"parts", {"shaft", "key"}}, {"place", {1, "20 mm", -3}}},
          json{{"op", "pivot.to"},
               {"parts", "shaft"},
               {"place", {{"part", "key"}}},
               {"and", {{"part", "key"}, {"vertex", 3}}}},
          json{{"op", "pivot.line"},
               {"parts", {"shaft", "key"}},
               {"from", {{"part", "key"}, {"vertex", 0}}},
               {"to", {{"part", "key"}, {"edge", {1, 3}}}}},
          json{{"op", "pivot.aim"}, {"parts", "key"}, {"direction", {1, 2, -2}}},
          json{{"op", "pivot.aim"}, {"parts", {"shaft", "key"}}, {"like", "world"}},
          json{{"op", "pivot.turn"}, {"parts", {"shaft", "key"}}, {"axis", "z"}}}) {
        SCOPED_TRACE(step.dump());
        const Document after = run(d, step);
        EXPECT_FALSE(after == d);
        EXPECT_LT(test::largest_move(before, test::vertex_places(after)), 1e-9);
    }
}

TEST(PivotOperations, FitPutsTheChosenAxisOnTheShaft) {
    Document d = empty_document();
    const Frame pose = test::world_poses()[1];
    const PartId shaft =
        test::add_shaped(d, "shaft", test::to_mesh(pivrak::shaft(30, -200, 200, 2, 32)), {}, pose);
    for (int axis = 0; axis < 3; ++axis) {
        const Frame fitted = world_from_rest(
            run(d, {{"op", "pivot.fit_cylinder"}, {"parts", "shaft"}, {"axis", std::string(1, "xyz"[axis])}}),
            shaft);
        EXPECT_LT(fitted.axis(axis).cross(pose.axis(2)).norm(), 1e-6);
        EXPECT_LT((fitted.translation - pose.translation).cross(pose.axis(2)).norm(), 1e-6);
    }
}

TEST(PivotOperations, AxesOfParallelShaftsPointTheSameWay) {
    Document d = empty_document();
    test::add_shaped(d, "one", test::to_mesh(pivrak::shaft(30, -200, 200, 2, 32).lay_along(1)));
    test::add_shaped(d, "two", test::to_mesh(pivrak::shaft(20, -100, 300, 2, 48).lay_along(1).turn(2, pi)));
    const Document after = run(d, {{"op", "pivot.fit_cylinder"}, {"parts", {"one", "two"}}});
    EXPECT_GT(world_from_rest(after, test::named(after, "one")).axis(0).y(), 0.999);
    EXPECT_GT(world_from_rest(after, test::named(after, "two")).axis(0).y(), 0.999);
}

TEST(PivotOperations, RefusalsNameThePart) {
    Document d = lid_and_box();
    test::add_part(d, "datum");
    EXPECT_NE(refusal(d, {{"op", "pivot.fit_cylinder"}, {"parts", "a"}}).message.find("'a' is not round"),
              std::string::npos);
    EXPECT_EQ(refusal(d, {{"op", "pivot.bounds"}, {"parts", "datum"}}).message,
              "'datum' has no shape to measure");
}

TEST(PivotOperations, KeysOnThePartAreReported) {
    Document d = empty_document();
    const PartId shaft = test::add_shaped(d, "shaft", test::to_mesh(pivrak::shaft(30, -200, 200, 2, 32)));
    test::make_hinge(d, shaft);
    test::key(d, shaft, {{0, 0}, {10, 1}});
    const auto outcome = make_registry().run(d, {{"op", "pivot.bounds"}, {"parts", "shaft"}});
    ASSERT_TRUE(outcome.ok());
    EXPECT_NE(outcome->messages.back().find("2 keys"), std::string::npos);
}

TEST(Places, OfAShapeAreThoseOfItsGeometry) {
    Document d = empty_document();
    const Frame pose = test::world_poses()[1];
    const PartId box = test::add_shaped(d, "box", with_normals(test::box({0, 0, 0}, {2, 4, 6})), {}, pose);
    const Mesh& mesh = *d.shapes.begin()->mesh;
    const auto vertex_at = [&](const Vec3& p) {
        for (std::uint32_t v = 0; v < mesh.positions.size(); ++v)
            if ((mesh.positions[v].cast<double>() - p).norm() < 1e-6) return v;
        return ~0u;
    };
    const auto place = [&](const json& given) {
        const auto found = place_from(d, given);
        EXPECT_TRUE(found.ok()) << given << " " << (found ? "" : found.error().message);
        return found ? pose.inverse().point(*found) : Vec3(1e9, 0, 0);
    };
    const std::uint32_t a = vertex_at({2, 0, 6}), b = vertex_at({2, 4, 6});
    EXPECT_LT((place({{"part", "box"}}) - Vec3(0, 0, 0)).norm(), 1e-9);
    EXPECT_LT((place({{"part", box.value}, {"vertex", a}}) - Vec3(2, 0, 6)).norm(), 1e-6);
    EXPECT_LT((place({{"part", "box"}, {"edge", {a, b}}}) - Vec3(2, 2, 6)).norm(), 1e-6);
    EXPECT_LT((place({{"part", "box"}, {"at", "middle"}}) - Vec3(1, 2, 3)).norm(), 1e-6);
    EXPECT_LT((place({{"part", "box"}, {"at", "centroid"}}) - Vec3(1, 2, 3)).norm(), 1e-6);
    for (std::uint32_t t = 0; t < mesh.triangle_count(); ++t)
        if (mesh.corner(t, 0).z() > 5 && mesh.corner(t, 1).z() > 5 && mesh.corner(t, 2).z() > 5) {
            EXPECT_LT((place({{"part", "box"}, {"face", t}}) - Vec3(1, 2, 6)).norm(), 1e-6)
                << "of the whole side, whichever triangle is picked";
        }
    for (const auto& [given, code] :
         std::vector<std::pair<json, std::string>>{{{{"part", "box"}, {"vertex", 99999}}, "place.range"},
                                                   {{{"part", "box"}, {"edge", {1}}}, "place.syntax"},
                                                   {{{"part", "box"}, {"rim", {a, b}}}, "place.no_rim"},
                                                   {{{"part", "bax"}}, "part.unknown"},
                                                   {"here", "place.syntax"},
                                                   {{1, 2}, "place.syntax"},
                                                   {{1, 2, "3 deg"}, "quantity.syntax"}})
        EXPECT_EQ(place_from(d, given).error().code, code) << given;
}

/// Source: a half ball's centre of mass lies 3/8 of the radius above its flat side; a cone's a quarter of its
/// height above the base.
TEST(Places, TheCentroidIsTheCentreOfMass) {
    Mesh cone;
    constexpr std::uint32_t around = 360;
    cone.positions = {Vec3f(0, 0, 1), Vec3f(0, 0, 0)};
    for (std::uint32_t i = 0; i < around; ++i) {
        const double angle = 2 * pi * i / around;
        cone.positions.push_back(Vec3(std::cos(angle), std::sin(angle), 0).cast<float>());
        const std::uint32_t here = 2 + i, next = 2 + (i + 1) % around;
        cone.indices.insert(cone.indices.end(), {0, here, next, 1, next, here});
    }
    cone.submeshes = {{MaterialId{}, 0, static_cast<std::uint32_t>(cone.indices.size()), {}}};
    EXPECT_LT((mesh_centroid(cone) - Vec3(0, 0, 0.25)).norm(), 1e-6);
    Mesh open = cone;
    open.indices.resize(3);
    EXPECT_LT((mesh_centroid(open) - (open.corner(0, 0) + open.corner(0, 1) + open.corner(0, 2)) / 3).norm(),
              1e-6);
}

TEST(PivotLine, PutsTheAxisOnTheLineInAnyPose) {
    for (const Frame& pose : test::world_poses()) {
        Document d = empty_document();
        const PartId lid =
            test::add_shaped(d, "lid", with_normals(test::box({0, 0, 0}, {1, 2, 0.1})), {}, pose);
        const Vec3 from = pose.point({0, 0.5, 0.05}), to = pose.point({0, 1.5, 0.05});
        for (int axis = 0; axis < 3; ++axis)
            for (const auto& [at, where] : {std::pair("from", from), std::pair("to", to),
                                            std::pair("middle", Vec3(0.5 * (from + to)))}) {
                const auto outcome = make_registry().run(d, {{"op", "pivot.line"},
                                                             {"parts", "lid"},
                                                             {"from", {from.x(), from.y(), from.z()}},
                                                             {"to", {to.x(), to.y(), to.z()}},
                                                             {"axis", std::string(1, "xyz"[axis])},
                                                             {"at", at}});
                ASSERT_TRUE(outcome.ok());
                const Frame now = world_from_rest(outcome->document, lid);
                EXPECT_LT((now.axis(axis) - pose.axis(1)).norm(), 1e-12);
                EXPECT_LT((now.translation - where).norm(), 1e-12);
                EXPECT_NEAR(outcome->readings["pivots"][0]["length_m"].get<double>(), 1, 1e-12);
            }
    }
    Document d = empty_document();
    test::add_shaped(d, "lid", with_normals(test::box({0, 0, 0}, {1, 2, 0.1})));
    EXPECT_EQ(
        refusal(d, {{"op", "pivot.line"}, {"parts", "lid"}, {"from", {1, 1, 1}}, {"to", {1, 1, 1}}}).code,
        "pivot.no_line");
}

TEST(PivotFits, FacesOfAHingeBarrelServeTheDoor) {
    Document d = empty_document();
    const Frame pose = test::world_poses()[1];
    const PartId barrel =
        test::add_shaped(d, "barrel", test::to_mesh(pivrak::shaft(8, -50, 50, 1, 24)), {}, pose);
    const PartId door = test::add_shaped(d, "door", with_normals(test::box({0, 0, 0}, {1, 0.05, 2})));
    const Mesh& mesh = *d.shapes.find(d.parts.find(barrel)->shape)->mesh;
    std::string side;
    const std::vector<Vec3> normals = face_normals(mesh);
    for (std::uint32_t t = 0; t < mesh.triangle_count(); ++t)
        if (std::abs(normals[t].z()) < 0.1 && normals[t].x() > 0) side += std::to_string(t) + " ";
    const json faces{{{"part", "barrel"}, {"faces", side}}};
    const Document after =
        run(d, {{"op", "pivot.fit_faces"}, {"faces", faces}, {"parts", {"door"}}, {"axis", "z"}});
    const Frame now = world_from_rest(after, door);
    EXPECT_LT(now.axis(2).cross(pose.axis(2)).norm(), 1e-5);
    EXPECT_LT((now.translation - pose.translation).cross(pose.axis(2)).norm(), 1e-6);
    EXPECT_TRUE(world_from_rest(after, barrel) == world_from_rest(d, barrel))
        << "only the door's pivot moves";
    const Document own = run(d, {{"op", "pivot.fit_faces"}, {"faces", faces}, {"axis", "y"}});
    EXPECT_LT(world_from_rest(own, barrel).axis(1).cross(pose.axis(2)).norm(), 1e-5);
    EXPECT_EQ(refusal(d, {{"op", "pivot.fit_faces"}, {"faces", {{{"part", "door"}, {"faces", "0-1"}}}}}).code,
              "fit.flat");
}

TEST(PivotFits, ACircleThroughPlaces) {
    Document d = empty_document();
    const PartId hatch = test::add_shaped(d, "hatch", with_normals(test::box({0, 0, 0}, {1, 1, 0.1})));
    const Frame pose = test::world_poses()[2];
    json places = json::array();
    for (const double angle : {0.1, 1.0, 2.5, 4.0}) {
        const Vec3 p = pose.point({0.3 * std::cos(angle), 0.3 * std::sin(angle), 0});
        places.push_back({p.x(), p.y(), p.z()});
    }
    const Document after =
        run(d, {{"op", "pivot.fit_circle"}, {"parts", "hatch"}, {"places", places}, {"axis", "y"}});
    EXPECT_LT((world_from_rest(after, hatch).translation - pose.translation).norm(), 1e-9);
    EXPECT_LT(world_from_rest(after, hatch).axis(1).cross(pose.axis(2)).norm(), 1e-9);
    EXPECT_EQ(refusal(d, {{"op", "pivot.fit_circle"},
                          {"parts", "hatch"},
                          {"places", {{0, 0, 0}, {1, 0, 0}, {2, 0, 0}}}})
                  .code,
              "fit.straight");
    EXPECT_EQ(refusal(d, {{"op", "pivot.fit_circle"}, {"parts", "hatch"}, {"places", {{0, 0, 0}}}}).code,
              "fit.few");
}

TEST(PivotAim, OneAxisOrAllOfThem) {
    Document d = lid_and_box();
    const PartId a = test::named(d, "a"), b = test::named(d, "b");
    const Vec3 wanted = Vec3(1, 2, -2) / 3;
    for (int axis = 0; axis < 3; ++axis) {
        const std::string name(1, "xyz"[axis]);
        const auto aimed = [&](json how) {
            how.update({{"op", "pivot.aim"}, {"parts", {"a"}}, {"axis", name}});
            return world_from_rest(run(d, how), a);
        };
        const Frame now = aimed({{"direction", {1, 2, -2}}});
        EXPECT_LT((now.axis(axis) - wanted).norm(), 1e-12);
        EXPECT_LT((now.translation - world_from_rest(d, a).translation).norm(), 1e-12)
            << "it stays where it is";
        EXPECT_LT((aimed({{"from", {0, 0, 0}}, {"to", {2, 4, -4}}}).axis(axis) - wanted).norm(), 1e-12);
        EXPECT_GT(std::abs(aimed({{"face", {{{"part", "b"}, {"faces", "0"}}}}})
                               .axis(axis)
                               .dot(world_from_rest(d, b).axis(2))),
                  1 - 1e-9)
            << "square to the first face of a box, which looks down";
    }
    const Document like = run(d, {{"op", "pivot.aim"}, {"parts", {"a"}}, {"like", "b"}});
    EXPECT_LT(angle_between(world_from_rest(like, a).rotation, world_from_rest(d, b).rotation), 1e-12);
    const Document world = run(d, {{"op", "pivot.aim"}, {"parts", {"b"}}, {"like", "world"}});
    EXPECT_LT(angle_between(world_from_rest(world, b).rotation, Quat(1, 0, 0, 0)), 1e-12);
    const Document turned =
        run(d, {{"op", "pivot.turn"}, {"parts", {"b"}}, {"axis", "x"}, {"angle", "1/4 turn"}});
    EXPECT_LT((world_from_rest(turned, b).axis(1) - world_from_rest(d, b).axis(2)).norm(), 1e-12);
    EXPECT_EQ(refusal(d, {{"op", "pivot.aim"}, {"parts", {"a"}}}).code, "pivot.direction");
    EXPECT_EQ(refusal(d, {{"op", "pivot.aim"}, {"parts", {"a"}}, {"direction", {0, 0, 0}}}).code,
              "pivot.direction");
    EXPECT_EQ(refusal(d, {{"op", "pivot.aim"},
                          {"parts", {"a"}},
                          {"direction", {1, 0, 0}},
                          {"from", {0, 0, 0}},
                          {"to", {1, 0, 0}}})
                  .code,
              "pivot.direction");
}

/// Random trees and random pivot and tree edits: world places are kept, frames stay orthonormal, undo of
/// every step gives back the same document.
TEST(PivotProperty, WhateverIsDoneNothingVisibleMoves) {
    std::mt19937 random(17);
    std::uniform_real_distribution<double> from(-2, 2);
    const auto triple = [&] { return json{from(random), from(random), from(random)}; };
    for (int round = 0; round < 12; ++round) {
        Document d = empty_document();
        std::vector<std::uint64_t> ids;
        for (int i = 0; i < 9; ++i) {
            const PartId parent =
                ids.empty() || random() % 4 == 0 ? PartId{} : PartId{ids[random() % ids.size()]};
            ids.push_back(test::add_shaped(d, "p" + std::to_string(i),
                                           with_normals(test::box({0, 0, 0}, {0.5, 1, 2})), parent,
                                           test::world_poses()[random() % 4])
                              .value);
        }
        const auto before = test::vertex_places(d);
        for (int step = 0; step < 40; ++step) {
            const std::uint64_t one = ids[random() % ids.size()], other = ids[random() % ids.size()];
            const json steps[] = {
                {{"op", "pivot.to"}, {"parts", {one, other}}, {"place", triple()}},
                {{"op", "pivot.line"}, {"parts", {one}}, {"from", triple()}, {"to", triple()}, {"axis", "y"}},
                {{"op", "pivot.aim"}, {"parts", {one}}, {"direction", triple()}, {"axis", "z"}},
                {{"op", "pivot.turn"}, {"parts", {one}}, {"axis", "x"}, {"angle", from(random)}},
                {{"op", "pivot.bounds"}, {"parts", {one}}, {"at", "centroid"}},
                {{"op", "tree.parent"}, {"parts", {one}}, {"under", other}},
                {{"op", "tree.release"}, {"parts", {one}}}};
            const Document kept = d;
            const auto outcome = make_registry().run(d, steps[random() % 7]);
            EXPECT_TRUE(d == kept) << "an operation never changes what it is given";
            if (!outcome) {
                EXPECT_EQ(outcome.error().code, "tree.loop");
                continue;
            }
            d = outcome->document;
            for (const Part& part : d.parts) {
                const Mat3 axes = world_from_rest(d, part.id).rotation.toRotationMatrix();
                EXPECT_LT((axes.transpose() * axes - Mat3::Identity()).norm(), 1e-12);
            }
        }
        EXPECT_LT(test::largest_move(before, test::vertex_places(d)), 1e-9);
    }
}

}  // namespace
}  // namespace pivrak
