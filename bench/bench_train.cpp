// Chains of many links in one frame, and trains of shafts solved after an edit.
#include <benchmark/benchmark.h>

#include <cmath>

#include "core/elements/chain/chain_motion.h"
#include "core/motion/evaluator.h"
#include "core/rig/chains/chain_builder.h"
#include "core/rig/gears/train.h"

namespace pivrak::bench {
namespace {

PartId add_hinge(Document& d, const std::string& name, const Vec3& place) {
    Part part;
    part.id = d.new_id<PartId>();
    part.name = name;
    part.joint.kind = JointKind::Hinge;
    part.joint.axis = 1;
    part.parent_from_rest.translation = place;
    d.parts.set(part);
    return part.id;
}

/// A chain of 1 000 links round two sprockets and two rollers, its upper run hanging.
Document long_chain() {
    constexpr int links = 1000;
    constexpr double pitch = 0.0254;
    Document d = empty_document();
    Part datum;
    datum.id = d.new_id<PartId>();
    Chain chain;
    chain.id = d.new_id<ChainId>();
    datum.chain = chain.id;
    datum.parent_from_rest.rotation = turn_about_axis(0, pi / 2);
    chain.frame = datum.id;
    chain.pitch_m = pitch;
    chain.link_count = links;
    chain.slack_after = 1;
    d.parts.set(datum);
    const PartId small = add_hinge(d, "small", {0, 0, 0}), large = add_hinge(d, "large", {12.25, 0, 0}),
                 roller = add_hinge(d, "roller", {6, 0, 0.2});
    chain.wheels = {{small, 19}, {large, 38}, {roller, 0, 0.05}};
    for (int i = 0; i < links; ++i) {
        Part link;
        link.id = d.new_id<PartId>();
        link.name = "link";
        link.parent = datum.id;
        d.parts.set(link);
        chain.links.push_back(link.id);
    }
    d.chains.set(chain);
    Clip clip = clip_or_first(d);
    clip.track_or_new({small, ChannelKind::Turn}).keys = {{0, 0, Interpolation::Linear},
                                                          {120, 30, Interpolation::Linear}};
    d.clips.set(clip);
    return d;
}

void BM_chain(benchmark::State& state) {
    const Document d = long_chain();
    const auto evaluator = Evaluator::compile(d);
    Pose pose = evaluator->make_pose();
    double frame = 0, worst = 0;
    for (auto _ : state) {
        evaluator->evaluate(frame, pose);
        benchmark::DoNotOptimize(pose.world_from_part.data());
        frame = frame > 119 ? 0 : frame + 1;
    }
    const ChainStand& stand = *chain_stand(*evaluator, pose, d.chains.begin()->id);
    for (std::size_t i = 0; i < stand.pins.size(); ++i)
        worst = std::max(worst,
                         std::abs((stand.pins[(i + 1) % stand.pins.size()] - stand.pins[i]).norm() - 0.0254));
    state.counters["worst_nm"] = 1e9 * worst;
    state.counters["placed"] = stand.fit.placed && stand.fit.slack_m > 0;
}
BENCHMARK(BM_chain)->Repetitions(7);

/// 200 shafts one after the other.
Document long_train() {
    Document d = empty_document();
    PartId last = add_hinge(d, "shaft", {0, 0, 0});
    for (int i = 1; i < 200; ++i) {
        const PartId next = add_hinge(d, "shaft", {0.2 * i, 0, 0});
        d.couplings.set(
            {d.new_id<CouplingId>(),
             GearPair{{last, ChannelKind::Turn}, {next, ChannelKind::Turn}, 17 + i % 9, 31 + i % 7}});
        last = next;
    }
    return d;
}

void BM_train(benchmark::State& state) {
    const Document d = long_train();
    for (auto _ : state) benchmark::DoNotOptimize(solve_trains(d));
}
BENCHMARK(BM_train)->Repetitions(7);

}  // namespace
}  // namespace pivrak::bench
