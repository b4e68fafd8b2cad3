// Picking among a million triangles, repeats over two thousand pieces, counting teeth, and teeth in each
// other.
#include <benchmark/benchmark.h>

#include <random>

#include "core/checks/drive/mesh_interference.h"
#include "core/geometry/fits/repeats.h"
#include "core/geometry/mesh/mesh_edit.h"
#include "core/geometry/mesh/weld.h"
#include "core/geometry/near/ray_scene.h"
#include "core/geometry/teeth/gear_shapes.h"
#include "core/geometry/teeth/tooth_count.h"
#include "core/geometry/teeth/tooth_profile.h"
#include "core/operations/registry.h"

namespace pivrak::bench {
namespace {

/// A wavy sheet of a million triangles.
std::shared_ptr<const Mesh> sheet() {
    static const std::shared_ptr<const Mesh> made = [] {
        Mesh mesh;
        constexpr std::uint32_t side = 708;
        for (std::uint32_t i = 0; i <= side; ++i)
            for (std::uint32_t j = 0; j <= side; ++j) {
                const double x = 0.01 * i, y = 0.01 * j;
                mesh.positions.push_back(Vec3(x, y, 0.2 * std::sin(3 * x) * std::cos(2 * y)).cast<float>());
            }
        for (std::uint32_t i = 0; i < side; ++i)
            for (std::uint32_t j = 0; j < side; ++j) {
                const std::uint32_t a = i * (side + 1) + j, b = a + side + 1;
                mesh.indices.insert(mesh.indices.end(), {a, b, b + 1, a, b + 1, a + 1});
            }
        return std::make_shared<const Mesh>(std::move(mesh));
    }();
    return made;
}

std::vector<Ray> rays(std::size_t count) {
    std::mt19937 random(7);
    // They go half a metre aside on their way down.
    std::uniform_real_distribution<double> place(0.5, 6.3);
    std::vector<Ray> list;
    for (std::size_t i = 0; i < count; ++i)
        list.push_back({Vec3(place(random), place(random), 5), Vec3(0.1, -0.05, -1).normalized()});
    return list;
}

void BM_pick(benchmark::State& state) {
    RayScene scene;
    const std::vector<RayScene::Instance> one{{sheet(), Frame{}}};
    scene.set_instances(one);
    const auto list = rays(64);
    std::size_t i = 0;
    for (auto _ : state) {
        const auto hit = scene.nearest(list[i++ % list.size()]);
        if (!hit) state.SkipWithError("nothing under the pointer");
        benchmark::DoNotOptimize(hit);
    }
}
BENCHMARK(BM_pick)->Unit(benchmark::kMillisecond)->Repetitions(5);

/// Every triangle asked in turn (Moeller and Trumbore 1997).
void BM_pick_by_hand(benchmark::State& state) {
    const Mesh& mesh = *sheet();
    const auto list = rays(4);
    std::size_t i = 0;
    for (auto _ : state) {
        const Ray& ray = list[i++ % list.size()];
        double nearest = 1e300;
        for (std::size_t t = 0; t < mesh.triangle_count(); ++t) {
            const Vec3 a = mesh.corner(t, 0), u = mesh.corner(t, 1) - a, v = mesh.corner(t, 2) - a;
            const Vec3 p = ray.direction.cross(v);
            const double det = u.dot(p);
            if (std::abs(det) < 1e-15) continue;
            const Vec3 s = ray.origin - a;
            const double x = s.dot(p) / det;
            if (x < 0 || x > 1) continue;
            const Vec3 q = s.cross(u);
            const double y = ray.direction.dot(q) / det, d = v.dot(q) / det;
            if (y >= 0 && x + y <= 1 && d > 0 && d < nearest) nearest = d;
        }
        benchmark::DoNotOptimize(nearest);
    }
}
BENCHMARK(BM_pick_by_hand)->Unit(benchmark::kMillisecond)->Iterations(3)->Repetitions(3);

/// Two thousand pieces of forty kinds, each turned anyhow and baked.
const std::vector<Mesh>& pieces() {
    static const std::vector<Mesh> made = [] {
        std::mt19937 random(3);
        std::uniform_real_distribution<double> share(-1, 1);
        std::vector<Mesh> list;
        for (int i = 0; i < 2000; ++i) {
            const int kind = i % 40;
            const Solid solid = kind % 2 ? bolt(8 + kind) : shaft(10 + kind, -20, 20 + 2 * kind, 2, 24);
            const Frame pose{
                Quat(Eigen::AngleAxisd(3 * share(random),
                                       Vec3(share(random), share(random), share(random)).normalized())),
                5 * Vec3(share(random), share(random), share(random))};
            list.push_back(transformed(solid_mesh(solid, 1e-3), pose));
        }
        return list;
    }();
    return made;
}

void BM_repeats(benchmark::State& state) {
    std::vector<const Mesh*> list;
    for (const Mesh& mesh : pieces()) list.push_back(&mesh);
    for (auto _ : state) {
        const auto groups = find_repeats(list);
        if (groups.size() != 40) state.SkipWithError("wrong number of kinds");
    }
}
BENCHMARK(BM_repeats)->Unit(benchmark::kMillisecond)->Repetitions(3);

void BM_weld_pieces(benchmark::State& state) {
    for (auto _ : state)
        for (const Mesh& mesh : pieces())
            benchmark::DoNotOptimize(weld_points(mesh.positions, 1e-4).of_vertex.data());
}
BENCHMARK(BM_weld_pieces)->Unit(benchmark::kMillisecond)->Repetitions(3);

/// Gears of 8 to 200 teeth with vertices off by 2 % of the module.
const std::vector<Mesh>& gears() {
    static const std::vector<Mesh> made = [] {
        std::mt19937 random(5);
        std::uniform_real_distribution<float> off(-8e-5f, 8e-5f);
        std::vector<Mesh> list;
        for (int teeth = 8; teeth <= 200; teeth += 4) {
            Mesh mesh = solid_mesh(gear({teeth, 4, 20, 3}), 1e-3);
            for (Vec3f& p : mesh.positions) p += Vec3f(off(random), off(random), off(random));
            list.push_back(std::move(mesh));
        }
        return list;
    }();
    return made;
}

void BM_count_teeth(benchmark::State& state) {
    std::size_t right = 0;
    for (auto _ : state) {
        right = 0;
        for (std::size_t i = 0; i < gears().size(); ++i) {
            const auto found = count_outside_teeth(gears()[i], Frame{});
            right += found && found->teeth == static_cast<int>(8 + 4 * i);
        }
    }
    state.counters["wrong"] = static_cast<double>(gears().size() - right);
}
BENCHMARK(BM_count_teeth)->Unit(benchmark::kMillisecond)->Repetitions(3);

/// A planet of 21 teeth in a ring of 60.
struct PlanetInRing {
    Document document = empty_document();

    PlanetInRing() {
        const Registry registry = make_registry();
        using nlohmann::json;
        for (const json& step :
             {json{{"op", "stand_in.add"},
                   {"kind", "ring gear"},
                   {"name", "ring"},
                   {"teeth", 60},
                   {"module", 0.004},
                   {"diameter", 0.27},
                   {"width", 0.03},
                   {"axis", "z"},
                   {"at", {0, 0, 0}}},
              json{{"op", "stand_in.add"},
                   {"kind", "gear"},
                   {"name", "planet"},
                   {"teeth", 21},
                   {"module", 0.004},
                   {"width", 0.03},
                   {"axis", "z"},
                   {"at", {0.078, 0, 0}}},
              json{{"op", "joint.set"}, {"parts", {"planet", "ring"}}, {"kind", "hinge"}, {"axis", "x"}},
              json{{"op", "coupling.gear"}, {"driver", "planet"}, {"driven", "ring"}}})
            document = registry.run(document, step)->document;
    }
};

void BM_teeth_of_planet(benchmark::State& state) {
    const PlanetInRing made;
    for (auto _ : state)
        benchmark::DoNotOptimize(
            mesh_interference(made.document, *made.document.couplings.begin()->as<GearPair>(), 120));
}
BENCHMARK(BM_teeth_of_planet)->Unit(benchmark::kMillisecond)->Repetitions(3);

/// Every count tried one after the other.
void BM_count_teeth_by_trial(benchmark::State& state) {
    for (auto _ : state)
        for (const Mesh& mesh : gears())
            for (int teeth = 5; teeth <= 300; teeth += 5)
                benchmark::DoNotOptimize(tooth_profile(mesh, Frame{}, teeth).strength);
}
BENCHMARK(BM_count_teeth_by_trial)->Unit(benchmark::kMillisecond)->Iterations(1)->Repetitions(3);

}  // namespace
}  // namespace pivrak::bench
