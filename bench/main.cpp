// Runs every benchmark once, takes the ratios, and prints the table of docs/benchmarks.md.
// usage: pivrak_bench [PIVRAK PROJECT]    with both, program start is measured too
#include <fmt/format.h>

#include <algorithm>
#include <cstdio>

#include "bench/report.h"

namespace {

void row(const char* id, const char* work, const std::string& wanted, const std::string& measured,
         bool reached) {
    fmt::print("| {} | {} | {} | {} | {} |\n", id, work, wanted, measured, reached ? "yes" : "**no**");
}

/// Seconds from the start of the process to what it draws.
struct Start {
    double first = 0, full = 0;  ///< a picture at all; one with nothing left out
};

/// The middle one of five starts.
Start time_start(const std::string& program, const std::string& project) {
    std::vector<Start> starts;
    for (int i = 0; i < 5; ++i) {
        FILE* pipe = popen((program + " --time-first-frame " + project + " 2>/dev/null").c_str(), "r");
        Start start;
        if (pipe && std::fscanf(pipe, "%lf %lf", &start.first, &start.full) == 2) starts.push_back(start);
        if (pipe) pclose(pipe);
    }
    if (starts.empty()) return {};
    std::ranges::sort(starts, {}, &Start::first);
    return starts[starts.size() / 2];
}

}  // namespace

int main(int argc, char** argv) {
    std::string program, project;
    if (argc >= 3 && argv[1][0] != '-') {
        program = argv[1];
        project = argv[2];
        argv[2] = argv[0];
        argc -= 2;
        argv += 2;
    }
    benchmark::Initialize(&argc, argv);
    pivrak::bench::Collector times;
    benchmark::RunSpecifiedBenchmarks(&times);

    fmt::print("\n| id | work | to reach | measured | reached |\n|---|---|---|---|---|\n");
    const auto ratio = [&](const char* id, const char* work, double wanted, const char* ours,
                           const char* theirs) {
        if (times.seconds(ours) <= 0 || times.seconds(theirs) <= 0) return;
        const double measured = times.seconds(ours) / times.seconds(theirs);
        row(id, work, fmt::format("at most {}x", wanted),
            fmt::format("{:.2f}x ({:.3f} ms / {:.3f} ms)", measured, 1e3 * times.seconds(ours),
                        1e3 * times.seconds(theirs)),
            measured <= wanted);
    };
    ratio("B1", "one frame of 10 000 parts, 1 000 keyed, 2 000 gear couplings / loop by hand", 1.5,
          "BM_evaluator", "BM_by_hand");
    const double allocations = times.counter("BM_evaluator", "allocations");
    row("B1", "allocations while evaluating", "none", fmt::format("{:.0f}", allocations), allocations == 0);
    ratio("B4", "pieces of 1 000 000 triangles / union-find pass over the indices", 2, "BM_pieces",
          "BM_union_find");
    // Here each of two million corners has to be welded, which no pass over the indices does: told, not
    // judged.
    if (times.seconds("BM_pieces_split") > 0)
        fmt::print(
            "| B4 | the same, every quad with corners of its own: all of them are welded | no target | "
            "{:.1f}x ({:.0f} ms) | - |\n",
            times.seconds("BM_pieces_split") / times.seconds("BM_union_find_split"),
            1e3 * times.seconds("BM_pieces_split"));
    ratio("B5", "import of an OBJ of 1 000 000 triangles / assimp reading it", 1.25, "BM_import_obj",
          "BM_assimp_obj");
    ratio("B5", "import of a GLB of 1 000 000 triangles / assimp reading it", 1.25, "BM_import_glb",
          "BM_assimp_glb");
    ratio("B6", "clearance at 360 steps, 50 000 against 200 000 triangles, same answers / FCL asked anew",
          0.1, "BM_swing", "BM_swing_anew");
    ratio("ride", "one frame of 200 riders with 400 rolling wheels / the riders' frames alone", 1.5,
          "BM_riders", "BM_riders_by_hand");
    const auto far_frame = [&](const char* what, const char* name) {
        const double seconds = times.seconds(name);
        if (seconds > 0) row("roll", what, "20 ms", fmt::format("{:.1f} ms", 1e3 * seconds), seconds <= 0.02);
    };
    far_frame("frame 5 000 of 10 000 after an edit at frame 0: 200 riders, 400 wheels by their path",
              "BM_far_frame_riders");
    far_frame("the same: a car of four sprung wheels on the floor, integrated", "BM_far_frame_floor");
    far_frame("the same on a field of 60 000 triangles", "BM_far_frame_field");
    if (const double chain = times.seconds("BM_chain"); chain > 0) {
        row("B7", "one frame of a chain of 1 000 links, one run hanging", "0.2 ms",
            fmt::format("{:.3f} ms", 1e3 * chain), chain <= 2e-4 && times.counter("BM_chain", "placed") > 0);
        const double worst = times.counter("BM_chain", "worst_nm");
        row("B7", "largest difference of a pin's distance to the next from the pitch", "1 nm",
            fmt::format("{:.4f} nm", worst), worst <= 1);
    }
    if (const double train = times.seconds("BM_train"); train > 0)
        row("train", "200 shafts solved after an edit", "1 ms", fmt::format("{:.3f} ms", 1e3 * train),
            train <= 1e-3);
    ratio("curves", "10 000 keys on 500 channels, sampled / bare binary search and polynomial", 1.3,
          "BM_curves", "BM_curves_bare");
    ratio("B2", "1 000 formulas of ten terms / the same expressions compiled", 8, "BM_formulas_alone",
          "BM_formulas_compiled");
    ratio("B2", "one frame of 1 000 parts by such formulas / loop by hand", 8, "BM_formulas",
          "BM_formulas_by_hand");
    if (times.seconds("BM_formulas") > 0) {
        const double off = times.counter("BM_formulas", "off");
        row("B2", "largest difference between the two", "1e-9 degrees", fmt::format("{:.1e} degrees", off),
            off <= 1e-9);
    }
    ratio("follow", "one frame of 10 000 followers of one handle / loop by hand", 1.5, "BM_followers",
          "BM_followers_by_hand");
    const auto reach = [&](const std::string& ours, const std::string& how) {
        const std::string kdl = ours + "_kdl";
        ratio("B3",
              fmt::format("reach of six hinges {}, within limits, to 1e-5 / Orocos KDL's "
                          "Levenberg-Marquardt, without limits",
                          how)
                  .c_str(),
              0.2, ours.c_str(), kdl.c_str());
        const double solved = times.counter(ours, "solved");
        if (solved <= 0) return;
        row("B3",
            fmt::format("reachable goals {} solved within limits (KDL: {:.1f} % of them within limits, "
                        "{:.1f} % at all)",
                        how, 100 * times.counter(kdl, "inside"), 100 * times.counter(kdl, "solved"))
                .c_str(),
            "at least 99.9 %", fmt::format("{:.2f} %", 100 * solved), solved >= 0.999);
        const double beyond = times.counter(ours, "beyond");
        row("B3", "joints beyond their limits", "none", fmt::format("{:.0f}", beyond), beyond == 0);
    };
    reach("BM_reach", "with a wrist");
    reach("BM_reach_steps", "whose last axes do not meet");
    if (const double bars = times.seconds("BM_four_bars"); bars > 0)
        row("linkage", "one frame of 200 four-bars while they play", "2 ms",
            fmt::format("{:.3f} ms", 1e3 * bars), bars <= 2e-3);
    const double pick = times.seconds("BM_pick"), by_hand = times.seconds("BM_pick_by_hand");
    if (pick > 0 && by_hand > 0)
        row("pick", "what lies under the pointer among 1 000 000 triangles / asking every triangle",
            "at most 0.001x",
            fmt::format("{:.6f}x ({:.4f} ms / {:.1f} ms)", pick / by_hand, 1e3 * pick, 1e3 * by_hand),
            pick <= 0.001 * by_hand);
    ratio("copies",
          "4 000 flat parts copied, and one of them 4 000 times / the same with 1 000: 4x is linear", 6,
          "BM_copies_4000", "BM_copies_1000");
    if (const double planet = times.seconds("BM_teeth_of_planet"); planet > 0)
        row("gears", "teeth of a planet of 21 in a ring of 60, at 120 positions", "500 ms",
            fmt::format("{:.0f} ms", 1e3 * planet), planet <= 0.5);
    ratio("repeats", "equal pieces among 2 000 / welding their vertices once", 10, "BM_repeats",
          "BM_weld_pieces");
    const double counted = times.seconds("BM_count_teeth"),
                 tried = 5 * times.seconds("BM_count_teeth_by_trial");
    if (counted > 0 && tried > 0) {
        row("teeth",
            "counting teeth of 49 gears, 2 % noise / trying every count from 5 to 300 (a fifth of them "
            "measured)",
            "at most 0.2x",
            fmt::format("{:.3f}x ({:.0f} ms / {:.0f} ms)", counted / tried, 1e3 * counted, 1e3 * tried),
            counted <= 0.2 * tried);
        const double wrong = times.counter("BM_count_teeth", "wrong");
        row("teeth", "wrong counts among them", "none", fmt::format("{:.0f}", wrong), wrong == 0);
    }
    const double edit = times.seconds("BM_edit"), bytes = times.counter("BM_edit", "bytes");
    if (edit > 0) {
        row("B9", "undoable edit of one part among 10 000", "0.2 ms", fmt::format("{:.3f} ms", 1e3 * edit),
            edit <= 0.2e-3);
        row("B9", "memory kept for each step", "200 KB", fmt::format("{:.1f} KB", bytes / 1024),
            bytes <= 200 * 1024);
    }
    if (!program.empty()) {
        const Start start = time_start(program, project);
        row("B11", "program start to first drawn frame with the demo, software OpenGL", "1.0 s",
            fmt::format("{:.2f} s; the first full picture {:.2f} s", start.first, start.full),
            start.first > 0 && start.first <= 1.0);
    }
    return 0;
}
