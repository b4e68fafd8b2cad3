// Constraints on grounds and in whole rigs: refusals, files, copies, trains.
#include <gtest/gtest.h>

#include <cmath>

#include "core/checks/findings.h"
#include "core/io/project/project_file.h"
#include "core/io/project/project_json.h"
#include "core/model/edits/branch_copy.h"
#include "core/motion/evaluator.h"
#include "core/operations/job.h"
#include "core/rig/driven_by.h"
#include "tests/core/elements/standing.h"
#include "tests/support/documents.h"
#include "tests/support/shapes.h"

namespace pivrak {
namespace {

using namespace test;
using nlohmann::json;

/// A field of hills, 0.25 m between its corners.
Mesh hill_field() {
    Mesh mesh;
    constexpr int n = 40;
    for (int j = 0; j <= n; ++j)
        for (int i = 0; i <= n; ++i) {
            const double x = 0.25 * i - 5, y = 0.25 * j - 5;
            mesh.positions.push_back(Vec3(x, y, 0.5 * std::sin(x) * std::cos(0.7 * y)).cast<float>());
        }
    const auto at = [](int i, int j) { return static_cast<std::uint32_t>(j * (n + 1) + i); };
    for (int j = 0; j < n; ++j)
        for (int i = 0; i < n; ++i)
            for (const std::uint32_t k :
                 {at(i, j), at(i + 1, j), at(i + 1, j + 1), at(i, j), at(i + 1, j + 1), at(i, j + 1)})
                mesh.indices.push_back(k);
    return mesh;
}

/// Height of the triangle of the hills below a place, by barycentric weights.
double height_below(const Mesh& mesh, double x, double y) {
    for (std::size_t t = 0; t + 2 < mesh.indices.size(); t += 3) {
        const Vec3 a = mesh.positions[mesh.indices[t]].cast<double>(),
                   b = mesh.positions[mesh.indices[t + 1]].cast<double>(),
                   c = mesh.positions[mesh.indices[t + 2]].cast<double>();
        const double area = (b.x() - a.x()) * (c.y() - a.y()) - (c.x() - a.x()) * (b.y() - a.y());
        const double v = ((x - a.x()) * (c.y() - a.y()) - (c.x() - a.x()) * (y - a.y())) / area,
                     w = ((b.x() - a.x()) * (y - a.y()) - (x - a.x()) * (b.y() - a.y())) / area;
        if (v >= -1e-9 && w >= -1e-9 && v + w <= 1 + 1e-9)
            return a.z() + v * (b.z() - a.z()) + w * (c.z() - a.z());
    }
    return 1e9;
}

TEST(Constraint, WhatRestsOnHillsTouchesThemByItsPlace) {
    Document d = empty_document();
    add_shaped(d, "hills", hill_field());
    add_part(d, "sensor", {}, {Quat(1, 0, 0, 0), Vec3(-3, -2, 4)});
    d = run(d, {{"op", "joint.set"}, {"parts", {"sensor"}}, {"kind", "free"}});
    for (const auto& [frame, x, y] : {std::tuple{0, 0.0, 0.0}, {60, 6.0, 4.0}})
        for (const auto& [channel, value] : {std::pair{"shift_x", x}, {"shift_y", y}})
            d = run(d, {{"op", "key.set"},
                        {"parts", {"sensor"}},
                        {"channel", channel},
                        {"frame", frame},
                        {"value", value}});
    d = run(d, {{"op", "constraint.add"},
                {"parts", {"sensor"}},
                {"asks", "rest"},
                {"target", "hills"},
                {"height", 0.2}});
    At at(d);
    for (double frame = 0; frame <= 60; frame += 0.5) {
        const Vec3 place = at(frame).world("sensor").translation;
        EXPECT_NEAR(place.z(), height_below(hill_field(), place.x(), place.y()) + 0.2, 1e-6) << frame;
    }
    // A probe on an inclined slide goes down its own line until it touches.
    const PartId arm = add_part(d, "arm", {}, {Quat(Eigen::AngleAxisd(0.5, Vec3::UnitY())), Vec3(1, 1, 3)});
    add_part(d, "probe", arm, {});
    d = run(d, {{"op", "joint.set"}, {"parts", {"probe"}}, {"kind", "slide"}, {"axis", "z"}});
    d = run(d, {{"op", "constraint.add"}, {"parts", {"probe"}}, {"asks", "rest"}, {"target", "hills"}});
    const Vec3 tip = At(d)(0).world("probe").translation;
    EXPECT_NEAR(tip.z(), height_below(hill_field(), tip.x(), tip.y()), 1e-5);
    EXPECT_LT((tip - Vec3(1, 1, 3)).cross(world_from_rest(d, arm).axis(2)).norm(), 1e-12) << "on its line";
}

/// Hills as they stand in the world.
Mesh standing_hills(const Frame& world_from_part) {
    Mesh mesh = hill_field();
    for (auto& place : mesh.positions) place = world_from_part.point(place.cast<double>()).cast<float>();
    return mesh;
}

TEST(Constraint, WhatRestsGoesAlongWithAGroundThatIsLiftedTiltedAndGrows) {
    Document d = empty_document();
    const PartId hills = add_shaped(d, "hills", hill_field());
    add_part(d, "sensor", {}, {Quat(1, 0, 0, 0), Vec3(-1, -1, 4)});
    add_part(d, "crate", {}, {Quat(1, 0, 0, 0), Vec3(2, 1, 4)});
    for (const char* part : {"sensor", "crate", "hills"})
        d = run(d, {{"op", "joint.set"}, {"parts", {part}}, {"kind", "free"}});
    d = run(d, {{"op", "joint.size"}, {"parts", {"hills"}}});
    for (const auto& [channel, value] : {std::pair{"shift_z", 1.5},
                                         {"shift_x", 0.7},
                                         {"turn_x", 20 * rad_per_deg},
                                         {"turn_z", 50 * rad_per_deg},
                                         {"size", 1.3}})
        for (const int frame : {0, 60}) {
            const double at_first = std::string_view(channel) == "size" ? 1 : 0;
            d = run(d, {{"op", "key.set"},
                        {"parts", {"hills"}},
                        {"channel", channel},
                        {"frame", frame},
                        {"value", frame ? value : at_first}});
        }
    d = run(d, {{"op", "constraint.add"},
                {"parts", {"sensor"}},
                {"asks", "rest"},
                {"target", "hills"},
                {"height", 0.2}});
    d = run(d, {{"op", "constraint.add"},
                {"parts", {"crate"}},
                {"asks", "rest"},
                {"target", "hills"},
                {"slope", true}});
    At at(d);
    double lowest = 1e9, highest = -1e9;
    for (double frame = 0; frame <= 60; frame += 0.5) {
        at(frame);
        const Mesh ground = standing_hills(at.world("hills"));
        const Vec3 sensor = at.world("sensor").translation, crate = at.world("crate").translation;
        EXPECT_NEAR(sensor.z(), height_below(ground, sensor.x(), sensor.y()) + 0.2, 2e-6) << frame;
        EXPECT_NEAR(crate.z(), height_below(ground, crate.x(), crate.y()), 2e-6) << frame;
        // Heights a little beside it say how it leans.
        const double e = 5e-3, here = height_below(ground, crate.x(), crate.y());
        const Vec3 up = Vec3((here - height_below(ground, crate.x() + e, crate.y())) / e,
                             (here - height_below(ground, crate.x(), crate.y() + e)) / e, 1)
                            .normalized();
        EXPECT_LT(angle(at.world("crate").axis(2), up), 0.13) << frame;
        EXPECT_LT(at.miss("sensor rests on hills")->place_m, 1e-9);
        lowest = std::min(lowest, sensor.z());
        highest = std::max(highest, sensor.z());
    }
    EXPECT_GT(highest - lowest, 1) << "it was lifted";
    ASSERT_TRUE(hills);
}

TEST(Constraint, WhoseTargetIsRemovedIsOffAndSaysWhatItLost) {
    Document d = turret();
    d = run(d, {{"op", "channel.set"}, {"parts", {"head"}}, {"channel", "turn"}, {"value", "10 deg"}});
    d = run(d, {{"op", "constraint.add"},
                {"parts", {"head"}},
                {"asks", "aim"},
                {"target", "target"},
                {"name", "look"}});
    d = run(d, {{"op", "part.remove"}, {"parts", {"target"}}});
    ASSERT_EQ(d.constraints.size(), 1u);
    EXPECT_NEAR(At(d)(0).value("head", ChannelKind::Turn), 10 * rad_per_deg, 1e-12)
        << "the world's middle is not what it followed";
    const auto told = [&](const Document& in) {
        for (const Finding& f : check_document(in))
            if (f.code == "constraint.lost") return f.message;
        return std::string();
    };
    EXPECT_NE(told(d).find("'look' is off: 'target'"), std::string::npos) << told(d);
    const auto kept = project_from_bytes(*project_bytes(d), "kept");
    ASSERT_TRUE(kept.ok());
    EXPECT_TRUE(*kept == d) << "saved and opened it still knows";
    // Another one to follow brings it back.
    add_part(d, "lamp", {}, {Quat(1, 0, 0, 0), Vec3(0.4, 5, 1)});
    d = run(d, {{"op", "constraint.set"}, {"constraints", {"look"}}, {"target", "lamp"}});
    EXPECT_EQ(told(d), "");
    EXPECT_NEAR(At(d)(0).value("head", ChannelKind::Turn), pi / 2, 1e-9);
}

TEST(Constraint, WhatHangsPlumbStaysSoUnderWhateverCarriesIt) {
    Document d = turret();
    const PartId target = *find_part(d, "target");
    add_part(d, "lamp", target, {Quat(1, 0, 0, 0), Vec3(0.5, 0, 0)});
    add_part(d, "hook", target, {Quat(1, 0, 0, 0), Vec3(-0.5, 0, 0)});
    d = run(d, {{"op", "joint.set"}, {"parts", {"lamp"}}, {"kind", "ball"}});
    d = run(d, {{"op", "joint.set"}, {"parts", {"hook"}}, {"kind", "hinge"}, {"axis", "y"}});
    d = run(d,
            {{"op", "key.set"}, {"parts", {"target"}}, {"channel", "turn_y"}, {"frame", 0}, {"value", "0"}});
    d = run(d, {{"op", "key.set"},
                {"parts", {"target"}},
                {"channel", "turn_y"},
                {"frame", 80},
                {"value", "200 deg"}});
    d = run(d, {{"op", "constraint.add"}, {"parts", {"lamp", "hook"}}, {"asks", "plumb"}, {"axis", "-z"}});
    At at(d);
    for (double frame = 0; frame <= 80; frame += 0.5)
        for (const char* part : {"lamp", "hook"})
            EXPECT_LT(angle(at(frame).world(part).axis(2), Vec3::UnitZ()), 1e-9) << part << frame;
}

TEST(Constraint, InsideIsKeptByTheAxesOfAnother) {
    Document d = turret();
    add_part(d, "box", {}, {Quat(Eigen::AngleAxisd(0.7, Vec3::UnitZ())), Vec3(1, 1, 2)});
    d = run(d, {{"op", "constraint.add"},
                {"parts", {"target"}},
                {"asks", "inside"},
                {"target", "box"},
                {"axes", "target"},
                {"least_x", -0.5},
                {"most_x", 0.5},
                {"least_z", -0.25}});
    At at(d);
    bool pressed = false;
    for (double frame = 0; frame <= 80; frame += 0.5) {
        at(frame);
        const Vec3 own = (at.world("box").inverse() * at.world("target")).translation;
        EXPECT_GE(own.x(), -0.5 - 1e-12);
        EXPECT_LE(own.x(), 0.5 + 1e-12);
        EXPECT_GE(own.z(), -0.25 - 1e-12);
        pressed |= std::abs(own.x()) > 0.499;
    }
    EXPECT_TRUE(pressed);
}

/// A square path of 4 m, carried by a cart: its places are known by hand.
TEST(Constraint, APlaceOnAPathIsATargetThatGoesWithThePath) {
    Document d = empty_document();
    const PartId cart = add_part(d, "cart", {}, {turn_about_axis(2, 0.7), Vec3(3, 1, 0.5)});
    add_part(d, "probe", {}, {Quat(1, 0, 0, 0), Vec3(9, 9, 9)});
    add_part(d, "needle", {}, {turn_about_axis(1, 0.4), Vec3(-2, 0, 0)});
    d = run(d, {{"op", "joint.set"}, {"parts", {"cart", "probe", "needle"}}, {"kind", "free"}});
    d = run(d, {{"op", "path.add"},
                {"name", "ring"},
                {"form", "polyline"},
                {"closed", true},
                {"points", {{0, 0, 0}, {1, 0, 0}, {1, 1, 0}, {0, 1, 0}}}});
    Path ring = *d.paths.begin();
    ring.carrier = cart;
    d.paths.set(ring);
    d = run(d, {{"op", "constraint.add"},
                {"parts", {"probe"}},
                {"asks", "place"},
                {"path", "ring"},
                {"along", "37.5 %"}});
    d = run(d, {{"op", "constraint.add"},
                {"parts", {"needle"}},
                {"asks", "turn"},
                {"path", "ring"},
                {"along", "1.5 m"}});
    for (const auto& [channel, value] : {std::pair{"shift_x", 2.0}, {"turn_z", 1.1}, {"turn_x", 0.3}})
        d = run(
            d,
            {{"op", "key.set"}, {"parts", {"cart"}}, {"channel", channel}, {"frame", 20}, {"value", value}});
    for (const char* channel : {"shift_x", "turn_z", "turn_x"})
        d = run(d,
                {{"op", "key.set"}, {"parts", {"cart"}}, {"channel", channel}, {"frame", 0}, {"value", 0}});
    const auto look = [](const Document& now, const Vec3& place, const Vec3& tangent) {
        const auto evaluator = Evaluator::compile(now);
        ASSERT_TRUE(evaluator.ok()) << evaluator.error().message;
        Pose pose = evaluator->make_pose();
        const auto world = [&](const char* part) {
            return pose.world_from_part[*evaluator->part_slot(named(now, part))];
        };
        for (double frame = 0; frame <= 20; frame += 2.5) {
            evaluator->evaluate(frame, pose);
            EXPECT_LT((world("probe").translation - world("cart").point(place)).norm(), 1e-9) << frame;
            EXPECT_LT((world("needle").axis(0) - world("cart").direction(tangent)).norm(), 1e-9);
        }
    };
    // 37.5 % of four metres is half way up the second side.
    look(d, {1, 0.5, 0}, {0, 1, 0});
    // The path is drawn larger: its half metre up the second side lies elsewhere now.
    Path larger = *d.paths.find(ring.id);
    larger.points[1].place.x() = larger.points[2].place.x() = 1.25;
    Document edited = d;
    edited.paths.set(larger);
    look(edited, {1.25, 0.25, 0}, {0, 1, 0});
    EXPECT_EQ(
        refusal(d, {{"op", "constraint.add"}, {"parts", {"probe"}}, {"asks", "rest"}, {"path", "ring"}}).code,
        "constraint.path");
    EXPECT_EQ(
        refusal(d, {{"op", "constraint.add"}, {"parts", {"probe"}}, {"asks", "place"}, {"along", "1 m"}})
            .code,
        "constraint.path");
    // The path goes, and what followed it goes with it.
    EXPECT_TRUE(run(d, {{"op", "path.remove"}, {"path", "ring"}}).constraints.empty());
}

TEST(Constraint, CirclesAndWhatNoJointCanAnswerAreRefusedByName) {
    Document d = turret();
    const auto refused = [&](const json& step) { return refusal(d, step); };
    EXPECT_EQ(
        refused({{"op", "constraint.add"}, {"parts", {"mast"}}, {"asks", "aim"}, {"target", "target"}}).code,
        "constraint.fixed");
    EXPECT_EQ(
        refused({{"op", "constraint.add"}, {"parts", {"head"}}, {"asks", "aim"}, {"target", "head"}}).code,
        "constraint.itself");
    // What hangs below it moves with it.
    const Error below =
        refused({{"op", "constraint.add"}, {"parts", {"head"}}, {"asks", "aim"}, {"target", "barrel"}});
    EXPECT_EQ(below.code, "rig.loop");
    EXPECT_NE(below.message.find("barrel"), std::string::npos) << below.message;
    d = run(d, {{"op", "constraint.add"}, {"parts", {"head"}}, {"asks", "aim"}, {"target", "target"}});
    const Error round =
        refused({{"op", "constraint.add"}, {"parts", {"target"}}, {"asks", "place"}, {"target", "barrel"}});
    EXPECT_EQ(round.code, "rig.loop");
    for (const char* name : {"head", "target"})
        EXPECT_NE(round.message.find(name), std::string::npos) << round.message;
    EXPECT_EQ(refused({{"op", "constraint.add"},
                       {"parts", {"head"}},
                       {"asks", "aim"},
                       {"target", "target"},
                       {"blend", 1.5}})
                  .code,
              "channel.range");
    EXPECT_EQ(refused({{"op", "constraint.add"}, {"parts", {"target"}}, {"asks", "inside"}}).code,
              "constraint.bounds");
    EXPECT_EQ(refused({{"op", "constraint.add"},
                       {"parts", {"target"}},
                       {"asks", "inside"},
                       {"least_x", 1},
                       {"most_x", 0}})
                  .code,
              "constraint.bounds");
    EXPECT_EQ(refused({{"op", "joint.set"}, {"parts", {"head"}}, {"kind", "fixed"}}).code, "joint.coupled");
}

TEST(Constraint, GoalsFarAwayOrOnThePivotGiveNoNonsense) {
    Document d = turret();
    for (const json& to : {json{0.4, -0.2, 1.5}, json{1e12, 0, 0}, json{0.4, -0.2, 9}}) {
        Document asked = d;
        for (const char* asks : {"aim", "place"})
            asked = run(asked, {{"op", "constraint.add"}, {"parts", {"head"}}, {"asks", asks}, {"to", to}});
        EXPECT_TRUE(std::isfinite(At(asked)(10).value("head", ChannelKind::Turn)));
        EXPECT_TRUE(At(asked)(10).world("barrel").translation.allFinite());
    }
}

TEST(Constraint, MatchNowSetsWhatStayingWouldHaveAnswered) {
    Document d = turret();
    const json step{{"parts", {"head"}}, {"asks", "aim"}, {"target", "target"}, {"frame", 40}};
    json stays = step, once = step;
    stays["op"] = "constraint.add";
    once["op"] = "constraint.match";
    const Document matched = run(d, once);
    EXPECT_TRUE(matched.constraints.empty());
    EXPECT_NEAR(At(matched)(0).value("head", ChannelKind::Turn),
                At(run(d, stays))(40).value("head", ChannelKind::Turn), 1e-15);
    // A joint that has keys gets one.
    d = run(d, {{"op", "key.set"}, {"parts", {"head"}}, {"channel", "turn"}, {"frame", 0}, {"value", "0"}});
    const Document keyed = run(d, once);
    const Track* track = keyed.clips.begin()->track({*find_part(d, "head"), ChannelKind::Turn});
    ASSERT_EQ(track->keys.size(), 2u);
    EXPECT_EQ(track->keys[1].frame, 40);
}

TEST(Constraint, ItIsKeptInFilesAndGoesWithItsPart) {
    Document d = turret();
    d = run(d, {{"op", "constraint.add"},
                {"parts", {"barrel"}},
                {"asks", "turn"},
                {"target", "target"},
                {"keep", true},
                {"second", "-z"},
                {"towards", "mast"},
                {"axes", "target"},
                {"y", false},
                {"blend", 0.5}});
    d = run(d, {{"op", "constraint.add"},
                {"parts", {"target"}},
                {"asks", "inside"},
                {"least_x", -1},
                {"most_z", "40 mm"}});
    const auto bytes = project_bytes(d);
    ASSERT_TRUE(bytes.ok());
    const auto again = project_from_bytes(*bytes, "p.glb");
    ASSERT_TRUE(again.ok()) << again.error().message;
    EXPECT_TRUE(again->constraints == d.constraints);
    const Document without_target = run(d, {{"op", "part.remove"}, {"parts", {"target"}}});
    ASSERT_EQ(without_target.constraints.size(), 1u) << "its target is gone: it follows the world";
    EXPECT_FALSE(without_target.constraints.begin()->target);
    EXPECT_TRUE(run(d, {{"op", "part.remove"}, {"parts", {"target", "barrel"}}}).constraints.empty());
}

TEST(Constraint, ItsMirrorImageIsTheImageOfItsMotion) {
    Document d = turret();
    d = run(d, {{"op", "constraint.add"}, {"parts", {"head"}}, {"asks", "aim"}, {"target", "target"}});
    d = run(d, {{"op", "constraint.add"},
                {"parts", {"barrel"}},
                {"asks", "aim"},
                {"target", "target"},
                {"axis", "-x"}});
    d = run(
        d,
        {{"op", "part.mirror"}, {"parts", {"mast", "target"}}, {"normal", {0, 1, 0}}, {"point", {0, -2, 0}}});
    ASSERT_EQ(d.constraints.size(), 4u);
    const Mat3 image = Vec3(1, -1, 1).asDiagonal();
    std::vector<std::pair<PartId, PartId>> pairs;
    for (const char* name : {"head", "barrel", "target"}) {
        const PartId original = *find_part(d, name);
        for (const Part& part : d.parts)
            if (part.name != name && part.name.starts_with(name)) pairs.push_back({original, part.id});
    }
    ASSERT_EQ(pairs.size(), 3u);
    const auto evaluator = Evaluator::compile(d);
    Pose pose = evaluator->make_pose();
    for (double frame = 0; frame <= 80; frame += 4) {
        evaluator->evaluate(frame, pose);
        for (const auto& [original, copy] : pairs) {
            const Frame a = pose.world_from_part[*evaluator->part_slot(original)],
                        b = pose.world_from_part[*evaluator->part_slot(copy)];
            for (const Vec3& own : {Vec3(0, 0, 0), Vec3(1, 0, 0), Vec3(0, 0, 1)}) {
                const Vec3 there = image * a.point(own) + Vec3(0, -4, 0);
                // Its own axes may be turned over: the nearest of both signs is the image.
                const double off = std::min({(b.point(own) - there).norm(), (b.point(-own) - there).norm()});
                EXPECT_LT(off, 1e-9) << frame;
            }
        }
    }
}

TEST(Constraint, AnAimedShaftDrivesItsTrain) {
    Document d = turret();
    for (const char* name : {"small", "large"}) {
        add_part(d, name, {}, {Quat(1, 0, 0, 0), Vec3(name[0] == 's' ? 0 : 0.3, 4, 0)});
        d = run(d, {{"op", "joint.set"}, {"parts", {name}}, {"kind", "hinge"}, {"axis", "z"}});
    }
    d = run(d, {{"op", "coupling.gear"},
                {"driver", "small"},
                {"driven", "large"},
                {"driver_teeth", 10},
                {"driven_teeth", 20}});
    d = run(d, {{"op", "constraint.add"}, {"parts", {"small"}}, {"asks", "aim"}, {"target", "target"}});
    At at(d);
    const double start = at(0).value("large", ChannelKind::Turn),
                 first = at(0).value("small", ChannelKind::Turn);
    for (double frame = 0; frame <= 80; frame += 1) {
        at(frame);
        EXPECT_NEAR(at.value("large", ChannelKind::Turn) - start,
                    -0.5 * (at.value("small", ChannelKind::Turn) - first), 1e-12);
    }
    const auto twice = make_registry().run(
        d, {{"op", "constraint.add"}, {"parts", {"large"}}, {"asks", "aim"}, {"target", "target"}});
    EXPECT_FALSE(twice.ok());
}

TEST(Constraint, AnyOrderOfFramesGivesTheSameBits) {
    Document d = turret();
    d = run(d,
            {{"op", "constraint.add"}, {"parts", {"head", "barrel"}}, {"asks", "aim"}, {"target", "target"}});
    At forward(d), back(d);
    std::vector<std::vector<double>> values;
    for (int frame = 0; frame <= 80; ++frame) values.push_back(forward(frame).pose().channels);
    for (int frame = 80; frame >= 0; --frame)
        EXPECT_EQ(back(frame).pose().channels, values[static_cast<std::size_t>(frame)]);
    for (const int frame : {3, 77, 12, 50, 12})
        EXPECT_EQ(back(frame).pose().channels, values[static_cast<std::size_t>(frame)]);
}

}  // namespace
}  // namespace pivrak
