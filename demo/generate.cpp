// Builds the demo's models from their parameters, and the finished projects from the models by jobs.
#include <fmt/format.h>

#include <filesystem>
#include <fstream>

#include "core/io/atomic_file.h"
#include "core/io/import/import_model.h"
#include "core/io/project/project_file.h"
#include "core/operations/job.h"
#include "demo/obj_file.h"
#include "demo/saddle.h"
#include "demo/vehicles.h"

namespace {

using namespace pivrak;
using nlohmann::json;

bool report(const Result<void>& result) {
    if (!result) fmt::print(stderr, "{}\n", result.error().message);
    return result.ok();
}

/// A step a line.
std::string job_text(const json& job) {
    std::string text = "{\n";
    for (const auto& [key, value] : job.items()) {
        if (key == "steps") continue;
        text += fmt::format(" {}: {},\n", json(key).dump(), value.dump());
    }
    text += " \"steps\": [\n";
    for (std::size_t i = 0; i < job["steps"].size(); ++i)
        text += fmt::format("  {}{}\n", job["steps"][i].dump(), i + 1 < job["steps"].size() ? "," : "");
    return text + " ]\n}\n";
}

bool generate_drive_station(const std::filesystem::path& folder, bool is_alone) {
    const auto components = demo::drive_station();
    const demo::ObjTexts texts = demo::obj_texts(components, "drive-station.mtl");
    if (!report(write_file_atomically(folder / "drive-station.obj", texts.obj))) return false;
    if (!report(write_file_atomically(folder / "drive-station.mtl", texts.mtl))) return false;
    const json job{{"import", {{"file", "drive-station.obj"}, {"unit", "mm"}, {"up", "y"}}},
                   {"steps", demo::drive_station_steps(components)},
                   {"save", "drive-station.pivrak.glb"}};
    if (!report(write_file_atomically(folder / "drive-station.job.json", job_text(job)))) return false;
    const auto done = run_job(make_registry(), job, {folder, {}});
    if (!done) {
        fmt::print(stderr, "{}\n", done.error().message);
        return false;
    }
    // Among the models the finished saddle has it.
    if (!is_alone) std::filesystem::remove(folder / "drive-station.pivrak.glb");
    fmt::print("drive station: {} parts, {} triangles\n", done->document.parts.size(),
               triangle_count(done->document));
    return true;
}

bool generate_model(const std::filesystem::path& folder, const char* name, const Result<std::string>& bytes) {
    if (!bytes) {
        fmt::print(stderr, "{}: {}\n", name, bytes.error().message);
        return false;
    }
    if (!report(write_file_atomically(folder / name, *bytes))) return false;
    const auto read = import_model(empty_document(), folder / name);
    if (!read) fmt::print(stderr, "{}\n", read.error().message);
    if (read)
        fmt::print("{}: {} parts, {} triangles, {:.1f} MB\n", name, read->document.parts.size(),
                   triangle_count(read->document), static_cast<double>(bytes->size()) / 1e6);
    return read.ok();
}

/// By a job that stands there already.
bool generate_project(const std::filesystem::path& folder, const char* job_name) {
    const auto text = read_file(folder / job_name);
    if (!text) return report(text.error());
    json job = json::parse(*text);
    const std::string project = job.at("save").get<std::string>();
    job.erase("save");
    auto done = run_job(make_registry(), job, {folder, {}});
    if (!done) {
        fmt::print(stderr, "{}: {}\n", job_name, done.error().message);
        return false;
    }
    // What ships lies beside its models, wherever that is.
    for (Source& source : done->document.sources)
        source.path = std::filesystem::path(source.path).filename().string();
    return report(save_project(done->document, folder / project));
}

/// The machines put together, by a job that asks for theirs.
bool generate_saddle(const std::filesystem::path& folder) {
    return report(write_file_atomically(folder / "saddle.job.json", job_text(demo::saddle_job()))) &&
           generate_project(folder, "saddle.job.json");
}

}  // namespace

int main(int argc, char** argv) {
    const bool station_alone = argc == 3 && std::string_view(argv[2]) == "station";
    if (argc != 2 && !station_alone) {
        fmt::print(stderr,
                   "usage: generate FOLDER [station]    writes the demo's models and projects there, "
                   "or the station alone\n");
        return 2;
    }
    std::filesystem::create_directories(argv[1]);
    const std::filesystem::path folder(argv[1]);
    if (station_alone) return generate_drive_station(folder, true) ? 0 : 1;
    const bool done = generate_drive_station(folder, false) &&
                      generate_model(folder, "groomer.glb", demo::groomer()) &&
                      generate_model(folder, "supply-truck.glb", demo::supply_truck()) &&
                      generate_model(folder, "cabin.glb", demo::cabin()) &&
                      generate_model(folder, "saddle-ground.glb", demo::saddle_ground()) &&
                      generate_model(folder, "loader-parts.glb", demo::loader_parts()) &&
                      generate_model(folder, "ropeway.glb", demo::ropeway()) &&
                      generate_project(folder, "proxy-loader.job.json") && generate_saddle(folder);
    return done ? 0 : 1;
}
