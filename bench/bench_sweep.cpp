// B6: clearance at 360 steps of a turn, a body of 50 000 triangles against one of 200 000, against FCL asked
// anew.
#include <benchmark/benchmark.h>

#include <cmath>

#include "core/geometry/near/clearance.h"
#include "core/geometry/near/clearance_curve.h"

namespace pivrak::bench {
namespace {

/// A wavy drum, `around` by `along` quads.
Mesh drum(int around, int along, double radius, double length) {
    Mesh mesh;
    for (int i = 0; i < around; ++i)
        for (int j = 0; j <= along; ++j) {
            const double a = 2 * pi * i / around, z = length * j / along - length / 2,
                         r = radius * (1 + 0.05 * std::sin(7 * a) + 0.03 * std::cos(9 * z));
            mesh.positions.push_back(Vec3(r * std::cos(a), r * std::sin(a), z).cast<float>());
        }
    const auto at = [&](int i, int j) { return static_cast<std::uint32_t>((i % around) * (along + 1) + j); };
    for (int i = 0; i < around; ++i)
        for (int j = 0; j < along; ++j)
            mesh.indices.insert(mesh.indices.end(), {at(i, j), at(i + 1, j), at(i + 1, j + 1), at(i, j),
                                                     at(i + 1, j + 1), at(i, j + 1)});
    mesh.submeshes = {{MaterialId{}, 0, static_cast<std::uint32_t>(mesh.indices.size()), {}}};
    return mesh;
}

struct Scene {
    std::shared_ptr<const Mesh> moving = std::make_shared<const Mesh>(drum(250, 100, 0.3, 1.0)),
                                standing = std::make_shared<const Mesh>(drum(500, 200, 0.5, 2.0));
    Frame arm{turn_about_axis(0, 0.4), Vec3(0.6, 0, 0)}, place{turn_about_axis(1, 0.2), Vec3(1.6, 0.3, 0.1)};
    static constexpr int steps = 360;
};

const Scene& scene() {
    static const Scene one;
    return one;
}

std::vector<double> ours() {
    const Scene& s = scene();
    std::vector<double> values, out;
    for (int i = 0; i < Scene::steps; ++i) values.push_back(2 * pi * i / Scene::steps);
    const auto curve =
        clearance_curve({{{s.moving, s.arm}}}, {{{s.standing, s.place}}}, SweepKind::Turn, values);
    for (const Clearance& clearance : *curve) out.push_back(clearance.distance_m);
    return out;
}

std::vector<double> asked_anew() {
    const Scene& s = scene();
    const ClearanceBody a(*s.moving), b(*s.standing);
    std::vector<double> out;
    for (int i = 0; i < Scene::steps; ++i)
        out.push_back(a.distance(Frame{turn_about_axis(2, 2 * pi * i / Scene::steps), Vec3(0, 0, 0)} * s.arm,
                                 b, s.place));
    return out;
}

void BM_swing(benchmark::State& state) {
    std::vector<double> found;
    for (auto _ : state) found = ours();
    const std::vector<double> wanted = asked_anew();
    for (std::size_t i = 0; i < found.size(); ++i)
        if (std::abs(found[i] - wanted[i]) > 1e-6) state.SkipWithError("an answer differs from FCL's");
}
void BM_swing_anew(benchmark::State& state) {
    for (auto _ : state) benchmark::DoNotOptimize(asked_anew().data());
}
BENCHMARK(BM_swing)->Unit(benchmark::kMillisecond)->Iterations(1)->Repetitions(3);
BENCHMARK(BM_swing_anew)->Unit(benchmark::kMillisecond)->Iterations(1)->Repetitions(3);

}  // namespace
}  // namespace pivrak::bench
