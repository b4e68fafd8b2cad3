#include <gtest/gtest.h>
#include <sys/wait.h>

#include <algorithm>
#include <array>
#include <cstdio>
#include <filesystem>
#include <fstream>
#include <map>
#include <nlohmann/json.hpp>
#include <sstream>
#include <string>
#include <vector>

#include "tests/support/temp_folder.h"

namespace pivrak {
namespace {

using nlohmann::json;
using test::TempFolder;

struct Ran {
    int exit_code;
    std::string out;
};

/// Runs the command line program as a person would, errors among the output.
Ran cli(const std::string& arguments) {
    FILE* pipe = popen((std::string(PIVRAK_CLI) + " " + arguments + " 2>&1").c_str(), "r");
    Ran ran{-1, ""};
    std::array<char, 4096> buffer{};
    while (const std::size_t count = fread(buffer.data(), 1, buffer.size(), pipe))
        ran.out.append(buffer.data(), count);
    ran.exit_code = WEXITSTATUS(pclose(pipe));
    return ran;
}

const std::string station = std::string(DEMO_MODELS) + "/drive-station.obj";
const std::string finished = FINISHED_STATION;

/// Without a display of its own; a loop's last frame is its first one.
TEST(Cli, AClipIsDrawnAsPicturesAndAsASheet) {
    const TempFolder folder;
    const Ran drawn = cli("render " + finished + " --out " + (folder / "run.png").string() +
                          " --every 24 --width 160 --height 100");
    ASSERT_EQ(drawn.exit_code, 0) << drawn.out;
    EXPECT_NE(drawn.out.find("3 pictures"), std::string::npos) << drawn.out;
    const std::string first = folder.read("run-0000.png");
    EXPECT_EQ(first.substr(1, 3), "PNG");
    EXPECT_NE(first, folder.read("run-0001.png")) << "it moves";
    EXPECT_EQ(first, folder.read("run-0000.png"));
    const Ran sheet = cli("render " + finished + " --as sheet --out " + (folder / "sheet.png").string() +
                          " --from 0 --to 8 --every 4 --width 300 --height 200");
    EXPECT_EQ(sheet.exit_code, 0) << sheet.out;
    EXPECT_EQ(folder.read("sheet.png").substr(1, 3), "PNG");
    const Ran wrong = cli("render " + finished + " --out " + (folder / "run.bmp").string());
    EXPECT_EQ(wrong.exit_code, 1);
    EXPECT_NE(wrong.out.find(".png"), std::string::npos) << wrong.out;
}

/// One of three models lacks the part that the steps name: it is told, the others are saved.
TEST(Cli, AJobsStepsAreTakenOnEachModelOfAFolder) {
    const TempFolder folder;
    const std::string cube = "v 0 0 0\nv 1 0 0\nv 0 1 0\nv 0 0 1\nf 1 2 3\nf 1 4 2\nf 2 4 3\nf 1 3 4\n";
    for (const char* name : {"one", "two"}) folder.write(std::string(name) + ".obj", "o Lid\n" + cube);
    folder.write("three.obj", "o Door\n" + cube);
    folder.write("notes.txt", "no model");
    folder.write("hinge.job.json",
                 R"({"steps": [{"op": "joint.set", "parts": ["Lid"], "kind": "hinge", "axis": "y"}]})");
    const Ran ran = cli("run " + (folder / "hinge.job.json").string() + " --over " + (folder / "").string());
    EXPECT_EQ(ran.exit_code, 1) << ran.out;
    EXPECT_NE(ran.out.find("three.obj: step 1 (joint.set): "), std::string::npos) << ran.out;
    EXPECT_FALSE(std::filesystem::exists(folder / "three.pivrak.glb"));
    for (const char* name : {"one", "two"}) {
        const std::string project = std::string(name) + ".pivrak.glb";
        ASSERT_TRUE(std::filesystem::exists(folder / project)) << ran.out;
        EXPECT_NE(folder.read(project).find("hinge"), std::string::npos);
        EXPECT_EQ(cli("info " + (folder / project).string()).exit_code, 0);
    }
    EXPECT_NE(cli("run " + (folder / "hinge.job.json").string() + " --over " + (folder / "none").string())
                  .exit_code,
              0);
}

TEST(Cli, HelpNamesEveryCommand) {
    const Ran help = cli("--help");
    EXPECT_EQ(help.exit_code, 0);
    for (const char* command : {"info", "ops", "run", "bake", "check"}) {
        EXPECT_NE(help.out.find(command), std::string::npos);
        EXPECT_EQ(cli(std::string(command) + " --help").exit_code, 0);
    }
    EXPECT_NE(cli("").exit_code, 0);
    EXPECT_NE(cli("fly").exit_code, 0);
}

TEST(Cli, InfoOnTheRawModel) {
    const Ran ran = cli("info --json " + station);
    ASSERT_EQ(ran.exit_code, 0) << ran.out;
    const json info = json::parse(ran.out);
    EXPECT_EQ(info["parts"].size(), 4u);
    EXPECT_EQ(info["materials"].size(), 3u);
    EXPECT_GT(info["triangles"].get<int>(), 30000);
    EXPECT_NEAR(info["bounds_m"]["max"][0].get<double>() - info["bounds_m"]["min"][0].get<double>(), 2.5858,
                1e-3);
    EXPECT_EQ(info["findings"].size(), 3u) << "three lumps of many pieces";
    EXPECT_NE(cli("info " + station).out.find("holds 56 unconnected pieces"), std::string::npos);
}

TEST(Cli, OpsIsASchema) {
    const json ops = json::parse(cli("ops --json").out);
    EXPECT_GT(ops.size(), 12u);
    for (const json& op : ops)
        for (const json& argument : op["arguments"])
            EXPECT_TRUE(argument.contains("type") && argument.contains("summary"));
    EXPECT_NE(cli("ops").out.find("pivot.fit_cylinder"), std::string::npos);
}

TEST(Cli, CheckAnswersWithItsExitCode) {
    EXPECT_EQ(cli("check " + finished).exit_code, 0);
    const Ran raw = cli("check --json " + station);
    EXPECT_EQ(raw.exit_code, 1);
    EXPECT_EQ(json::parse(raw.out).size(), 3u);
}

TEST(Cli, RunReportsAndFailsByStep) {
    TempFolder folder;
    const json job{{"open", finished}, {"steps", json::array()}, {"deliver", "station.glb"}};
    folder.write("job.json", job.dump());
    const Ran good = cli("run --json " + (folder / "job.json").string());
    ASSERT_EQ(good.exit_code, 0) << good.out;
    const json result = json::parse(good.out);
    EXPECT_TRUE(result["ok"].get<bool>());
    EXPECT_LE(result["delivered"]["read_back"]["largest_error_m"].get<double>(), 1e-5);
    EXPECT_LE(result["delivered"]["read_back"]["largest_error_deg"].get<double>(), 0.001);
    json bad = job;
    bad["steps"] = {{{"op", "part.rename"}, {"part", "Layshaft"}, {"name", ""}}};
    bad["deliver"] = "never.glb";
    folder.write("bad.json", bad.dump());
    const Ran failed = cli("run " + (folder / "bad.json").string());
    EXPECT_NE(failed.exit_code, 0);
    EXPECT_NE(failed.out.find("step 1 (part.rename)"), std::string::npos);
    EXPECT_FALSE(std::filesystem::exists(folder / "never.glb"));
    folder.write("text.json", "{ not json");
    EXPECT_NE(cli("run " + (folder / "text.json").string()).exit_code, 0);
    EXPECT_NE(cli("run " + (folder / "absent.json").string()).exit_code, 0);
}

TEST(Cli, BakeWritesATable) {
    TempFolder folder;
    const Ran ran = cli("bake " + finished + " --clip 'station run' --csv " + (folder / "run.csv").string());
    ASSERT_EQ(ran.exit_code, 0) << ran.out;
    const std::string csv = folder.read("run.csv");
    EXPECT_EQ(csv.substr(0, 15), "frame,part,m00,");
    EXPECT_EQ(std::count(csv.begin(), csv.end(), '\n'), 1 + 73 * 189);
    EXPECT_NE(cli("bake " + finished + " --clip nothing --csv " + (folder / "x.csv").string())
                  .out.find("there is no clip 'nothing'"),
              std::string::npos);
}

TEST(Cli, TwoJointsAtOnceAreCharted) {
    TempFolder folder;
    json steps = json::array();
    for (const char* name : {"A", "B"}) {
        const double x = *name == 'A' ? 0.5 : 2.5;
        steps.push_back({{"op", "stand_in.add"}, {"kind", "box"}, {"name", name}, {"at", {x, 0, 0.5}}});
        steps.back().update({{"length", 1}, {"width", 1}, {"height", 1}});
        steps.push_back({{"op", "joint.set"}, {"parts", {name}}, {"kind", "slide"}, {"axis", "x"}});
    }
    folder.write("two.json", json{{"steps", steps}, {"save", "two.pivrak.glb"}}.dump());
    const Ran made = cli("run " + (folder / "two.json").string());
    ASSERT_EQ(made.exit_code, 0) << made.out;
    const std::string swing =
        "swing " + (folder / "two.pivrak.glb").string() + " --part A --from 0 --to 1.5m ";
    const Ran both = cli(swing + "--with B --with-from -50cm --with-to 0 --steps 2 --json");
    ASSERT_EQ(both.exit_code, 0) << both.out;
    const json map = json::parse(both.out);
    // The boxes are 1 m apart: the gap is 1 - a + b.
    EXPECT_NEAR(map["clearance_m"][0][2].get<double>(), 1, 1e-6);
    EXPECT_NEAR(map["clearance_m"][1][1].get<double>(), 0, 1e-6);
    EXPECT_NEAR(map["clearance_m"][0][0].get<double>(), 0.5, 1e-6);
    EXPECT_NE(cli(swing + "--with B --with-from -50cm --with-to 0").out.find("% of all pairs touch"),
              std::string::npos);
    EXPECT_NE(cli(swing + "--with A --with-from 0 --with-to 1").exit_code, 0);
    EXPECT_NE(cli(swing + "--with B").exit_code, 0) << "its range is missing";
}

TEST(Cli, SlipIsMeasuredAndPathsAreWritten) {
    TempFolder folder;
    const json points = json::array({{0, 0, 0}, {6, 1, 0}, {12, 0, 0}});
    json steps = json::array({{{"op", "stand_in.add"},
                               {"kind", "wheel"},
                               {"name", "Wheel"},
                               {"diameter", 0.8},
                               {"at", {0, 0, 0.4}}},
                              {{"op", "joint.set"}, {"parts", {"Wheel"}}, {"kind", "hinge"}, {"axis", "x"}},
                              {{"op", "tree.group"}, {"parts", {"Wheel"}}, {"name", "Cart"}},
                              {{"op", "path.add"}, {"name", "road"}, {"points", points}},
                              {{"op", "ride.set"}, {"parts", {"Cart"}}, {"path", "road"}},
                              {{"op", "coupling.roll"}, {"parts", {"Wheel"}}, {"rider", "Cart"}}});
    for (const int frame : {0, 60})
        steps.push_back({{"op", "key.set"},
                         {"parts", {"Cart"}},
                         {"channel", "along"},
                         {"frame", frame},
                         {"value", frame == 0 ? "0 m" : "10 m"}});
    folder.write("cart.json", json{{"steps", steps}, {"save", "cart.pivrak.glb"}}.dump());
    const Ran made = cli("run " + (folder / "cart.json").string());
    ASSERT_EQ(made.exit_code, 0) << made.out;
    const std::string project = (folder / "cart.pivrak.glb").string();
    const Ran slip = cli("slip --json " + project);
    ASSERT_EQ(slip.exit_code, 0) << slip.out;
    const json wheels = json::parse(slip.out);
    ASSERT_EQ(wheels.size(), 1u);
    EXPECT_NEAR(wheels[0]["travelled_m"].get<double>(), 10, 0.01);
    EXPECT_LT(wheels[0]["slip_m"].get<double>(), 1e-3);
    EXPECT_NE(cli("slip " + finished).out.find("no wheel rolls"), std::string::npos);
    EXPECT_NE(cli("slip --clip nothing " + project).out.find("there is no clip"), std::string::npos);
    ASSERT_EQ(cli("path " + project + " --name road --out " + (folder / "road.svg").string()).exit_code, 0);
    EXPECT_NE(folder.read("road.svg").find("<path d=\"M0,"), std::string::npos);
    EXPECT_NE(cli("path " + project + " --name street --out x.svg").out.find("there is no path 'street'"),
              std::string::npos);
    EXPECT_NE(cli("path " + project + " --name road --out x.txt").exit_code, 0);
}

/// Copies files of the demo into a folder, with a job that delivers too, and runs that.
Ran run_demo_job(const TempFolder& folder, const char* name, const std::vector<const char*>& models) {
    for (const char* model : models)
        std::filesystem::copy_file(std::string(DEMO_MODELS) + "/" + model, folder / model);
    std::ifstream file(std::string(DEMO_MODELS) + "/" + name + ".job.json");
    json job = json::parse(file);
    job["deliver"] = "delivered.glb";
    folder.write("job.json", job.dump());
    return cli("run " + (folder / "job.json").string());
}

TEST(Cli, TheTruckOfTheDemoDrivesOverTheFieldByItsJob) {
    TempFolder folder;
    const Ran made = run_demo_job(folder, "supply-truck", {"supply-truck.glb", "saddle-ground.glb"});
    ASSERT_EQ(made.exit_code, 0) << made.out;
    EXPECT_NE(made.out.find("8 printed tracks off by 0.0"), std::string::npos) << made.out;
    const Ran slip = cli("slip --json " + (folder / "supply-truck.pivrak.glb").string());
    const json wheels = json::parse(slip.out);
    ASSERT_EQ(wheels.size(), 8u);
    for (const json& wheel : wheels) {
        EXPECT_LT(wheel["slip_m"].get<double>(), 1e-4 * wheel["travelled_m"].get<double>());
        EXPECT_LT(wheel["largest_gap_m"].get<double>(), 0.002);
    }
}

TEST(Cli, TheGroomerOfTheDemoKeepsAllItsWheelsOnTheField) {
    TempFolder folder;
    const Ran made = run_demo_job(folder, "groomer", {"groomer.glb", "saddle-ground.glb"});
    ASSERT_EQ(made.exit_code, 0) << made.out;
    const std::string project = (folder / "groomer.pivrak.glb").string();
    const json wheels = json::parse(cli("slip --json " + project).out);
    EXPECT_EQ(wheels.size(), 10u) << "its sprockets and idlers touch no ground";
    const Ran checked = cli("check " + project);
    EXPECT_NE(checked.out.find(" findings"), std::string::npos) << "it was looked at: " << checked.out;
    EXPECT_EQ(checked.out.find("Keys:"), std::string::npos) << "no travel ends: " << checked.out;
}

TEST(Cli, TheCabinsOfTheDemoHangPlumbAllRoundTheRope) {
    TempFolder folder;
    const Ran made = run_demo_job(folder, "cabins", {"cabin.glb"});
    ASSERT_EQ(made.exit_code, 0) << made.out;
    const std::string table = (folder / "cabins.csv").string();
    ASSERT_EQ(cli("bake " + (folder / "cabins.pivrak.glb").string() + " --clip \"once round\" --csv " + table)
                  .exit_code,
              0);
    std::ifstream csv(table);
    std::string line;
    std::getline(csv, line);
    int cabins = 0;
    while (std::getline(csv, line)) {
        std::vector<std::string> cells;
        std::stringstream row(line);
        for (std::string cell; std::getline(row, cell, ',');) cells.push_back(cell);
        if (cells.at(1).find('/') != std::string::npos) continue;  // what a cabin carries
        ++cabins;
        EXPECT_NEAR(std::stod(cells.at(2 + 10)), 1, 1e-9) << line << ": its up is the world's";
    }
    EXPECT_EQ(cabins, 6 * 241);
}

TEST(Cli, BadFilesAreRefusedInOneLine) {
    TempFolder folder;
    folder.write("note.glb", "Hello");
    for (const char* command : {"info", "check"}) {
        const Ran ran = cli(std::string(command) + " " + (folder / "note.glb").string());
        EXPECT_EQ(ran.exit_code, 1);
        EXPECT_NE(ran.out.find("is not a binary glTF file"), std::string::npos) << ran.out;
        EXPECT_EQ(std::count(ran.out.begin(), ran.out.end(), '\n'), 1);
    }
}

TEST(Cli, TrainTellsExactRatiosOfTheStation) {
    const Ran ran = cli("train --json " + finished);
    ASSERT_EQ(ran.exit_code, 0) << ran.out;
    const json report = json::parse(ran.out);
    EXPECT_TRUE(report["clashes"].empty());
    ASSERT_EQ(report["trains"].size(), 1u) << "motor, gears, chain and planets are one train";
    std::map<std::string, json> shafts;
    for (const json& shaft : report["trains"][0]["shafts"]) {
        const std::string path = shaft["shaft"];
        shafts[path.substr(path.rfind('/') + 1)] = shaft;
    }
    EXPECT_EQ(shafts["Input shaft"]["fraction"], "51/17 · 38/19");
    // Source: Willis, ring held: sun to carrier 1 + 60/18 = 13/3; times six.
    EXPECT_EQ(shafts["Carrier"]["fraction"], "26/1");
    EXPECT_EQ(shafts["Ring 60T"]["state"], "held");
    EXPECT_EQ(shafts["Motor shaft"]["state"], "drives");
}

/// What is measured is named, with its own unit.
TEST(Cli, MapNamesWhatIsMeasured) {
    TempFolder folder;
    ASSERT_EQ(run_demo_job(folder, "station-shutter",
                           {"drive-station.job.json", "drive-station.obj", "drive-station.mtl"})
                  .exit_code,
              0);
    const std::string project = (folder / "station-shutter.pivrak.glb").string();
    const Ran ran = cli("map --frame 20 " + project);
    EXPECT_NE(ran.out.find("rope speed speed 0.2979 m/s"), std::string::npos) << ran.out;
    EXPECT_NE(cli("map --frame 20 --json " + project).out.find("\"from\": \"rope speed\""),
              std::string::npos);
}

TEST(Cli, MapTellsWhoMovesWhom) {
    const Ran ran = cli("map --frame 12 --json " + finished);
    ASSERT_EQ(ran.exit_code, 0) << ran.out;
    const auto line = [](const json& edge) {
        const auto name = [](std::string path) { return path.substr(path.rfind('/') + 1); };
        return name(edge["from"]) + " > " + name(edge["to"]) + ": " + edge["by"].get<std::string>();
    };
    std::map<std::string, json> edges;
    for (const json& edge : json::parse(ran.out)) edges[line(edge)] = edge;
    ASSERT_TRUE(edges.contains("Motor shaft > Layshaft: 17 : 51")) << ran.out;
    const json& gears = edges["Motor shaft > Layshaft: 17 : 51"];
    // Whole teeth of the driven gear are between what it turned and where it stands; the phase is less than
    // one.
    const json later = json::parse(cli("map --frame 13 --json " + finished).out);
    for (const json& edge : later)
        if (line(edge) == "Motor shaft > Layshaft: 17 : 51") {
            const auto step = [&](const char* key) {
                return edge[key].get<double>() - gears[key].get<double>();
            };
            EXPECT_GT(std::abs(step("from_value")), 0.1) << "it runs";
            EXPECT_NEAR(step("to_value"), step("from_value") * -17.0 / 51, 1e-9);
        }
    EXPECT_TRUE(edges.contains("Layshaft > Drive chain: 19 T"));
    EXPECT_TRUE(edges.contains("Drive chain > Input shaft: 38 T"));
    EXPECT_TRUE(edges.contains("Planet 2 > Carrier: carried")) << "the planets turn what carries them";
}

TEST(Cli, TeethMeasuresInterference) {
    const Ran ran = cli("teeth --steps 17 --json " + finished);
    ASSERT_EQ(ran.exit_code, 0) << ran.out;
    const json pairs = json::parse(ran.out);
    ASSERT_EQ(pairs.size(), 7u) << "pinion and wheel, three planets with sun and ring";
    for (const json& pair : pairs) EXPECT_LT(pair["deepest_m"].get<double>(), 0.02 * 0.008) << pair["driven"];
}

TEST(Cli, ChainTellsLinksAndRemedies) {
    const Ran ran = cli("chain --json " + finished);
    ASSERT_EQ(ran.exit_code, 0) << ran.out;
    const json chains = json::parse(ran.out);
    ASSERT_EQ(chains.size(), 1u);
    EXPECT_EQ(chains[0]["links"], 90);
    EXPECT_GE(chains[0]["least_slack_m"].get<double>(), 0) << "closed over the whole clip";
    EXPECT_LT(chains[0]["off_teeth_m"].get<double>(), 1e-4) << "chordal action alone";
    EXPECT_GE(chains[0]["remedies"].size(), 3u);
}

TEST(Cli, GearsFindsToothCounts) {
    const Ran ran = cli("gears --json --ratio 6 --stages 2 --least 14 --most 60");
    ASSERT_EQ(ran.exit_code, 0) << ran.out;
    const json answers = json::parse(ran.out);
    EXPECT_NEAR(answers.at(0)["error_ppm"].get<double>(), 0, 1e-6);
    EXPECT_EQ(answers[0]["stages"].size(), 2u);
    EXPECT_NE(cli("gears --ratio -2").exit_code, 0);
    EXPECT_NE(cli("gears --ratio 3 --least 50 --most 20").exit_code, 0);
}

}  // namespace
}  // namespace pivrak
