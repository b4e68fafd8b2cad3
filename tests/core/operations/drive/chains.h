#pragma once

#include <fmt/format.h>
#include <gtest/gtest.h>

#include <cmath>
#include <set>

#include "core/checks/drive/chain_check.h"
#include "core/checks/findings.h"
#include "core/elements/chain/chain_motion.h"
#include "core/geometry/teeth/gear_shapes.h"
#include "core/io/project/project_file.h"
#include "core/io/project/project_json.h"
#include "core/motion/evaluator.h"
#include "core/rig/chains/chain_remedies.h"
#include "core/rig/gears/train.h"
#include "tests/support/documents.h"

namespace pivrak {
namespace {

using nlohmann::json;
using test::named;
using test::refusal;
using test::run;

/// Two sprockets of a 16B chain whose axes run along y, as stand-ins, and an idler on an arm.
inline Document two_sprockets(double centres = 0.7) {
    Document d = empty_document();
    const auto sprocket = [&](const char* name, int teeth, double x, double z) {
        d = run(d, {{"op", "stand_in.add"},
                    {"kind", "sprocket"},
                    {"name", name},
                    {"teeth", teeth},
                    {"chain", "16B"},
                    {"width", 0.016},
                    {"axis", "y"},
                    {"at", {x, 0, z}}});
    };
    sprocket("small", 19, 0, 1);
    sprocket("large", 38, centres, 1);
    d = run(d, {{"op", "stand_in.add"},
                {"kind", "wheel"},
                {"name", "roller"},
                {"diameter", 0.06},
                {"width", 0.02},
                {"axis", "y"},
                {"at", {0.3, 0, 0.9}}});
    d = run(d, {{"op", "stand_in.add"}, {"kind", "inner link"}, {"name", "inner"}, {"at", {3, 0, 0}}});
    d = run(d, {{"op", "stand_in.add"}, {"kind", "outer link"}, {"name", "outer"}, {"at", {3.1, 0, 0}}});
    return run(
        d, {{"op", "joint.set"}, {"parts", {"small", "large", "roller"}}, {"kind", "hinge"}, {"axis", "x"}});
}

inline Document chained(const json& more = json::object(), double centres = 0.7) {
    json step{{"op", "chain.add"}, {"wheels", {"small", "large"}}, {"pattern", 2}, {"name", "drive"}};
    step.update(more);
    return run(two_sprockets(centres), step);
}

inline const Chain& only_chain(const Document& d) {
    return *d.chains.begin();
}

inline double worst_pitch(const Document& d, double frame) {
    const Chain& chain = only_chain(d);
    const auto evaluator = Evaluator::compile(d);
    Pose pose = evaluator->make_pose();
    evaluator->evaluate(frame, pose);
    double worst = 0;
    const auto place = [&](std::size_t i) {
        return pose.world_from_part[*evaluator->part_slot(chain.links[i % chain.links.size()])].translation;
    };
    for (std::size_t i = 0; i < chain.links.size(); ++i)
        worst = std::max(worst, std::abs((place(i + 1) - place(i)).norm() - chain.pitch_m));
    return worst;
}

inline Document run_over_by_an_arm(const char* slack_after) {
    Document d = two_sprockets(0.7);
    test::add_part(d, "arm", {}, {Quat(1, 0, 0, 0), Vec3(0.6, 0, 0.85)});
    d = run(d, {{"op", "joint.set"}, {"parts", {"arm"}}, {"kind", "hinge"}, {"axis", "y"}});
    d = run(d, {{"op", "tree.parent"}, {"parts", {"roller"}}, {"under", "arm"}});
    d = run(d, {{"op", "chain.add"},
                {"wheels", {"small", "large", "roller"}},
                {"outside", {"roller"}},
                {"name", "drive"},
                {"pattern", 2},
                {"slack_after", slack_after}});
    return d;
}

}  // namespace
}  // namespace pivrak
