#include <gtest/gtest.h>

#include "core/rig/paths/path_curve.h"

#include <cmath>

#include "core/checks/findings.h"
#include "core/io/project/project_file.h"
#include "core/rig/rig_facts.h"
#include "tests/support/documents.h"
#include "tests/support/temp_folder.h"

namespace pivrak {
namespace {

using nlohmann::json;

const json zigzag = json::array({{0, 0, 0}, {3, 1, 0}, {6, -1, 0}, {9, 0, 0}});

Document with_path(const char* form = "smooth") {
    return test::run(empty_document(),
                     {{"op", "path.add"}, {"name", "road"}, {"form", form}, {"points", zigzag}});
}

const Path& road(const Document& d) {
    return *d.paths.begin();
}

bool has(const Document& d, const std::string& code) {
    for (const Finding& f : check_document(d))
        if (f.code == code) return true;
    return false;
}

TEST(PathOperations, PointsMoveComeAndGo) {
    Document d = with_path("bezier");
    d = test::run(d, {{"op", "path.handles"}, {"path", "road"}, {"points", "0-3"}, {"as", "smooth"}});
    d = test::run(d, {{"op", "path.move_point"}, {"path", "road"}, {"point", 1}, {"place", {3, 2, 0.5}}});
    EXPECT_EQ(road(d).points[1].place, Vec3(3, 2, 0.5));
    // A smooth point's other handle turns along.
    const double before = road(d).points[1].before.norm();
    d = test::run(d, {{"op", "path.move_point"},
                      {"path", "road"},
                      {"point", 1},
                      {"what", "after"},
                      {"place", {3, 3, 0.5}}});
    EXPECT_LT((road(d).points[1].after - Vec3(0, 1, 0)).norm(), 1e-12);
    EXPECT_LT((road(d).points[1].before - Vec3(0, -before, 0)).norm(), 1e-9);
    d = test::run(d, {{"op", "path.insert"}, {"path", "road"}, {"at", "50 %"}});
    EXPECT_EQ(road(d).points.size(), 5u);
    d = test::run(d, {{"op", "path.insert"}, {"path", "road"}, {"near", {0.5, 0, 0}}});
    EXPECT_EQ(road(d).points.size(), 6u);
    d = test::run(d, {{"op", "path.delete_points"}, {"path", "road"}, {"points", "1-4"}});
    EXPECT_EQ(road(d).points.size(), 2u);
    EXPECT_EQ(test::refusal(d, {{"op", "path.delete_points"}, {"path", "road"}, {"points", "0"}}).code,
              "path.points");
    EXPECT_EQ(
        test::refusal(d, {{"op", "path.move_point"}, {"path", "road"}, {"point", 2}, {"place", {0, 0, 0}}})
            .code,
        "path.index");
}

TEST(PathOperations, APathUnderAPartStaysWhereItIs) {
    Document d = with_path();
    test::add_part(d, "boat", {}, test::world_poses()[1]);
    const auto length = [&] { return PathCurve::make(road(d))->length(); };
    const double before = length();
    const Vec3 place = world_from_rest(d, road(d).carrier).point(road(d).points[2].place);
    d = test::run(d, {{"op", "path.carry"}, {"path", "road"}, {"under", "boat"}});
    EXPECT_LT((world_from_rest(d, road(d).carrier).point(road(d).points[2].place) - place).norm(), 1e-9);
    EXPECT_NEAR(length(), before, 1e-9);
    // With its carrier gone it stays too.
    const Document gone = test::run(d, {{"op", "part.remove"}, {"parts", {"boat"}}});
    EXPECT_FALSE(road(gone).carrier);
    EXPECT_LT((road(gone).points[2].place - place).norm(), 1e-9);
}

TEST(PathOperations, ADrapedPathLiesOnTheGround) {
    Document d = with_path("polyline");
    Mesh hill;
    for (int i = 0; i <= 60; ++i)
        for (int j = 0; j <= 20; ++j) {
            const double x = -1 + 0.2 * i, y = -2 + 0.2 * j;
            hill.positions.push_back(Vec3(x, y, 0.4 * std::sin(x) + 0.1 * y).cast<float>());
        }
    for (std::uint32_t i = 0; i < 60; ++i)
        for (std::uint32_t j = 0; j < 20; ++j) {
            const std::uint32_t a = i * 21 + j, b = a + 21;
            hill.indices.insert(hill.indices.end(), {a, b, b + 1, a, b + 1, a + 1});
        }
    test::add_shaped(d, "hill", hill);
    d = test::run(d, {{"op", "path.drape"}, {"path", "road"}, {"ground", "hill"}, {"height", 0.05}});
    RigFacts facts;
    const auto draped = facts.path(d, road(d));
    ASSERT_TRUE(draped.ok());
    const PathCurve& curve = (*draped)->curve;
    for (double s = 0; s < curve.length(); s += 0.31) {
        const Vec3 at = curve.place(s);
        EXPECT_NEAR(at.z(), 0.05 + 0.4 * std::sin(at.x()) + 0.1 * at.y(), 0.02);
    }
    EXPECT_LT((*draped)->burial_m, 0.02);
    EXPECT_EQ((*draped)->missing_m, 0);
    // Eased over three metres the hills are lower, and what that buries is told.
    d = test::run(d, {{"op", "path.drape"}, {"path", "road"}, {"ground", "hill"}, {"ease", 3}});
    const auto eased = facts.path(d, road(d));
    EXPECT_GT((*eased)->burial_m, 0.03);
    EXPECT_GT((*eased)->float_m, 0.03);
    // Without ground below, a finding tells.
    d = test::run(d, {{"op", "path.move_point"}, {"path", "road"}, {"point", 3}, {"place", {40, 0, 0}}});
    EXPECT_TRUE(has(d, "path.no_ground"));
    d = test::run(d, {{"op", "path.drape"}, {"path", "road"}});
    EXPECT_FALSE(has(d, "path.no_ground"));
}

TEST(PathOperations, BadInputIsRefusedAndNothingChanges) {
    Document d = with_path();
    test::add_part(d, "car");
    const auto code = [&](const json& step) { return test::refusal(d, step).code; };
    EXPECT_EQ(code({{"op", "path.add"}, {"points", json::array({{0, 0, 0}})}}), "path.points");
    EXPECT_EQ(code({{"op", "path.add"}, {"points", json::array({{1, 0, 0}, {1, 0, 0}})}}), "path.length");
    EXPECT_EQ(code({{"op", "path.add"}, {"form", "circle"}, {"centre", {0, 0, 0}}, {"radius", 0}}),
              "path.radius");
    EXPECT_EQ(code({{"op", "path.add"},
                    {"form", "bezier"},
                    {"points", zigzag},
                    {"after", json::array({{1, 0, 0}})}}),
              "path.handles");
    EXPECT_EQ(code({{"op", "path.set"}, {"path", "street"}}), "path.unknown");
    EXPECT_EQ(code({{"op", "path.respace"}, {"path", "road"}, {"count", 1}}), "path.count");
    EXPECT_EQ(code({{"op", "path.roll"}, {"path", "road"}, {"at", "far"}, {"roll", 0.1}}), "quantity.syntax");
    EXPECT_EQ(code({{"op", "path.roll"}, {"path", "road"}, {"at", "120 %"}, {"roll", 0.1}}), "path.along");
    EXPECT_EQ(code({{"op", "path.drape"}, {"path", "road"}, {"ground", "car"}}), "path.ground");
    EXPECT_EQ(code({{"op", "ride.set"}, {"parts", {"car"}}}), "argument.missing");
    EXPECT_EQ(code({{"op", "ride.set"}, {"parts", {"car"}}, {"path", "road"}, {"lead", "z"}}), "ride.axes");
    EXPECT_EQ(code({{"op", "ride.string"},
                    {"parts", {"car"}},
                    {"path", "road"},
                    {"count", 3},
                    {"coupling", "path"}}),
              "ride.gap");
    EXPECT_EQ(code({{"op", "coupling.roll"}, {"parts", {"car"}}}), "roll.not_hinge");
    test::make_hinge(d, *find_part(d, "car"), 1);
    EXPECT_EQ(code({{"op", "coupling.roll"}, {"parts", {"car"}}}), "roll.radius");
    EXPECT_EQ(code({{"op", "coupling.roll"}, {"parts", {"car"}}, {"radius", -1}}), "roll.radius");
}

TEST(PathOperations, RidersAreKeyedFoundOffTheEndAndSetFree) {
    Document d = with_path();
    test::add_part(d, "car");
    d = test::run(d, {{"op", "ride.set"}, {"parts", {"car"}}, {"path", "road"}, {"at", "25 %"}});
    EXPECT_NEAR(d.parts.find(*find_part(d, "car"))->joint.along.value, PathCurve::make(road(d))->length() / 4,
                1e-9);
    d = test::run(
        d, {{"op", "key.set"}, {"parts", {"car"}}, {"channel", "along"}, {"frame", 0}, {"value", "2 m"}});
    EXPECT_FALSE(has(d, "ride.past_end"));
    d = test::run(
        d, {{"op", "key.set"}, {"parts", {"car"}}, {"channel", "along"}, {"frame", 50}, {"value", "40 m"}});
    EXPECT_TRUE(has(d, "ride.past_end"));
    d = test::run(d, {{"op", "path.remove"}, {"path", "road"}});
    EXPECT_FALSE(d.parts.find(*find_part(d, "car"))->ride.has_value());
    EXPECT_EQ(
        test::refusal(d, {{"op", "channel.set"}, {"parts", {"car"}}, {"channel", "along"}, {"value", 1}})
            .code,
        "channel.none");
}

TEST(PathOperations, ALoopThatTurnsRidersOverIsFoundAndMended) {
    Document d = empty_document();
    test::add_part(d, "car");
    d = test::run(d, {{"op", "path.add"},
                      {"form", "circle"},
                      {"name", "loop"},
                      {"centre", {0, 0, 5}},
                      {"radius", 4},
                      {"across", "y"}});
    d = test::run(d, {{"op", "ride.set"}, {"parts", {"car"}}, {"path", "loop"}});
    ASSERT_TRUE(has(d, "ride.flips"));
    for (const Finding& f : check_document(d))
        if (f.code == "ride.flips") d = test::run(d, f.fix);
    EXPECT_FALSE(has(d, "ride.flips"));
}

TEST(PathOperations, TheRigComesBackFromItsFile) {
    Document d = with_path("bezier");
    test::add_shaped(d, "ground", test::box({-20, -20, -1}, {20, 20, 0}));
    const PartId car = test::add_shaped(d, "car", test::box({-1, -0.5, 0}, {1, 0.5, 1}));
    d = test::run(d, {{"op", "path.roll"}, {"path", "road"}, {"at", "1 m"}, {"roll", "10 deg"}});
    d = test::run(
        d, {{"op", "path.drape"}, {"path", "road"}, {"ground", "ground"}, {"height", 0.1}, {"ease", 0.5}});
    d = test::run(d, {{"op", "ride.string"},
                      {"parts", {"car"}},
                      {"path", "road"},
                      {"count", 2},
                      {"upright", "bank"},
                      {"speed", 3},
                      {"at", "4 m"}});
    Part part = *d.parts.find(car);
    d.vehicles.set(Vehicle{d.new_id<VehicleId>(),
                           "van",
                           car,
                           {},
                           car,
                           car,
                           {},
                           *find_part(d, "ground"),
                           {{car, {}, {}}},
                           1,
                           0.5,
                           0.2});
    Vehicle van = *d.vehicles.begin();
    van.track_thickness_m = 0.04;
    van.runners = {*find_part(d, "ground")};
    d.vehicles.set(van);
    d.prints.set(Print{d.new_id<PrintId>(), "print", car, *find_part(d, "ground"), 0.3, 0.7, 0.002, {}});
    const PartId trailer = test::add_part(d, "trailer");
    part = *d.parts.find(trailer);
    part.tow = Tow{car, {-1, 0, 0.2}, 1.4};
    d.parts.set(part);
    test::make_hinge(d, *find_part(d, "car 2"));
    d.couplings.set(
        {d.new_id<CouplingId>(), Roll{{*find_part(d, "car 2"), ChannelKind::Turn}, car, 0.3, 0.1}});
    d.couplings.set(
        {d.new_id<CouplingId>(),
         Steer{{trailer, ChannelKind::Turn}, {*find_part(d, "ground"), ChannelKind::Turn}, 3, 2, 1, car}});
    d.couplings.set(
        {d.new_id<CouplingId>(), Lean{{trailer, ChannelKind::ShiftZ}, car, *find_part(d, "ground")}});
    Roll like{{trailer, ChannelKind::Turn}};
    like.like = car;
    d.couplings.set({d.new_id<CouplingId>(), like});
    test::TempFolder folder;
    ASSERT_TRUE(save_project(d, folder / "rig.pivrak.glb").ok());
    const auto back = open_project(folder / "rig.pivrak.glb");
    ASSERT_TRUE(back.ok()) << back.error().message;
    EXPECT_TRUE(back->paths == d.paths);
    EXPECT_TRUE(back->vehicles == d.vehicles);
    EXPECT_TRUE(back->prints == d.prints);
    EXPECT_TRUE(back->couplings == d.couplings);
    for (const Part& before : d.parts) {
        EXPECT_EQ(back->parts.find(before.id)->ride, before.ride) << before.name;
        EXPECT_EQ(back->parts.find(before.id)->tow, before.tow);
        EXPECT_EQ(back->parts.find(before.id)->joint, before.joint);
    }
}

TEST(PathOperations, ACircleGoesRoundAnyDirection) {
    const Vec3 normal = Vec3(1, 2, -0.5).normalized();
    const Document d = test::run(empty_document(), {{"op", "path.add"},
                                                    {"form", "circle"},
                                                    {"centre", {3, -1, 2}},
                                                    {"radius", "1.5 m"},
                                                    {"normal", {2, 4, -1}}});
    const auto curve = PathCurve::make(*d.paths.begin());
    ASSERT_TRUE(curve.ok());
    EXPECT_NEAR(curve->length(), 3 * pi, 1e-9);
    for (int i = 0; i < 9; ++i) {
        const Vec3 off = curve->place(curve->length() * i / 9) - Vec3(3, -1, 2);
        EXPECT_NEAR(off.dot(normal), 0, 1e-12);
        EXPECT_NEAR(off.norm(), 1.5, 1e-12);
    }
    EXPECT_EQ(test::refusal(d, {{"op", "path.add"},
                                {"form", "circle"},
                                {"centre", {0, 0, 0}},
                                {"radius", 1},
                                {"normal", {0, 0, 0}}})
                  .code,
              "path.normal");
}

}  // namespace
}  // namespace pivrak
