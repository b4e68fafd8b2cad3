#include "cli/commands.h"

#include <fmt/format.h>

#include <algorithm>
#include <cctype>
#include <filesystem>

#include "cli/load.h"
#include "core/checks/findings.h"
#include "core/io/atomic_file.h"
#include "core/io/delivery/sample_clip.h"
#include "core/io/import/import_formats.h"
#include "core/io/import/import_model.h"
#include "core/io/project/project_file.h"
#include "core/motion/bake.h"
#include "core/operations/job.h"

namespace pivrak::cli {

using nlohmann::json;

int fail(const Error& error, bool as_json) {
    if (as_json)
        fmt::print(
            "{}\n",
            json{{"ok", false}, {"code", error.code}, {"message", error.message}, {"subject", error.subject}}
                .dump(2));
    fmt::print(stderr, "{}\n", error.message);
    return 1;
}

Result<Loaded> load(const std::string& file) {
    if (is_project_path(file)) {
        PIVRAK_TRY(document, open_project(file));
        return Loaded{std::move(document), {}};
    }
    PIVRAK_TRY(imported, import_model(empty_document(), file));
    return Loaded{std::move(imported.document), std::move(imported.messages)};
}

namespace {

json to_json(const Vec3& v) {
    return {v.x(), v.y(), v.z()};
}

json to_json(const std::vector<Finding>& findings, const Document& document) {
    json out = json::array();
    for (const Finding& f : findings) {
        json one{{"stage", stage_name(f.stage)}, {"code", f.code}, {"message", f.message}};
        if (f.part) one["part"] = part_path(document, f.part);
        out.push_back(one);
    }
    return out;
}

json info_json(const Loaded& loaded) {
    const Document& document = loaded.document;
    json parts = json::array(), materials = json::array(), clips = json::array();
    for (const PartId id : Tree(document).all()) {
        const Part& part = *document.parts.find(id);
        const Shape* shape = document.shapes.find(part.shape);
        json one{{"id", id.value},
                 {"name", part.name},
                 {"path", part_path(document, id)},
                 {"triangles", shape ? shape->mesh->triangle_count() : 0}};
        const Frame world = world_from_rest(document, id);
        one["pivot_m"] = to_json(world.translation);
        one["axes"] = {
            {"x", to_json(world.axis(0))}, {"y", to_json(world.axis(1))}, {"z", to_json(world.axis(2))}};
        if (shape && !shape->mesh->indices.empty()) {
            const Bounds bounds = mesh_bounds(*shape->mesh, world * part.part_from_shape);
            one["size_m"] = to_json(shape->bounds.size());
            one["bounds_m"] = {{"min", to_json(bounds.min)}, {"max", to_json(bounds.max)}};
            one["centre_m"] = to_json(bounds.middle());
        }
        parts.push_back(one);
    }
    for (const Material& m : document.materials)
        materials.push_back({{"name", m.name}, {"base_color", m.base_color}});
    for (const Clip& c : document.clips)
        clips.push_back({{"name", c.name},
                         {"first_frame", c.first_frame},
                         {"last_frame", c.last_frame},
                         {"channels", c.tracks.size()}});
    const Bounds bounds = document_bounds(document);
    std::size_t in_shapes = 0;
    for (const Shape& shape : document.shapes) in_shapes += shape.mesh->triangle_count();
    json out{{"parts", parts},
             {"triangles", triangle_count(document)},
             {"triangles_in_shapes", in_shapes},
             {"shapes", document.shapes.size()},
             {"materials", materials},
             {"clips", clips},
             {"messages", loaded.messages},
             {"findings", to_json(check_document(document), document)}};
    if (!bounds.empty()) out["bounds_m"] = {{"min", to_json(bounds.min)}, {"max", to_json(bounds.max)}};
    return out;
}

void print_info(const Loaded& loaded) {
    const Document& document = loaded.document;
    for (const std::string& message : loaded.messages) fmt::print("note: {}\n", message);
    const Bounds bounds = document_bounds(document);
    fmt::print("{} parts, {} shapes, {} triangles, {} materials\n", document.parts.size(),
               document.shapes.size(), triangle_count(document), document.materials.size());
    if (!bounds.empty())
        fmt::print("size {} long, {} wide, {} high\n", format_length(bounds.size().x(), document),
                   format_length(bounds.size().y(), document), format_length(bounds.size().z(), document));
    for (const PartId id : Tree(document).all()) {
        const std::string path = part_path(document, id);
        const Part& part = *document.parts.find(id);
        const Shape* shape = document.shapes.find(part.shape);
        const auto depth = static_cast<std::size_t>(std::count(path.begin(), path.end(), '/'));
        fmt::print("{}{}  {}\n", std::string(2 * depth, ' '), part.name,
                   shape ? fmt::format("{} triangles", shape->mesh->triangle_count()) : "datum");
    }
    for (const Finding& f : check_document(document)) fmt::print("{}: {}\n", stage_name(f.stage), f.message);
}

}  // namespace

int info(const std::string& file, bool as_json) {
    const auto loaded = load(file);
    if (!loaded) return fail(loaded.error(), as_json);
    if (as_json)
        fmt::print("{}\n", info_json(*loaded).dump(2));
    else
        print_info(*loaded);
    return 0;
}

int list_operations(bool as_json) {
    const Registry registry = make_registry();
    if (as_json) {
        fmt::print("{}\n", registry.schema().dump(2));
        return 0;
    }
    for (const Operation& operation : registry.all()) {
        fmt::print("{}\n    {}\n", operation.name, operation.summary);
        for (const ArgumentSpec& spec : operation.arguments)
            fmt::print("    {:<16}{:<9}{}{}{}{}\n", spec.name, kind_name(spec.kind), spec.summary,
                       spec.choices.empty() ? "" : fmt::format(" [{}]", fmt::join(spec.choices, ", ")),
                       spec.required ? " (needed)" : "",
                       spec.fallback.is_null() ? "" : fmt::format(" (else {})", spec.fallback.dump()));
    }
    fmt::print(
        "\nplaces: [x, y, z] in the world; {{\"part\": NAME}} for its pivot; {{\"part\": NAME, \"at\": "
        "\"middle\"}}, "
        "\"base\" or \"centroid\" of its shape; {{\"part\": NAME, \"vertex\": N}}, \"edge\": [N, N], "
        "\"face\": N, or "
        "\"rim\": [N, N] for the centre of a round edge; docs/jobs.md explains them\n");
    return 0;
}

namespace {

/// Models in a folder that can be read, by name; projects are none.
std::vector<std::filesystem::path> models_in(const std::filesystem::path& folder) {
    std::vector<std::filesystem::path> models;
    std::error_code ignored;
    for (const auto& entry : std::filesystem::directory_iterator(folder, ignored)) {
        std::string ending = entry.path().extension().string();
        std::transform(ending.begin(), ending.end(), ending.begin(),
                       [](unsigned char c) { return static_cast<char>(std::tolower(c)); });
        const auto& formats = model_formats();
        const bool known = std::any_of(formats.begin(), formats.end(),
                                       [&](const ModelFormat& format) { return format.ending == ending; });
        if (known && entry.is_regular_file() && !is_project_path(entry.path()))
            models.push_back(entry.path());
    }
    std::sort(models.begin(), models.end());
    return models;
}

}  // namespace

int run_over(const std::string& job_file, const std::string& folder, bool as_json) {
    const auto text = read_file(job_file);
    if (!text) return fail(text.error(), as_json);
    const json job = json::parse(*text, nullptr, false);
    if (!job.is_object())
        return fail({"job.format", fmt::format("'{}' is not a job", job_file), job_file}, as_json);
    for (const char* key : {"open", "import", "save", "deliver"})
        if (job.contains(key))
            return fail(
                {"job.format",
                 fmt::format("with --over the folder's models are imported and saved beside themselves: "
                             "the job has '{}' already",
                             key),
                 key},
                as_json);
    const auto models = models_in(folder);
    if (models.empty())
        return fail({"job.no_models", fmt::format("there is no model in '{}'", folder), folder}, as_json);
    json out = json::array();
    bool all = true;
    for (const std::filesystem::path& model : models) {
        json one = job;
        one["import"] = model.filename().string();
        one["save"] = model.stem().string() + ".pivrak.glb";
        const auto done = run_job(make_registry(), one, {folder, {}});
        all = all && done.ok();
        json told{{"model", model.string()}, {"ok", done.ok()}};
        if (done)
            told["saved"] = done->saved->string();
        else
            told["error"] = done.error().message;
        if (!as_json)
            fmt::print("{}: {}\n", model.filename().string(),
                       done ? "saved " + done->saved->filename().string() : done.error().message);
        out.push_back(std::move(told));
    }
    if (as_json) fmt::print("{}\n", out.dump(2));
    return all ? 0 : 1;
}

int run(const std::string& job_file, bool as_json) {
    const auto text = read_file(job_file);
    if (!text) return fail(text.error(), as_json);
    const json job = json::parse(*text, nullptr, false);
    if (job.is_discarded())
        return fail({"job.format", fmt::format("'{}' is not valid JSON", job_file), job_file}, as_json);
    const auto done = run_job(make_registry(), job, {std::filesystem::path(job_file).parent_path(), {}});
    if (!done) return fail(done.error(), as_json);
    if (as_json) {
        json out{{"ok", true}, {"messages", done->messages}, {"readings", done->readings}};
        if (done->saved) out["saved"] = done->saved->string();
        if (done->delivered) out["delivered"] = pivrak::to_json(*done->delivered);
        fmt::print("{}\n", out.dump(2));
        return 0;
    }
    for (const std::string& message : done->messages) fmt::print("{}\n", message);
    if (done->saved) fmt::print("saved {}\n", done->saved->string());
    if (done->delivered) fmt::print("delivered {}\n", summary(*done->delivered));
    return 0;
}

int bake(const std::string& file, const std::string& clip_name, const std::string& csv_file, int per_frame) {
    const auto loaded = load(file);
    if (!loaded) return fail(loaded.error());
    ClipId clip;
    for (const Clip& c : loaded->document.clips)
        if (c.name == clip_name) clip = c.id;
    if (!clip)
        return fail(
            {"clip.unknown", fmt::format("there is no clip '{}' in '{}'", clip_name, file), clip_name});
    const auto baked = bake_clip(loaded->document, clip, {}, per_frame);
    if (!baked) return fail(baked.error());
    if (const auto written = write_file_atomically(csv_file, bake_csv(loaded->document, *baked)); !written)
        return fail(written.error());
    fmt::print("{} moments of {} parts written to {}\n", baked->frames.size(), baked->parts.size(), csv_file);
    if (const auto fast = fastest_turn(loaded->document, clip, baked->frames))
        fmt::print(
            "'{}' turns {} from frame {} to the next row: a table of so few rows does not show which way; "
            "more rows do (--per-frame)\n",
            loaded->document.parts.find(fast->part)->name, format_angle(fast->turn_rad, 1), fast->frame);
    return 0;
}

int check(const std::string& file, bool as_json) {
    const auto loaded = load(file);
    if (!loaded) return fail(loaded.error(), as_json);
    const auto findings = check_document(loaded->document);
    if (as_json)
        fmt::print("{}\n", to_json(findings, loaded->document).dump(2));
    else
        for (const Finding& f : findings) fmt::print("{}: {}\n", stage_name(f.stage), f.message);
    if (!as_json) fmt::print("{} findings\n", findings.size());
    return findings.empty() ? 0 : 1;
}

}  // namespace pivrak::cli
