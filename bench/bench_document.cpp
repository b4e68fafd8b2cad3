// B9: an edit of one part among 10 000 that can be undone: its time, and what each step keeps in memory.
// Copies of many flat parts, a thousand and four thousand of them.
#include <benchmark/benchmark.h>
#include <malloc.h>

#include "core/operations/history.h"
#include "core/operations/registry.h"

namespace pivrak::bench {
namespace {

void BM_edit(benchmark::State& state) {
    Document d = empty_document();
    for (int i = 0; i < 10000; ++i) {
        Part part;
        part.id = d.new_id<PartId>();
        part.name = "part " + std::to_string(i);
        d.parts.set(part);
    }
    const Registry registry = make_registry();
    History history(d);
    const std::uint64_t first = d.parts.begin()->id.value;
    std::size_t steps = 0;
    const std::size_t before = mallinfo2().uordblks;
    for (auto _ : state) {
        const nlohmann::json step{
            {"op", "part.show"}, {"parts", {first + steps * 37 % 10000}}, {"shown", false}};
        auto outcome = registry.run(history.document(), step);
        if (!outcome) state.SkipWithError(outcome.error().message.c_str());
        history.push(std::move(outcome->document), "Show or hide", step);
        ++steps;
    }
    state.counters["bytes"] = static_cast<double>(mallinfo2().uordblks - before) / static_cast<double>(steps);
}
BENCHMARK(BM_edit)->Unit(benchmark::kMicrosecond)->Iterations(500)->Repetitions(5);

/// Every part copied in one step, then one of them as many times over.
void copy_all(benchmark::State& state, int count) {
    Document d = empty_document();
    nlohmann::json all = nlohmann::json::array();
    for (int i = 0; i < count; ++i) {
        Part part;
        part.id = d.new_id<PartId>();
        part.name = "part " + std::to_string(i);
        all.push_back(part.id.value);
        d.parts.set(part);
    }
    const Registry registry = make_registry();
    const nlohmann::json once{{"op", "part.duplicate"}, {"parts", all}, {"shift", {0, 0, 3}}},
        again{{"op", "part.repeat_line"}, {"parts", {all.front()}}, {"count", count}, {"step", {0, 0, 3}}};
    for (auto _ : state)
        for (const nlohmann::json& step : {once, again})
            if (const auto outcome = registry.run(d, step); !outcome)
                state.SkipWithError(outcome.error().message.c_str());
}
void BM_copies_1000(benchmark::State& state) {
    copy_all(state, 1000);
}
void BM_copies_4000(benchmark::State& state) {
    copy_all(state, 4000);
}
BENCHMARK(BM_copies_1000)->Unit(benchmark::kMillisecond)->Repetitions(3);
BENCHMARK(BM_copies_4000)->Unit(benchmark::kMillisecond)->Repetitions(3);

}  // namespace
}  // namespace pivrak::bench
