// Builds the demo's models from their parameters, and the finished projects from the models by jobs.
#include <fmt/format.h>

#include <filesystem>
#include <fstream>

#include "core/io/atomic_file.h"
#include "core/io/import/import_model.h"
#include "core/operations/job.h"
#include "demo/obj_file.h"
#include "demo/vehicles.h"

namespace {

using namespace pivrak;
using nlohmann::json;

bool report(const Result<void>& result) {
    if (!result) fmt::print(stderr, "{}\n", result.error().message);
    return result.ok();
}

bool generate_drive_station(const std::filesystem::path& folder) {
    const auto components = demo::drive_station();
    const demo::ObjTexts texts = demo::obj_texts(components, "drive-station.mtl");
    if (!report(write_file_atomically(folder / "drive-station.obj", texts.obj))) return false;
    if (!report(write_file_atomically(folder / "drive-station.mtl", texts.mtl))) return false;
    const json job{{"import", {{"file", "drive-station.obj"}, {"unit", "mm"}, {"up", "y"}}},
                   {"steps", demo::drive_station_steps(components)},
                   {"save", "drive-station.pivrak.glb"}};
    if (!report(write_file_atomically(folder / "drive-station.job.json", job.dump(1) + "\n"))) return false;
    const auto done = run_job(make_registry(), job, {folder, {}});
    if (!done) {
        fmt::print(stderr, "{}\n", done.error().message);
        return false;
    }
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
    const auto done = run_job(make_registry(), json::parse(*text), {folder, {}});
    if (!done) fmt::print(stderr, "{}: {}\n", job_name, done.error().message);
    return done.ok();
}

}  // namespace

int main(int argc, char** argv) {
    if (argc != 2) {
        fmt::print(stderr, "usage: generate FOLDER    writes the demo's models and projects there\n");
        return 2;
    }
    std::filesystem::create_directories(argv[1]);
    const std::filesystem::path folder(argv[1]);
    const bool done = generate_drive_station(folder) &&
                      generate_model(folder, "groomer.glb", demo::groomer()) &&
                      generate_model(folder, "supply-truck.glb", demo::supply_truck()) &&
                      generate_model(folder, "cabin.glb", demo::cabin()) &&
                      generate_model(folder, "saddle-ground.glb", demo::saddle_ground()) &&
                      generate_model(folder, "loader-parts.glb", demo::loader_parts()) &&
                      generate_project(folder, "proxy-loader.job.json");
    return done ? 0 : 1;
}
