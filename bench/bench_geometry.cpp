// B4: pieces of a million triangles against one union-find pass. B5: import against assimp's own reading.
#include <assimp/config.h>
#include <assimp/scene.h>
#include <benchmark/benchmark.h>
#include <fmt/format.h>
#include <unistd.h>

#include <assimp/Importer.hpp>
#include <filesystem>
#include <fstream>

#include "core/geometry/mesh/pieces.h"
#include "core/io/gltf/gltf_write.h"
#include "core/io/import/import_model.h"

namespace pivrak::bench {
namespace {

/// 250 wavy tori of 4 000 triangles each; with `split` every quad has corners of its own, as exporters that
/// write hard edges leave them.
Mesh many_tori(bool split) {
    Mesh mesh;
    constexpr int around = 50, across = 40;
    for (int torus = 0; torus < 250; ++torus) {
        const auto first = static_cast<std::uint32_t>(mesh.positions.size());
        const Vec3 middle(4.0 * (torus % 16), 4.0 * (torus / 16), 0);
        const auto place = [&](int i, int j) {
            const double a = 2 * pi * (i % around) / around, b = 2 * pi * (j % across) / across,
                         r = 1 + 0.3 * std::cos(b);
            return Vec3f(
                (middle + Vec3(r * std::cos(a), r * std::sin(a), 0.3 * std::sin(b) + 0.05 * std::sin(5 * a)))
                    .cast<float>());
        };
        if (!split)
            for (int i = 0; i < around; ++i)
                for (int j = 0; j < across; ++j) mesh.positions.push_back(place(i, j));
        for (int i = 0; i < around; ++i)
            for (int j = 0; j < across; ++j) {
                std::uint32_t a, b, c, d;
                if (split) {
                    a = static_cast<std::uint32_t>(mesh.positions.size());
                    b = a + 1, c = a + 2, d = a + 3;
                    for (const auto& [u, v] :
                         {std::pair(i, j), std::pair(i + 1, j), std::pair(i + 1, j + 1), std::pair(i, j + 1)})
                        mesh.positions.push_back(place(u, v));
                } else {
                    const auto at = [&](int u, int v) {
                        return first + static_cast<std::uint32_t>((u % around) * across + v % across);
                    };
                    a = at(i, j), b = at(i + 1, j), c = at(i + 1, j + 1), d = at(i, j + 1);
                }
                mesh.indices.insert(mesh.indices.end(), {a, b, c, a, c, d});
            }
    }
    mesh.submeshes = {{MaterialId{}, 0, static_cast<std::uint32_t>(mesh.indices.size())}};
    return mesh;
}

template <bool split>
void pieces(benchmark::State& state) {
    const Mesh mesh = many_tori(split);
    for (auto _ : state) {
        const TriangleLabels labels = label_loose_pieces(mesh);
        if (labels.count != 250) state.SkipWithError("wrong count of pieces");
        benchmark::DoNotOptimize(labels.of_triangle.data());
    }
}
template <bool split>
void union_find(benchmark::State& state) {
    const Mesh mesh = many_tori(split);
    for (auto _ : state) benchmark::DoNotOptimize(connected_vertices(mesh).data());
}
void BM_pieces(benchmark::State& state) {
    pieces<false>(state);
}
void BM_union_find(benchmark::State& state) {
    union_find<false>(state);
}
void BM_pieces_split(benchmark::State& state) {
    pieces<true>(state);
}
void BM_union_find_split(benchmark::State& state) {
    union_find<true>(state);
}
BENCHMARK(BM_pieces)->Unit(benchmark::kMillisecond)->Repetitions(7);
BENCHMARK(BM_union_find)->Unit(benchmark::kMillisecond)->Repetitions(7);
BENCHMARK(BM_pieces_split)->Unit(benchmark::kMillisecond)->Repetitions(7);
BENCHMARK(BM_union_find_split)->Unit(benchmark::kMillisecond)->Repetitions(7);

/// Large files, made once and removed at the end.
struct LargeFiles {
    std::filesystem::path folder =
        std::filesystem::temp_directory_path() / fmt::format("pivrak-bench-{}", getpid());
    LargeFiles() {
        std::filesystem::create_directories(folder);
        Mesh mesh = many_tori(false);
        for (std::size_t v = 0; v < mesh.positions.size(); ++v) mesh.normals.emplace_back(0.f, 0.f, 1.f);
        std::ofstream obj(folder / "large.obj");
        for (const Vec3f& p : mesh.positions)
            obj << fmt::format("v {:.5f} {:.5f} {:.5f}\n", p.x(), p.y(), p.z());
        obj << "vn 0 0 1\n";
        for (std::size_t t = 0; t < mesh.triangle_count(); ++t)
            obj << fmt::format("f {0}//1 {1}//1 {2}//1\n", mesh.indices[3 * t] + 1,
                               mesh.indices[3 * t + 1] + 1, mesh.indices[3 * t + 2] + 1);
        const Document d = empty_document();
        GltfBuilder builder(d);
        builder.add_root(builder.add_node("tori", Frame{}, builder.add_mesh(mesh, "tori")));
        std::ofstream(folder / "large.glb", std::ios::binary) << *builder.finish();
    }
    ~LargeFiles() { std::filesystem::remove_all(folder); }
};

const LargeFiles& files() {
    static const LargeFiles large;
    return large;
}

void import_ours(benchmark::State& state, const char* name) {
    for (auto _ : state) {
        const auto in = import_model(empty_document(), files().folder / name);
        if (!in) state.SkipWithError(in.error().message.c_str());
    }
}
void import_assimp(benchmark::State& state, const char* name) {
    for (auto _ : state) {
        Assimp::Importer importer;
        importer.SetPropertyInteger(AI_CONFIG_PP_SBP_REMOVE, aiPrimitiveType_POINT | aiPrimitiveType_LINE);
        if (!importer.ReadFile((files().folder / name).string(), import_flags))
            state.SkipWithError("not read");
    }
}
void BM_import_obj(benchmark::State& state) {
    import_ours(state, "large.obj");
}
void BM_assimp_obj(benchmark::State& state) {
    import_assimp(state, "large.obj");
}
void BM_import_glb(benchmark::State& state) {
    import_ours(state, "large.glb");
}
void BM_assimp_glb(benchmark::State& state) {
    import_assimp(state, "large.glb");
}
BENCHMARK(BM_import_obj)->Unit(benchmark::kMillisecond)->Iterations(1)->Repetitions(5);
BENCHMARK(BM_assimp_obj)->Unit(benchmark::kMillisecond)->Iterations(1)->Repetitions(5);
BENCHMARK(BM_import_glb)->Unit(benchmark::kMillisecond)->Iterations(1)->Repetitions(5);
BENCHMARK(BM_assimp_glb)->Unit(benchmark::kMillisecond)->Iterations(1)->Repetitions(5);

}  // namespace
}  // namespace pivrak::bench
