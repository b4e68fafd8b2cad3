// Curves of 10 000 keys on 500 channels: sampled as evaluators do against a bare binary search and
// polynomial.
#include <benchmark/benchmark.h>

#include <algorithm>
#include <random>

#include "core/motion/curve.h"

namespace pivrak::bench {
namespace {

constexpr int channel_count = 500, keys_each = 20;

std::vector<std::vector<CurveKey>> curves() {
    std::mt19937 random(3);
    std::uniform_real_distribution<double> value(-2, 2), gap(1, 11);
    std::vector<std::vector<CurveKey>> all;
    for (int c = 0; c < channel_count; ++c) {
        std::vector<Key> keys;
        double frame = 0;
        for (int i = 0; i < keys_each; ++i) keys.push_back({frame += gap(random), value(random)});
        all.push_back(compile_curve(keys));
    }
    return all;
}

std::vector<double> frames() {
    std::mt19937 random(4);
    std::uniform_real_distribution<double> frame(0, 120);
    std::vector<double> all(1024);
    for (double& one : all) one = frame(random);
    return all;
}

void BM_curves(benchmark::State& state) {
    const auto all = curves();
    const auto at = frames();
    std::size_t n = 0;
    double sum = 0;
    for (auto _ : state) {
        const double frame = at[n++ % at.size()];
        for (const auto& curve : all) sum += sample_curve(curve, Beyond::Hold, Beyond::Hold, frame);
        benchmark::DoNotOptimize(sum);
    }
}
BENCHMARK(BM_curves)->Repetitions(7);

/// Powers of the share of the way to the next key, worked out beforehand.
struct Piece {
    double frame, per_frame, c0, c1, c2, c3;
};

void BM_curves_bare(benchmark::State& state) {
    std::vector<std::vector<Piece>> all;
    for (const auto& curve : curves()) {
        std::vector<Piece> pieces;
        for (std::size_t i = 0; i + 1 < curve.size(); ++i) {
            const CurveKey &a = curve[i], &b = curve[i + 1];
            const double span = b.frame - a.frame, rise = b.value - a.value;
            pieces.push_back({a.frame, 1 / span, a.value, a.out * span, 3 * rise - (2 * a.out + b.in) * span,
                              (a.out + b.in) * span - 2 * rise});
        }
        all.push_back(std::move(pieces));
    }
    const auto at = frames();
    std::size_t n = 0;
    double sum = 0;
    for (auto _ : state) {
        const double frame = at[n++ % at.size()];
        for (const auto& pieces : all) {
            const auto next = std::upper_bound(pieces.begin() + 1, pieces.end(), frame,
                                               [](double f, const Piece& piece) { return f < piece.frame; });
            const Piece& p = *(next - 1);
            const double t = std::clamp((frame - p.frame) * p.per_frame, 0.0, 1.0);
            sum += ((p.c3 * t + p.c2) * t + p.c1) * t + p.c0;
        }
        benchmark::DoNotOptimize(sum);
    }
}
BENCHMARK(BM_curves_bare)->Repetitions(7);

}  // namespace
}  // namespace pivrak::bench
