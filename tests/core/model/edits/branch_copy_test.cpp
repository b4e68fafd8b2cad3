// A mirrored mechanism moves as the image of the original: judged by the places of vertices at every frame.
#include <gtest/gtest.h>

#include "core/motion/evaluator.h"
#include "tests/support/documents.h"

namespace pivrak {
namespace {

using nlohmann::json;
using test::named;

/// An uneven shape, so that no symmetry hides a fault.
Mesh wedge() {
    Mesh mesh = test::box({-0.1, -0.2, 0}, {0.5, 0.3, 0.4});
    mesh.positions[7] += Vec3f(0.3f, 0.1f, 0.2f);
    return mesh;
}

std::vector<Vec3> places(const Document& d, const Pose& pose, const Evaluator& evaluator, PartId id) {
    const Part& part = *d.parts.find(id);
    const Frame world = pose.world_from_part[*evaluator.part_slot(id)] * part.part_from_shape;
    std::vector<Vec3> out;
    for (const Vec3f& p : d.shapes.find(part.shape)->mesh->positions)
        out.push_back(world.point(p.cast<double>()));
    return out;
}

/// The furthest that any vertex of a copy is from the image of some vertex of its original, over a clip.
double off_image(const Document& d, const std::vector<std::pair<PartId, PartId>>& pairs) {
    const auto evaluator = Evaluator::compile(d);
    EXPECT_TRUE(evaluator.ok());
    Pose pose = evaluator->make_pose();
    double worst = 0;
    for (double frame = 0; frame <= 10; frame += 2.5) {
        evaluator->evaluate(frame, pose);
        for (const auto& [original, copy] : pairs) {
            const auto now = places(d, pose, *evaluator, original), seen = places(d, pose, *evaluator, copy);
            for (const Vec3& p : now) {
                double nearest = 1e300;
                for (const Vec3& q : seen)
                    nearest = std::min(nearest, (Vec3(p.x(), -p.y(), p.z()) - q).norm());
                worst = std::max(worst, nearest);
            }
        }
    }
    return worst;
}

void key_to(Document& d, PartId id, ChannelKind kind, double to) {
    Clip clip = clip_or_first(d);
    clip.last_frame = 10;
    clip.track_or_new({id, kind}).keys = {{0, 0, Interpolation::Linear}, {10, to, Interpolation::Linear}};
    d.clips.set(clip);
}

TEST(Mirror, EveryJointMovesAsTheImage) {
    struct Case {
        const char* name;
        JointKind joint;
        int axis;
        std::vector<std::pair<ChannelKind, double>> moves;
    };
    using K = ChannelKind;
    for (const Case& c :
         {Case{"slide along x", JointKind::Slide, 0, {{K::Shift, 0.7}}},
          Case{"slide along y", JointKind::Slide, 1, {{K::Shift, 0.7}}},
          Case{"hinge about x", JointKind::Hinge, 0, {{K::Turn, 1.1}}},
          Case{"hinge about y", JointKind::Hinge, 1, {{K::Turn, 1.1}}},
          Case{"cylinder", JointKind::Cylinder, 2, {{K::Turn, 0.8}, {K::Shift, -0.4}}},
          Case{"ball", JointKind::Ball, 0, {{K::TurnX, 0.5}, {K::TurnY, -0.7}, {K::TurnZ, 0.9}}},
          Case{"free",
               JointKind::Free,
               0,
               {{K::ShiftX, 0.3},
                {K::ShiftY, 0.5},
                {K::ShiftZ, -0.2},
                {K::TurnX, 0.5},
                {K::TurnY, -0.7},
                {K::TurnZ, 0.9}}}})
        for (const Frame& pose : test::world_poses()) {
            SCOPED_TRACE(c.name);
            Document d = empty_document();
            const PartId id = test::add_shaped(d, "left arm", wedge(), {}, pose);
            Part part = *d.parts.find(id);
            part.joint.kind = c.joint;
            part.joint.axis = c.axis;
            d.parts.set(part);
            for (const auto& [kind, to] : c.moves) key_to(d, id, kind, to);
            d = test::run(d, {{"op", "part.mirror"}, {"parts", {"left arm"}}});
            EXPECT_LT(off_image(d, {{id, named(d, "right arm")}}), 1e-5);
        }
}

TEST(Mirror, RestingValuesAreThoseOfTheImageToo) {
    Document d = empty_document();
    const PartId id = test::add_shaped(d, "left slide", wedge(), {}, test::world_poses()[1]);
    Part part = *d.parts.find(id);
    part.joint.kind = JointKind::Free;
    part.joint.set_channel(ChannelKind::ShiftY, {0.4, Limits{-1, 0.6}, false});
    part.joint.set_channel(ChannelKind::TurnZ, {0.3, std::nullopt, false});
    d.parts.set(part);
    d = test::run(d, {{"op", "part.mirror"}, {"parts", {"left slide"}}});
    EXPECT_LT(off_image(d, {{id, named(d, "right slide")}}), 1e-5);
}

TEST(Mirror, WormsAndScrewsTakeTheOtherHand) {
    Document d = test::run(empty_document(), {{"op", "stand_in.add"},
                                              {"kind", "worm"},
                                              {"name", "left worm"},
                                              {"teeth", 1},
                                              {"module", 0.004},
                                              {"length", 0.08},
                                              {"diameter", 0.04},
                                              {"axis", "x"},
                                              {"at", {0, 0.5, 1}}});
    d = test::run(d, {{"op", "stand_in.add"},
                      {"kind", "gear"},
                      {"name", "left wheel"},
                      {"teeth", 30},
                      {"module", 0.004},
                      {"width", 0.02},
                      {"axis", "y"},
                      {"at", {0, 0.5, 1.08}}});
    d = test::run(
        d, {{"op", "joint.set"}, {"parts", {"left worm", "left wheel"}}, {"kind", "hinge"}, {"axis", "x"}});
    d = test::run(d, {{"op", "coupling.gear"},
                      {"driver", "left worm"},
                      {"driven", "left wheel"},
                      {"kind", "worm"},
                      {"hand", "left"},
                      {"driver_teeth", 1},
                      {"driven_teeth", 30},
                      {"phase", 0}});
    const PartId bolt = test::add_shaped(d, "left bolt", wedge(), {}, test::world_poses()[1]);
    Part part = *d.parts.find(bolt);
    part.joint.kind = JointKind::Cylinder;
    part.joint.axis = 0;
    d.parts.set(part);
    d = test::run(d, {{"op", "coupling.gear"},
                      {"driver", "left bolt"},
                      {"driven", "left bolt"},
                      {"kind", "screw"},
                      {"lead", 0.3}});
    key_to(d, named(d, "left worm"), ChannelKind::Turn, 5);
    key_to(d, bolt, ChannelKind::Turn, 4);
    d = test::run(d, {{"op", "part.mirror"}, {"parts", {"left worm", "left wheel", "left bolt"}}});
    EXPECT_EQ(d.couplings.size(), 4u);
    EXPECT_LT(
        off_image(d, {{named(d, "left wheel"), named(d, "right wheel")}, {bolt, named(d, "right bolt")}}),
        1e-5);
}

}  // namespace
}  // namespace pivrak
