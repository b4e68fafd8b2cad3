// Constraints, judged from where parts stand in the world, also between frames: what is asked, what the joint
// gives, and that nothing but the joint ever moves.
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

TEST(Constraint, ATurretAndItsBarrelAimTogetherByTheirOwnAxesOnly) {
    Document d = turret();
    d = run(d, {{"op", "constraint.add"}, {"parts", {"head"}}, {"asks", "aim"}, {"target", "target"}});
    d = run(d, {{"op", "constraint.add"}, {"parts", {"barrel"}}, {"asks", "aim"}, {"target", "target"}});
    At at(d);
    for (double frame = 0; frame <= 80; frame += 0.25) {
        at(frame);
        const Frame head = at.world("head"), barrel = at.world("barrel");
        const Vec3 target = at.world("target").translation;
        // The head turns about its mast only, until its x points at the target as seen from above.
        EXPECT_EQ(head.translation, Vec3(0.4, -0.2, 1.5));
        EXPECT_LT(angle(head.axis(2), Vec3::UnitZ()), 1e-15);
        const Vec3 flat = target - head.translation;
        EXPECT_LT(angle(head.axis(0), Vec3(flat.x(), flat.y(), 0)), 1e-12) << frame;
        // The barrel nods in the head's plane, and so hits it.
        EXPECT_LT(angle(barrel.axis(1), head.axis(1)), 1e-15);
        EXPECT_LT(angle(barrel.axis(0), target - barrel.translation), 1e-12) << frame;
    }
    EXPECT_GT(at(60).world("head").axis(0).y(), 0.5) << "it did turn";
}

TEST(Constraint, LimitsHoldAndWhatIsMissedIsToldWithItsFrame) {
    Document d = turret();
    d = run(d, {{"op", "channel.limit"},
                {"parts", {"head"}},
                {"channel", "turn"},
                {"min", "-30 deg"},
                {"max", "30 deg"}});
    d = run(d, {{"op", "constraint.add"}, {"parts", {"head"}}, {"asks", "aim"}, {"target", "target"}});
    At at(d);
    double most = 0;
    for (double frame = 0; frame <= 80; frame += 0.5) {
        at(frame);
        EXPECT_LE(std::abs(at.value("head", ChannelKind::Turn)), 30 * rad_per_deg);
        const Vec3 flat = at.world("target").translation - at.world("head").translation;
        const double misses = angle(at.world("head").axis(0), flat);
        EXPECT_NEAR(at.miss("head aims at target")->turn_rad, misses, 1e-12);
        most = std::max(most, misses);
    }
    EXPECT_GT(most, 1);
    const auto findings = check_document(d);
    const auto found = std::find_if(findings.begin(), findings.end(),
                                    [](const Finding& f) { return f.code == "constraint.held"; });
    ASSERT_NE(found, findings.end());
    EXPECT_NE(found->message.find("stands at its limit"), std::string::npos) << found->message;
}

TEST(Constraint, ASlideGoesToTheNearestPlaceOfItsLine) {
    Document d = turret();
    const PartId rail = add_part(d, "rail", {}, {Quat(Eigen::AngleAxisd(0.4, Vec3::UnitZ())), Vec3(1, 1, 0)});
    add_part(d, "carriage", rail, {});
    d = run(d, {{"op", "joint.set"}, {"parts", {"carriage"}}, {"kind", "slide"}, {"axis", "x"}});
    d = run(d, {{"op", "constraint.add"}, {"parts", {"carriage"}}, {"asks", "place"}, {"target", "target"}});
    At at(d);
    const Vec3 along = at(0).world("rail").axis(0);
    for (double frame = 0; frame <= 80; frame += 0.25) {
        at(frame);
        const Vec3 off = at.world("target").translation - at.world("carriage").translation;
        EXPECT_NEAR(off.dot(along), 0, 1e-12) << "the foot of the perpendicular";
        EXPECT_LT(along.cross(at.world("carriage").translation - Vec3(1, 1, 0)).norm(), 1e-12);
        EXPECT_NEAR(at.miss("carriage goes with target")->place_m, off.norm(), 1e-12);
    }
}

TEST(Constraint, AFreePartFollowsWhollyAndKeepsItsOffset) {
    Document d = turret();
    add_part(d, "drone", {}, {Quat(Eigen::AngleAxisd(1, Vec3(1, 2, 3).normalized())), Vec3(3.5, 0.5, 2.5)});
    d = run(d, {{"op", "joint.set"}, {"parts", {"drone"}}, {"kind", "free"}});
    for (const char* channel : {"turn_x", "turn_y", "turn_z"})
        d = run(
            d,
            {{"op", "key.set"}, {"parts", {"target"}}, {"channel", channel}, {"frame", 0}, {"value", "0"}});
    d = run(d, {{"op", "key.set"},
                {"parts", {"target"}},
                {"channel", "turn_y"},
                {"frame", 80},
                {"value", "70 deg"}});
    d = run(d, {{"op", "key.set"},
                {"parts", {"target"}},
                {"channel", "turn_z"},
                {"frame", 80},
                {"value", "300 deg"}});
    const Frame kept =
        world_from_rest(d, *find_part(d, "target")).inverse() * world_from_rest(d, *find_part(d, "drone"));
    for (const char* asks : {"place", "turn"})
        d = run(d, {{"op", "constraint.add"},
                    {"parts", {"drone"}},
                    {"asks", asks},
                    {"target", "target"},
                    {"keep", true}});
    At at(d);
    for (double frame = 0; frame <= 80; frame += 0.25) {
        at(frame);
        const Frame now = at.world("target").inverse() * at.world("drone");
        EXPECT_LT((now.translation - kept.translation).norm(), 1e-12);
        EXPECT_LT(angle_between(now.rotation, kept.rotation), 1e-12);
    }
}

TEST(Constraint, SwitchesLeaveAxesAlone) {
    Document d = turret();
    add_part(d, "shadow", {}, {Quat(1, 0, 0, 0), Vec3(0, 0, 0.1)});
    d = run(d, {{"op", "joint.set"}, {"parts", {"shadow"}}, {"kind", "free"}});
    d = run(d, {{"op", "constraint.add"},
                {"parts", {"shadow"}},
                {"asks", "place"},
                {"target", "target"},
                {"z", false}});
    At at(d);
    for (const double frame : {0.0, 12.5, 33.0, 80.0}) {
        at(frame);
        const Vec3 target = at.world("target").translation;
        EXPECT_LT((at.world("shadow").translation - Vec3(target.x(), target.y(), 0.1)).norm(), 1e-12);
        EXPECT_LT(at.miss("shadow goes with target")->place_m, 1e-12) << "nothing is asked along z";
    }
}

TEST(Constraint, ABlendThatIsKeyedMixesWithTheKeysOfTheJoint) {
    Document d = turret();
    d = run(d, {{"op", "constraint.add"},
                {"parts", {"head"}},
                {"asks", "aim"},
                {"target", "target"},
                {"name", "look"}});
    d = run(d, {{"op", "key.set"},
                {"elements", {"look"}},
                {"channel", "blend"},
                {"frame", 0},
                {"value", 0},
                {"interpolation", "linear"}});
    d = run(d, {{"op", "key.set"},
                {"elements", {"look"}},
                {"channel", "blend"},
                {"frame", 80},
                {"value", 1},
                {"interpolation", "linear"}});
    // With its blend keyed, hands and keys of the joint count again.
    EXPECT_FALSE(driver_name(d, {*find_part(d, "head"), ChannelKind::Turn}));
    d = run(
        d, {{"op", "key.set"}, {"parts", {"head"}}, {"channel", "turn"}, {"frame", 0}, {"value", "-40 deg"}});
    At at(d);
    EXPECT_NEAR(at(0).value("head", ChannelKind::Turn), -40 * rad_per_deg, 1e-12);
    for (const double frame : {10.0, 20.0, 47.25, 80.0}) {
        at(frame);
        const Vec3 way = at.world("target").translation - at.world("head").translation;
        const double aimed = std::atan2(way.y(), way.x()), asked = -40 * rad_per_deg;
        // The shorter way round.
        const double way_round = std::remainder(aimed - asked, 2 * pi);
        EXPECT_NEAR(at.value("head", ChannelKind::Turn), asked + frame / 80 * way_round, 1e-12);
    }
}

TEST(Constraint, TheLastInOrderHasTheLastWord) {
    Document d = turret();
    d = run(d, {{"op", "constraint.add"},
                {"parts", {"head"}},
                {"asks", "aim"},
                {"target", "target"},
                {"name", "first"}});
    d = run(d, {{"op", "constraint.add"},
                {"parts", {"head"}},
                {"asks", "aim"},
                {"to", {0.4, 5, 1.5}},
                {"name", "second"}});
    EXPECT_NEAR(At(d)(0).value("head", ChannelKind::Turn), pi / 2, 1e-12);
    d = run(d, {{"op", "constraint.set"}, {"constraints", {"second"}}, {"order", 1}});
    EXPECT_NEAR(At(d)(0).value("head", ChannelKind::Turn), std::atan2(0.2, 2.6), 1e-12);
    d = run(d, {{"op", "constraint.set"}, {"constraints", {"first"}}, {"on", false}});
    EXPECT_NEAR(At(d)(0).value("head", ChannelKind::Turn), pi / 2, 1e-12);
    d = run(d, {{"op", "constraint.remove"}, {"constraints", {"second"}}});
    EXPECT_EQ(At(d)(0).value("head", ChannelKind::Turn), 0);
}

}  // namespace
}  // namespace pivrak
