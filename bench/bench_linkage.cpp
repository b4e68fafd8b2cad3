// Closed loops in one frame, and rows of joints that reach, against Orocos KDL's Levenberg and Marquardt
// solver.
#include <benchmark/benchmark.h>

#include <kdl/chain.hpp>
#include <kdl/chainfksolverpos_recursive.hpp>
#include <kdl/chainiksolverpos_lma.hpp>
#include <random>

#include "core/motion/evaluator.h"
#include "core/operations/registry.h"
#include "core/rig/reach/reach_solver.h"

namespace pivrak::bench {
namespace {

PartId add_hinge(Document& d, const std::string& name, PartId parent, double turn, const Vec3& place) {
    Part part;
    part.id = d.new_id<PartId>();
    part.name = name;
    part.parent = parent;
    part.joint.kind = JointKind::Hinge;
    part.joint.axis = 2;
    part.parent_from_rest = {turn_about_axis(2, turn), place};
    d.parts.set(part);
    return part.id;
}

/// A crank and rocker: 0.12, 0.35, 0.28 and 0.4 m, drawn as a parallelogram would not be.
void add_four_bar(Document& d, double x, double phase) {
    const double crank = 0.12, coupler = 0.35, rocker = 0.28, ground = 0.4;
    const Vec3 end(crank * std::cos(phase), crank * std::sin(phase), 0), foot(ground, 0, 0), way = foot - end;
    const double far = way.norm(), along = (far * far + coupler * coupler - rocker * rocker) / (2 * far),
                 up = std::sqrt(coupler * coupler - along * along);
    const Vec3 unit = way / far, meets = end + along * unit + up * Vec3(-unit.y(), unit.x(), 0);
    const auto angle = [](const Vec3& v) { return std::atan2(v.y(), v.x()); };
    const PartId turned = add_hinge(d, "crank", {}, phase, Vec3(x, 0, 0));
    const PartId middle = add_hinge(d, "coupler", turned, angle(meets - end) - phase, Vec3(crank, 0, 0));
    const PartId last = add_hinge(d, "rocker", {}, angle(meets - foot), Vec3(x + ground, 0, 0));
    Linkage linkage;
    linkage.id = d.new_id<LinkageId>();
    linkage.name = "four-bar";
    linkage.closures = {{Closes::Pin, middle, last, Vec3(coupler, 0, 0), Vec3(rocker, 0, 0)}};
    linkage.inputs = {{{turned, ChannelKind::Turn}}};
    d.linkages.set(linkage);
    Clip clip = clip_or_first(d);
    clip.track_or_new({turned, ChannelKind::Turn}).keys = {{0, 0, Interpolation::Linear},
                                                           {240, 40, Interpolation::Linear}};
    d.clips.set(clip);
}

void BM_four_bars(benchmark::State& state) {
    Document d = empty_document();
    for (int i = 0; i < 200; ++i) add_four_bar(d, i, 0.5 + 0.01 * i);
    const auto evaluator = Evaluator::compile(d);
    Pose pose = evaluator->make_pose();
    double frame = 0;
    for (auto _ : state) {
        evaluator->evaluate(frame, pose);
        benchmark::DoNotOptimize(pose.world_from_part.data());
        frame = frame > 239 ? 0 : frame + 1;
    }
}
BENCHMARK(BM_four_bars)->Repetitions(5);

/// An arm of six hinges: a turntable, shoulder, elbow, and a wrist of three, whose axes meet in one place or
/// pass one another.
struct Arm {
    ReachModel model;
    KDL::Chain chain;
    std::vector<Frame> goals;
    std::vector<KDL::Frame> kdl_goals;
};

KDL::Frame to_kdl(const Frame& frame) {
    const Quat& q = frame.rotation;
    return {KDL::Rotation::Quaternion(q.x(), q.y(), q.z(), q.w()),
            KDL::Vector(frame.translation.x(), frame.translation.y(), frame.translation.z())};
}

Arm make_arm(double apart) {
    Arm arm;
    MotionBody body;
    const int axes[] = {2, 1, 1, 0, 1, 0};
    const Vec3 offsets[] = {{0, 0, 0},      {0.1, 0, 0.3}, {0, 0, 0.5},
                            {0.1, 0, 0.05}, {0.4, 0, 0},   {0.1, apart, 0}};
    const Limits limits[] = {{-2.9, 2.9}, {-1.7, 2.2}, {-2.4, 1.2}, {-3, 3}, {-2, 2}, {-3, 3}};
    const KDL::Joint::JointType kinds[] = {KDL::Joint::RotX, KDL::Joint::RotY, KDL::Joint::RotZ};
    for (std::uint32_t j = 0; j < 6; ++j) {
        body.frame.translation = body.frame.point(offsets[j]);
        body = arm.model.tree.add_joint(body, JointKind::Hinge, axes[j], j);
        arm.chain.addSegment(
            KDL::Segment(KDL::Joint(KDL::Joint::None), to_kdl({Quat(1, 0, 0, 0), offsets[j]})));
        arm.chain.addSegment(KDL::Segment(KDL::Joint(kinds[axes[j]])));
        arm.model.limits.push_back(limits[j]);
        arm.model.held.push_back(false);
    }
    const Frame tip{Quat(1, 0, 0, 0), Vec3(0.1, 0, 0)};
    body.frame = tip;
    arm.chain.addSegment(KDL::Segment(KDL::Joint(KDL::Joint::None), to_kdl(tip)));
    arm.model.tip = body;
    arm.model.asks_turn = true;
    arm.model.size_m = 1.4;
    arm.model.elbow = 2;
    const ReachSolver solver(arm.model);
    ReachRoom room = solver.make_room();
    std::mt19937 random(9);
    std::uniform_real_distribution<double> share(0, 1);
    for (int i = 0; i < 1000; ++i) {
        std::vector<double> truth;
        for (const Limits& l : arm.model.limits) truth.push_back(l.min + share(random) * (l.max - l.min));
        arm.goals.push_back(solver.tip(truth, room));
        arm.kdl_goals.push_back(to_kdl(arm.goals.back()));
    }
    return arm;
}

constexpr double tolerance = 1e-5;

constexpr double wrist_meets = 0, wrist_passes = 0.02;

/// All goals from one pose, within limits; those that are missed are looked for further.
void reach_all(benchmark::State& state, double apart) {
    const Arm arm = make_arm(apart);
    const ReachSolver solver(arm.model);
    ReachRoom room = solver.make_room();
    const std::vector<double> rest{0.1, 0.3, -0.4, 0.1, 0.5, 0.1};
    double solved = 0, beyond = 0, tried = 0;
    std::size_t i = 0;
    for (auto _ : state) {
        std::vector<double> values = rest;
        const ReachGoal goal{arm.goals[i++ % arm.goals.size()], {}};
        solver.search(values, rest, goal, room);
        const ReachMiss miss = solver.miss(values, goal, room);
        solved += miss.place_m < tolerance && miss.turn_rad < tolerance;
        for (std::size_t c = 0; c < values.size(); ++c)
            beyond +=
                values[c] < arm.model.limits[c].min - 1e-9 || values[c] > arm.model.limits[c].max + 1e-9;
        ++tried;
    }
    state.counters["solved"] = solved / tried;
    state.counters["beyond"] = beyond;
}
/// In closed form.
void BM_reach(benchmark::State& state) {
    reach_all(state, wrist_meets);
}
BENCHMARK(BM_reach)->Repetitions(5);
/// In steps.
void BM_reach_steps(benchmark::State& state) {
    reach_all(state, wrist_passes);
}
BENCHMARK(BM_reach_steps)->Repetitions(5);

/// The same goals; it knows no limits, so what it finds may lie outside them.
void reach_all_kdl(benchmark::State& state, double apart) {
    const Arm arm = make_arm(apart);
    KDL::ChainIkSolverPos_LMA solver(arm.chain, tolerance, 500);
    KDL::JntArray rest(6), values(6);
    const double at[] = {0.1, 0.3, -0.4, 0.1, 0.5, 0.1};
    for (unsigned c = 0; c < 6; ++c) rest(c) = at[c];
    double solved = 0, inside = 0, tried = 0;
    std::size_t i = 0;
    for (auto _ : state) {
        const bool found = solver.CartToJnt(rest, arm.kdl_goals[i++ % arm.kdl_goals.size()], values) >= 0;
        bool within = found;
        for (unsigned c = 0; c < 6 && within; ++c) {
            const double turn = std::remainder(values(c), 2 * pi);
            within = turn >= arm.model.limits[c].min && turn <= arm.model.limits[c].max;
        }
        solved += found;
        inside += within;
        ++tried;
    }
    state.counters["solved"] = solved / tried;
    state.counters["inside"] = inside / tried;
}
void BM_reach_kdl(benchmark::State& state) {
    reach_all_kdl(state, wrist_meets);
}
BENCHMARK(BM_reach_kdl)->Repetitions(5);
void BM_reach_steps_kdl(benchmark::State& state) {
    reach_all_kdl(state, wrist_passes);
}
BENCHMARK(BM_reach_steps_kdl)->Repetitions(5);

}  // namespace
}  // namespace pivrak::bench
