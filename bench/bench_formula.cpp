// B2: formulas against the same expressions compiled by the compiler, and followers against a bare loop.
#include <benchmark/benchmark.h>

#include <algorithm>
#include <cmath>

#include "core/motion/evaluator.h"
#include "core/rig/formulas/formula_program.h"

namespace pivrak::bench {
namespace {

PartId add_driven(Document& d, const char* name, JointKind kind) {
    Part part;
    part.id = d.new_id<PartId>();
    part.name = name;
    part.joint.kind = kind;
    part.joint.axis = 2;
    d.parts.set(part);
    return part.id;
}

/// A slide that goes up a metre within the clip.
PartId add_handle(Document& d) {
    const PartId handle = add_driven(d, "handle", JointKind::Slide);
    Clip clip = clip_or_first(d);
    clip.track_or_new({handle, ChannelKind::Shift}).keys = {{0, 0, Interpolation::Linear},
                                                            {120, 1, Interpolation::Linear}};
    d.clips.set(clip);
    return handle;
}

constexpr int formula_count = 1000, follower_count = 10000;
constexpr double gauge_m = 0.32;

/// Ten terms each, of a channel, a length and the part's own number; every thousandth of a degree differs.
constexpr const char* ten_terms =
    "20 * pull / r + 3 * n - 2 * pull * pull / (r * r) + clamp(pull / r, 0, 2) * 15 - abs(n - 500) / 40 + "
    "sqrt(pull / r + 1) * 6 + sin(30 * pull / r + n) * 4 - min(n, 700) / 9 + max(pull / r, 1) * 2 - 7";

double ten_terms_compiled(double pull, double r, double n) {
    return 20 * pull / r + 3 * n - 2 * pull * pull / (r * r) + std::clamp(pull / r, 0.0, 2.0) * 15 -
           std::abs(n - 500) / 40 + std::sqrt(pull / r + 1) * 6 +
           std::sin((30 * pull / r + n) * rad_per_deg) * 4 - std::min(n, 700.0) / 9 +
           std::max(pull / r, 1.0) * 2 - 7;
}

/// As an evaluator does them, the parts' frames with it.
void BM_formulas(benchmark::State& state) {
    Document d = empty_document();
    const PartId handle = add_handle(d);
    for (int i = 1; i <= formula_count; ++i)
        d.couplings.set({d.new_id<CouplingId>(),
                         Formula{.driven = {add_driven(d, "slat", JointKind::Hinge), ChannelKind::Turn},
                                 .text = ten_terms,
                                 .inputs = {{.name = "pull",
                                             .kind = InputKind::Channel,
                                             .channel = {handle, ChannelKind::Shift}},
                                            {.name = "r",
                                             .kind = InputKind::Constant,
                                             .counts = ConstantKind::Length,
                                             .value = gauge_m},
                                            {.name = "n", .kind = InputKind::Number}},
                                 .number = i}});
    const auto evaluator = Evaluator::compile(d);
    Pose pose = evaluator->make_pose();
    double frame = 0, off = 0;
    for (auto _ : state) {
        evaluator->evaluate(frame, pose);
        benchmark::DoNotOptimize(pose.channels.data());
        frame = frame > 119 ? 0 : frame + 1;
    }
    evaluator->evaluate(60, pose);
    int n = 1;
    for (const Coupling& coupling : d.couplings) {
        const double given = pose.channels[*evaluator->channel_slot(coupling.driven())] * deg_per_rad;
        off = std::max(off, std::abs(given - ten_terms_compiled(0.5, gauge_m, n++)));
    }
    state.counters["off"] = off;
}
BENCHMARK(BM_formulas)->Repetitions(7);

/// The loop by hand: each turn, and the frame it gives.
void BM_formulas_by_hand(benchmark::State& state) {
    std::vector<Frame> rest(formula_count), world(formula_count);
    double pull = 0;
    for (auto _ : state) {
        benchmark::DoNotOptimize(pull);
        for (std::size_t i = 0; i < formula_count; ++i) {
            const double turn = ten_terms_compiled(pull, gauge_m, static_cast<double>(i + 1)) * rad_per_deg;
            world[i] = rest[i];
            world[i].rotation = rest[i].rotation * turn_about_axis(2, turn);
        }
        benchmark::DoNotOptimize(world.data());
        benchmark::ClobberMemory();
        pull = pull > 1 ? 0 : pull + 1.0 / 120;
    }
}
BENCHMARK(BM_formulas_by_hand)->Repetitions(7);

/// Working out alone.
void BM_formulas_alone(benchmark::State& state) {
    const std::vector<FormulaName> names{
        {"pull", length_quantity}, {"r", length_quantity}, {"n", plain_quantity}};
    FormulaProgram program(read_formula(ten_terms, names, 1).tree, names.size());
    std::vector<double> given(formula_count);
    double pull = 0;
    for (auto _ : state) {
        for (std::size_t i = 0; i < formula_count; ++i) {
            const std::span<double> values = program.inputs();
            values[0] = pull;
            values[1] = gauge_m;
            values[2] = static_cast<double>(i + 1);
            given[i] = program.value();
        }
        benchmark::DoNotOptimize(given.data());
        benchmark::ClobberMemory();
        pull = pull > 1 ? 0 : pull + 1.0 / 120;
    }
}
BENCHMARK(BM_formulas_alone)->Repetitions(7);

void BM_formulas_compiled(benchmark::State& state) {
    std::vector<double> given(formula_count);
    double pull = 0, r = gauge_m;
    for (auto _ : state) {
        benchmark::DoNotOptimize(pull);
        benchmark::DoNotOptimize(r);
        for (std::size_t i = 0; i < formula_count; ++i)
            given[i] = ten_terms_compiled(pull, r, static_cast<double>(i + 1));
        benchmark::DoNotOptimize(given.data());
        benchmark::ClobberMemory();
        pull = pull > 1 ? 0 : pull + 1.0 / 120;
    }
}
BENCHMARK(BM_formulas_compiled)->Repetitions(7);

void BM_followers(benchmark::State& state) {
    Document d = empty_document();
    const PartId handle = add_handle(d);
    for (int i = 0; i < follower_count; ++i)
        d.couplings.set(
            {d.new_id<CouplingId>(), Follow{{add_driven(d, "flap", JointKind::Hinge), ChannelKind::Turn},
                                            {handle, ChannelKind::Shift},
                                            0.1 + 1e-4 * i,
                                            0.01}});
    const auto evaluator = Evaluator::compile(d);
    Pose pose = evaluator->make_pose();
    double frame = 0;
    for (auto _ : state) {
        evaluator->evaluate(frame, pose);
        benchmark::DoNotOptimize(pose.world_from_part.data());
        frame = frame > 119 ? 0 : frame + 1;
    }
}
BENCHMARK(BM_followers)->Repetitions(7);

/// What one would write for just these: each turn, and the frame it gives.
void BM_followers_by_hand(benchmark::State& state) {
    std::vector<double> gains(follower_count), turns(follower_count);
    std::vector<Frame> rest(follower_count), world(follower_count);
    for (std::size_t i = 0; i < follower_count; ++i) gains[i] = 0.1 + 1e-4 * static_cast<double>(i);
    double pull = 0;
    for (auto _ : state) {
        benchmark::DoNotOptimize(pull);
        for (std::size_t i = 0; i < follower_count; ++i) turns[i] = 0.01 + gains[i] * pull;
        for (std::size_t i = 0; i < follower_count; ++i) {
            world[i] = rest[i];
            world[i].rotation = rest[i].rotation * turn_about_axis(2, turns[i]);
        }
        benchmark::DoNotOptimize(world.data());
        benchmark::ClobberMemory();
        pull = pull > 1 ? 0 : pull + 1.0 / 120;
    }
}
BENCHMARK(BM_followers_by_hand)->Repetitions(7);

}  // namespace
}  // namespace pivrak::bench
