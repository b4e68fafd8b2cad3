#pragma once

#include <gtest/gtest.h>

#include <random>

#include "core/geometry/mesh/mesh_edit.h"
#include "core/geometry/mesh/mesh_faults.h"
#include "core/motion/evaluator.h"
#include "core/operations/split/face_ranges.h"
#include "tests/support/documents.h"

namespace pivrak {
namespace {

using nlohmann::json;
using test::refusal;
using test::run;

inline const Mesh& mesh_of(const Document& d, PartId part) {
    return *d.shapes.find(d.parts.find(part)->shape)->mesh;
}

inline Document can() {
    Document d = empty_document();
    test::add_shaped(d, "can", test::to_mesh(extrude(circle(50, 36), {}, 0, 100)), {},
                     test::world_poses()[1]);
    return d;
}

inline Document rigged() {
    Document d = empty_document();
    const PartId base = test::add_part(d, "rig", {}, {turn_about_axis(2, 0.3), Vec3(0.4, 1.2, 0.7)});
    const PartId a = test::add_shaped(d, "arm left", test::to_mesh(gear({17, 8, 20, 20})), base,
                                      {turn_about_axis(0, 0.2), Vec3(0.1, 0.2, 0)});
    const PartId b = test::add_shaped(d, "wheel front left", test::box({0, 0, 0}, {0.3, 0.2, 0.1}), a,
                                      {Quat(1, 0, 0, 0), Vec3(0.272, 0.1, 0.3)});
    test::make_hinge(d, a, 2, 0.1);
    test::make_hinge(d, b, 2, 0);
    Part slide = *d.parts.find(base);
    slide.joint.kind = JointKind::Free;
    d.parts.set(slide);
    Part limited = *d.parts.find(a);
    limited.joint.turn.limits = Limits{-0.5, 2};
    d.parts.set(limited);
    test::couple(d, a, b, 17, 51, 0.05);
    test::key(d, a, {{0, 0.1, Interpolation::Linear}, {48, 1.7, Interpolation::Linear}});
    Clip clip = clip_or_first(d);
    clip.track_or_new({base, ChannelKind::ShiftY}).keys = {{0, 0, Interpolation::Linear},
                                                           {48, 0.6, Interpolation::Linear}};
    clip.track_or_new({base, ChannelKind::TurnX}).keys = {{0, 0, Interpolation::Linear},
                                                          {48, 0.4, Interpolation::Linear}};
    d.clips.set(clip);
    return d;
}

inline std::vector<Vec3> places_at(const Document& d, PartId part, double frame) {
    const auto evaluator = Evaluator::compile(d);
    EXPECT_TRUE(evaluator.ok());
    Pose pose = evaluator->make_pose();
    evaluator->evaluate(frame, pose);
    const Part& p = *d.parts.find(part);
    const Frame world = pose.world_from_part[*evaluator->part_slot(part)] * p.part_from_shape;
    std::vector<Vec3> places;
    for (const Vec3f& v : d.shapes.find(p.shape)->mesh->positions)
        places.push_back(world.point(v.cast<double>()));
    return places;
}

struct StandIn {
    json step;
    double x, y, z;
};

}  // namespace
}  // namespace pivrak
