#include <CLI/CLI.hpp>

#include "cli/commands.h"
#include "cli/render_command.h"

int main(int argc, char** argv) {
    CLI::App app{"Rigs and animates machines, vehicles and props without a window."};
    app.require_subcommand(1);
    app.set_version_flag("--version", "pivrak-cli 0.1.0");
    std::string file, clip, csv;
    bool json = false;
    int exit_code = 0;

    auto* info = app.add_subcommand(
        "info", "Shows the parts, triangles, bounds, materials and findings of a model or project.");
    info->add_option("FILE", file, "a .glb or .obj model, or a .pivrak.glb project")->required();
    info->add_flag("--json", json, "prints JSON");
    info->callback([&] { exit_code = pivrak::cli::info(file, json); });

    auto* ops = app.add_subcommand("ops", "Lists every operation with its arguments.");
    ops->add_flag("--json", json, "prints the schema as JSON");
    ops->callback([&] { exit_code = pivrak::cli::list_operations(json); });

    auto* run = app.add_subcommand("run",
                                   "Runs a job: opens or imports, applies steps, saves and delivers. Nothing "
                                   "is written when a step fails.");
    run->add_option("JOB", file,
                    "a JSON file: {\"open\" or \"import\": FILE, \"steps\": [operations], \"save\": FILE, "
                    "\"deliver\": FILE}; "
                    "file names start from its folder")
        ->required();
    std::string over;
    run->add_option(
        "--over", over,
        "a folder: the job's steps are taken on each model in it, and each is saved beside itself");
    run->add_flag("--json", json, "prints the result as JSON");
    run->callback([&] {
        exit_code = over.empty() ? pivrak::cli::run(file, json) : pivrak::cli::run_over(file, over, json);
    });

    auto* bake = app.add_subcommand(
        "bake", "Writes the world matrix of every part at every frame of a clip as a table.");
    bake->add_option("FILE", file, "a project")->required();
    bake->add_option("--clip", clip, "name of the clip")->required();
    bake->add_option("--csv", csv, "the table to write")->required();
    int per_frame = 1;
    bake->add_option("--per-frame", per_frame, "rows a frame for each part, 1 to 64")
        ->check(CLI::Range(1, 64));
    bake->callback([&] { exit_code = pivrak::cli::bake(file, clip, csv, per_frame); });

    auto* check = app.add_subcommand(
        "check", "Lists the findings of a model or project; exit code 1 when there are any.");
    check->add_option("FILE", file, "a model or project")->required();
    check->add_flag("--json", json, "prints JSON");
    check->callback([&] { exit_code = pivrak::cli::check(file, json); });

    std::string part;
    auto* spin =
        app.add_subcommand("spin", "Measures run-out and tilt of round parts about the axes they turn on.");
    spin->add_option("FILE", file, "a project")->required();
    spin->add_option("--part", part, "one part, by name or path; all hinges and cylinders when left out");
    spin->add_flag("--json", json, "prints JSON");
    spin->callback([&] { exit_code = pivrak::cli::spin(file, part, json); });

    pivrak::cli::SwingCommand sweep;
    auto* swing = app.add_subcommand(
        "swing",
        "Sweeps a part through a range of its joint: clearance to its neighbours and first contacts.");
    swing->add_option("FILE", sweep.file, "a project")->required();
    swing->add_option("--part", sweep.part, "the part, by name or path")->required();
    swing->add_option("--from", sweep.from, "where the range begins, for example -30deg or -0.2m")
        ->required();
    swing->add_option("--to", sweep.to, "where it ends")->required();
    swing->add_option("--steps", sweep.steps, "steps of the curve, or of either side of the chart")
        ->check(CLI::Range(1, 100000));
    auto* with = swing->add_option("--with", sweep.with,
                                   "a second part: clearance for every pair of both joints' values");
    auto* with_from = swing->add_option("--with-from", sweep.with_from, "where its range begins");
    auto* with_to = swing->add_option("--with-to", sweep.with_to, "where it ends");
    with->needs(with_from, with_to);
    with_from->needs(with);
    with_to->needs(with);
    swing->add_flag("--json", sweep.as_json, "prints JSON with the curve");
    swing->callback([&] { exit_code = pivrak::cli::swing(sweep); });

    std::string slip_clip;
    auto* slip = app.add_subcommand(
        "slip", "Measures how much rolling wheels slide over a clip, and whether they touch the ground.");
    slip->add_option("FILE", file, "a project")->required();
    slip->add_option("--clip", slip_clip, "name of the clip; the first one when left out");
    slip->add_flag("--json", json, "prints JSON with every frame");
    slip->callback([&] { exit_code = pivrak::cli::slip(file, slip_clip, json); });

    pivrak::cli::ExerciseCommand exercised;
    auto* exercise = app.add_subcommand(
        "exercise",
        "Runs everything that moves through its range, alone and in pairs; exit code 1 when parts touch, "
        "stop, slide or miss.");
    exercise->add_option("FILE", exercised.file, "a project")->required();
    exercise->add_option("--part", exercised.parts, "only channels of this part; may be given again");
    exercise->add_option("--pairs", exercised.pairs, "motions of two channels at once")
        ->check(CLI::Range(0, 10000));
    exercise->add_option("--seed", exercised.seed, "the same number draws the same pairs again");
    exercise->add_flag("--without-contacts", exercised.without_contacts,
                       "does not look for parts that touch");
    exercise->add_option("--report", exercised.reports,
                         "a report to write, .html or .csv; may be given again");
    exercise->add_flag("--json", exercised.as_json, "prints JSON");
    exercise->callback([&] { exit_code = pivrak::cli::exercise(exercised); });

    auto* train =
        app.add_subcommand("train",
                           "Tells what turns what in every gear train, with exact ratios; exit code 1 "
                           "when drivers clash.");
    train->add_option("FILE", file, "a project")->required();
    train->add_flag("--json", json, "prints JSON");
    train->callback([&] { exit_code = pivrak::cli::train(file, json); });

    int tooth_steps = 120;
    auto* teeth = app.add_subcommand("teeth", "Turns every gear pair once round and measures interference.");
    teeth->add_option("FILE", file, "a project")->required();
    teeth->add_option("--steps", tooth_steps, "positions that are looked at")->check(CLI::Range(1, 10000));
    teeth->add_flag("--json", json, "prints JSON");
    teeth->callback([&] { exit_code = pivrak::cli::teeth(file, tooth_steps, json); });

    double map_frame = 0;
    auto* map =
        app.add_subcommand("map", "Lists drivers and driven, with ratios, and the values at a frame.");
    map->add_option("FILE", file, "a project")->required();
    map->add_option("--frame", map_frame, "of the first clip");
    map->add_flag("--json", json, "prints JSON");
    map->callback([&] { exit_code = pivrak::cli::map(file, map_frame, json); });

    auto* chain = app.add_subcommand("chain", "Tells links, slack and ways to whole links of every chain.");
    chain->add_option("FILE", file, "a project")->required();
    chain->add_flag("--json", json, "prints JSON");
    chain->callback([&] { exit_code = pivrak::cli::chain(file, json); });

    pivrak::cli::GearsCommand search;
    auto* gears = app.add_subcommand("gears", "Finds tooth counts for a wanted ratio.");
    gears->add_option("--ratio", search.ratio, "turns of the first shaft for one of the last")
        ->required()
        ->check(CLI::PositiveNumber);
    gears->add_option("--stages", search.stages, "pairs in a row")->check(CLI::Range(1, 3));
    gears->add_option("--least", search.least, "fewest teeth of a gear")->check(CLI::Range(3, 400));
    gears->add_option("--most", search.most, "most teeth of a gear")->check(CLI::Range(3, 400));
    gears->add_option("--teeth-in-pair", search.teeth_in_pair,
                      "of both gears of each pair: twice the centre distance over the module");
    gears->add_option("--answers", search.answers, "how many are listed")->check(CLI::Range(1, 1000));
    gears->add_flag("--json", search.as_json, "prints JSON");
    gears->callback([&] { exit_code = pivrak::cli::gears(search); });

    std::string path_name, path_file;
    auto* path =
        app.add_subcommand("path", "Writes a path of a project as a drawing (.svg) or a line (.obj).");
    path->add_option("FILE", file, "a project")->required();
    path->add_option("--name", path_name, "name of the path")->required();
    path->add_option("--out", path_file, "the file to write")->required();
    path->callback([&] { exit_code = pivrak::cli::path(file, path_name, path_file); });

#ifdef PIVRAK_RENDERS
    pivrak::cli::RenderCommand drawn;
    auto* render =
        app.add_subcommand("render", "Draws a clip without a window: pictures, a contact sheet or a movie.");
    render->add_option("FILE", drawn.file, "a project")->required();
    render->add_option("--out", drawn.out, "the .png, .webm or .mp4 to write; pictures are numbered")
        ->required();
    render->add_option("--as", drawn.as, "pictures, sheet or movie")
        ->check(CLI::IsMember({"pictures", "sheet", "movie"}));
    render->add_option("--clip", drawn.clip, "name of the clip; the first one when left out");
    render->add_option("--camera", drawn.camera, "name of a camera; all is seen from aside when left out");
    auto* from = render->add_option("--from", drawn.from, "first frame; the clip's when left out");
    auto* to = render->add_option("--to", drawn.to, "last frame; the clip's when left out");
    render->add_option("--every", drawn.every, "frames from picture to picture")->check(CLI::PositiveNumber);
    render->add_option("--width", drawn.width, "pixels")->check(CLI::Range(16, 8192));
    render->add_option("--height", drawn.height, "pixels")->check(CLI::Range(16, 8192));
    render->add_option("--columns", drawn.columns, "of a sheet")->check(CLI::Range(1, 50));
    render->add_flag("--no-edges", drawn.no_edges, "without lines at creases");
    render->add_flag("--night", drawn.night, "in the colours of the night");
    render->callback([&] {
        drawn.has_from = from->count() > 0;
        drawn.has_to = to->count() > 0;
        exit_code = pivrak::cli::render(drawn, argc, argv);
    });
#endif

    CLI11_PARSE(app, argc, argv);
    return exit_code;
}
