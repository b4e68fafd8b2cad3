// B1: one frame of 10 000 parts and 2 000 gear couplings, against a loop written by hand for the same
// numbers.
#include <benchmark/benchmark.h>

#include <cstdlib>
#include <new>

#include "core/motion/evaluator.h"
#include "core/rig/joint_motion.h"

namespace {
std::size_t allocations = 0;
}

void* operator new(std::size_t size) {
    ++allocations;
    if (void* memory = std::malloc(size)) return memory;
    throw std::bad_alloc();
}
// The pair of the operator above, which the compiler does not see.
#pragma GCC diagnostic ignored "-Wmismatched-new-delete"
void operator delete(void* memory) noexcept {
    std::free(memory);
}
void operator delete(void* memory, std::size_t) noexcept {
    std::free(memory);
}

namespace pivrak::bench {
namespace {

constexpr std::size_t part_count = 10000, coupling_count = 2000, keyed_count = 1000;

/// Carriers of ten parts each; 3 000 hinges, 1 000 keyed and 2 000 driven by them.
Document big_rig() {
    Document d = empty_document();
    std::vector<PartId> ids;
    for (std::size_t i = 0; i < part_count; ++i) {
        Part part;
        part.id = d.new_id<PartId>();
        part.name = "part";
        if (i % 10) part.parent = ids[i - i % 10 + (i % 10) / 2];
        part.parent_from_rest = {turn_about_axis(static_cast<int>(i % 3), 0.1 * static_cast<double>(i % 17)),
                                 Vec3(0.1, 0.2, 0.3)};
        if (i < keyed_count + coupling_count) part.joint = {JointKind::Hinge, static_cast<int>(i % 3), {}};
        d.parts.set(part);
        ids.push_back(part.id);
    }
    Clip clip = clip_or_first(d);
    for (std::size_t i = 0; i < keyed_count; ++i)
        clip.track_or_new({ids[i], ChannelKind::Turn}).keys = {
            {0, 0, Interpolation::Linear}, {60, 3, Interpolation::Smooth}, {120, -2, Interpolation::Linear}};
    d.clips.set(clip);
    for (std::size_t i = 0; i < coupling_count; ++i)
        d.couplings.set({d.new_id<CouplingId>(), GearPair{{ids[i / 2 + 0], ChannelKind::Turn},
                                                          {ids[keyed_count + i], ChannelKind::Turn},
                                                          17,
                                                          51,
                                                          0.01,
                                                          true}});
    return d;
}

void BM_evaluator(benchmark::State& state) {
    const auto evaluator = Evaluator::compile(big_rig());
    Pose pose = evaluator->make_pose();
    double frame = 0;
    const std::size_t before = allocations;
    for (auto _ : state) {
        evaluator->evaluate(frame, pose);
        benchmark::DoNotOptimize(pose.world_from_part.data());
        frame = frame > 119 ? 0 : frame + 1;
    }
    state.counters["allocations"] = static_cast<double>(allocations - before);
}
BENCHMARK(BM_evaluator)->Repetitions(7);

/// The same arithmetic with the rig known to the loop: who drives whom, which parts turn, in plain arrays.
void BM_by_hand(benchmark::State& state) {
    const Document d = big_rig();
    struct Node {
        Frame rest;
        int parent, axis, channel;
    };
    std::vector<Node> nodes;
    std::vector<double> turns(keyed_count + coupling_count), ratios(coupling_count);
    std::vector<std::vector<CurveKey>> curves;
    std::vector<Frame> world(part_count);
    std::size_t i = 0;
    for (const Part& part : d.parts) {
        nodes.push_back({part.parent_from_rest, i % 10 ? static_cast<int>(i - i % 10 + (i % 10) / 2) : -1,
                         part.joint.axis, i < turns.size() ? static_cast<int>(i) : -1});
        ++i;
    }
    for (std::size_t k = 0; k < keyed_count; ++k)
        curves.push_back(compile_curve(clip_or_first(d).tracks[k].keys));
    for (std::size_t k = 0; k < coupling_count; ++k) {
        const auto axis = [&](std::size_t part) {
            Frame f;
            for (int n = static_cast<int>(part); n >= 0; n = nodes[static_cast<std::size_t>(n)].parent)
                f = nodes[static_cast<std::size_t>(n)].rest * f;
            return f.axis(nodes[part].axis);
        };
        ratios[k] = (axis(k / 2).dot(axis(keyed_count + k)) < 0 ? 1 : -1) * 17.0 / 51;
    }
    double frame = 0;
    for (auto _ : state) {
        for (std::size_t k = 0; k < keyed_count; ++k) turns[k] = sample_curve(curves[k], frame);
        for (std::size_t k = 0; k < coupling_count; ++k)
            turns[keyed_count + k] = ratios[k] * turns[k / 2] + 0.01;
        for (std::size_t n = 0; n < part_count; ++n) {
            Frame local = nodes[n].rest;
            if (nodes[n].channel >= 0)
                local.rotation =
                    local.rotation *
                    turn_about_axis(nodes[n].axis, turns[static_cast<std::size_t>(nodes[n].channel)]);
            world[n] = nodes[n].parent < 0 ? local : world[static_cast<std::size_t>(nodes[n].parent)] * local;
        }
        benchmark::DoNotOptimize(world.data());
        frame = frame > 119 ? 0 : frame + 1;
    }
}
BENCHMARK(BM_by_hand)->Repetitions(7);

}  // namespace
}  // namespace pivrak::bench
