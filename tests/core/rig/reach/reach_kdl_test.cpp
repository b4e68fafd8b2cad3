// Rows of joints against Orocos KDL, which is asked for the same chain.
#include <gtest/gtest.h>

#include <kdl/chain.hpp>
#include <kdl/chainfksolverpos_recursive.hpp>
#include <random>

#include "core/rig/reach/reach_solver.h"

namespace pivrak {
namespace {

KDL::Frame to_kdl(const Frame& frame) {
    const Quat& q = frame.rotation;
    return {KDL::Rotation::Quaternion(q.x(), q.y(), q.z(), q.w()),
            KDL::Vector(frame.translation.x(), frame.translation.y(), frame.translation.z())};
}

double apart(const Frame& ours, const KDL::Frame& theirs) {
    double worst = 0;
    for (int r = 0; r < 3; ++r) {
        worst = std::max(worst, std::abs(ours.translation[r] - theirs.p(r)));
        for (int c = 0; c < 3; ++c)
            worst = std::max(worst, std::abs(ours.rotation.toRotationMatrix()(r, c) - theirs.M(r, c)));
    }
    return worst;
}

/// The same row of hinges and slides for both.
struct BothRows {
    ReachModel model;
    KDL::Chain chain;
};

BothRows random_row(std::mt19937& random) {
    std::uniform_real_distribution<double> share(0, 1);
    BothRows both;
    MotionBody body;
    const std::uint32_t joints = 6 + static_cast<std::uint32_t>(random() % 3);
    for (std::uint32_t j = 0; j < joints; ++j) {
        const Frame before{(turn_about_axis(static_cast<int>(random() % 3), 3 * share(random)) *
                            turn_about_axis(static_cast<int>(random() % 3), 3 * share(random)))
                               .normalized(),
                           Vec3(0.1 + 0.4 * share(random), 0.3 * share(random), 0.3 * share(random) - 0.15)};
        const int axis = static_cast<int>(random() % 3);
        const bool turns = random() % 4 != 0;
        body.frame = body.frame * before;
        body = both.model.tree.add_joint(body, turns ? JointKind::Hinge : JointKind::Slide, axis, j);
        const KDL::Joint::JointType kinds[2][3] = {
            {KDL::Joint::TransX, KDL::Joint::TransY, KDL::Joint::TransZ},
            {KDL::Joint::RotX, KDL::Joint::RotY, KDL::Joint::RotZ}};
        both.chain.addSegment(KDL::Segment(KDL::Joint(KDL::Joint::None), to_kdl(before)));
        both.chain.addSegment(KDL::Segment(KDL::Joint(kinds[turns][axis])));
        const double reach = turns ? 0.5 + 1.5 * share(random) : 0.3;
        both.model.limits.push_back({-reach, reach});
        both.model.held.push_back(false);
    }
    const Frame tip{turn_about_axis(1, 0.7), Vec3(0.1, 0.2, 0.05)};
    body.frame = body.frame * tip;
    both.chain.addSegment(KDL::Segment(KDL::Joint(KDL::Joint::None), to_kdl(tip)));
    both.model.tip = body;
    both.model.size_m = 0.5 * joints;
    both.model.asks_turn = true;
    both.model.elbow = joints / 2;
    return both;
}

KDL::Frame forward(const KDL::Chain& chain, const std::vector<double>& values) {
    KDL::JntArray joints(static_cast<unsigned>(values.size()));
    for (unsigned i = 0; i < values.size(); ++i) joints(i) = values[i];
    KDL::Frame frame;
    KDL::ChainFkSolverPos_recursive(chain).JntToCart(joints, frame);
    return frame;
}

TEST(ReachKdl, ForwardPosesAreTheSameToANanometre) {
    std::mt19937 random(5);
    std::uniform_real_distribution<double> value(-2, 2);
    for (int row = 0; row < 40; ++row) {
        const BothRows both = random_row(random);
        const ReachSolver solver(both.model);
        ReachRoom room = solver.make_room();
        for (int pose = 0; pose < 10; ++pose) {
            std::vector<double> values(both.model.limits.size());
            for (double& v : values) v = value(random);
            EXPECT_LT(apart(solver.tip(values, room), forward(both.chain, values)), 1e-9);
        }
    }
}

TEST(ReachKdl, WhatIsSolvedStandsThereByTheirForwardPose) {
    std::mt19937 random(6);
    std::uniform_real_distribution<double> share(0, 1);
    int missed = 0, asked = 0;
    for (int row = 0; row < 20; ++row) {
        const BothRows both = random_row(random);
        const ReachSolver solver(both.model);
        ReachRoom room = solver.make_room();
        for (int goal = 0; goal < 20; ++goal) {
            std::vector<double> truth(both.model.limits.size()), values(truth.size(), 0.0);
            for (std::size_t c = 0; c < truth.size(); ++c)
                truth[c] = both.model.limits[c].min +
                           share(random) * (both.model.limits[c].max - both.model.limits[c].min);
            const KDL::Frame wanted = forward(both.chain, truth);
            const ReachGoal there{solver.tip(truth, room), {}};
            const std::vector<double> preferred(truth.size(), 0.0);
            solver.solve(values, preferred, there, room);
            solver.search(values, preferred, there, room);
            const KDL::Frame found = forward(both.chain, values);
            ++asked;
            missed += (found.p - wanted.p).Norm() > 1e-5 ||
                      KDL::diff(found.M, wanted.M).Norm() > 1e-3 * rad_per_deg;
        }
    }
    EXPECT_LE(missed, 1) << "of " << asked;
}

}  // namespace
}  // namespace pivrak
