#include "core/operations/job.h"

#include <fmt/format.h>

#include <algorithm>
#include <cstdint>
#include <utility>

#include "core/base/words.h"
#include "core/io/atomic_file.h"
#include "core/io/project/project_file.h"
#include "core/model/units.h"

namespace pivrak {

using nlohmann::json;

namespace {

Result<void> check_format(const json& job) {
    if (!job.is_object()) return Error{"job.format", "a job is a JSON object", ""};
    for (const auto& [key, value] : job.items()) {
        const bool text = value.is_string();
        const bool fits = key == "steps"                        ? value.is_array()
                          : key == "import" || key == "deliver" ? text || value.is_object()
                                                                : (key == "open" || key == "save") && text;
        if (!fits)
            return Error{"job.format",
                         fmt::format("'{}' does not belong in a job, or not with this value", key), key};
    }
    if (job.contains("deliver") && job["deliver"].is_object())
        for (const auto& [key, value] : job["deliver"].items())
            if (!(key == "file" && value.is_string()) && !(key == "controls" && value.is_boolean()) &&
                !(key == "samples" && value.is_number_integer()) &&
                !(key == "tolerance" && (value.is_number() || value.is_string())))
                return Error{
                    "job.format",
                    fmt::format("'deliver' has a 'file' and, if wanted, 'controls', 'samples' (a frame) "
                                "and 'tolerance' (a length); '{}' does not fit",
                                key),
                    "deliver"};
    if (job.contains("deliver") && job["deliver"].is_object() && !job["deliver"].contains("file"))
        return Error{"job.format", "'deliver' needs a 'file'", "deliver"};
    if (job.contains("open") && job.contains("import"))
        return Error{"job.format", "a job either opens a project or imports a model; give one of them",
                     "open"};
    return {};
}

Result<Sampling> sampling_from(const json& deliver) {
    Sampling sampling;
    const auto samples = deliver.value("samples", std::int64_t{1});
    if (!std::in_range<int>(samples))
        return Error{"job.format", fmt::format("{} samples a frame are out of range", samples), "deliver"};
    sampling.per_frame = static_cast<int>(samples);
    if (!deliver.contains("tolerance")) return sampling;
    const json& tolerance = deliver["tolerance"];
    if (tolerance.is_string()) {
        PIVRAK_TRY(metres, parse_quantity(tolerance.get<std::string>(), Dimension::Length));
        sampling.tolerance_m = metres;
    } else {
        sampling.tolerance_m = tolerance.get<double>();
    }
    if (!(sampling.tolerance_m > 0))
        return Error{"job.format", "the 'tolerance' of a delivery is a length above zero", "deliver"};
    return sampling;
}

class JobRunner {
public:
    JobRunner(const Registry& registry, const json& job, const OperationContext& context)
        : registry_(registry), job_(job), context_(context) {}

    Result<JobReport> run() {
        PIVRAK_CHECK(check_format(job_));
        PIVRAK_CHECK(start());
        std::size_t number = 0;
        for (const json& step : job_.value("steps", json::array()))
            PIVRAK_CHECK(apply(step, fmt::format("{}", ++number)));
        PIVRAK_CHECK(finish());
        return std::move(report_);
    }

private:
    Result<void> start() {
        report_.document = empty_document();
        if (job_.contains("open")) {
            const std::filesystem::path file = context_.folder / job_["open"].get<std::string>();
            PIVRAK_TRY(opened,
                       is_job_file(file) ? made_by_job(registry_, file, context_) : open_project(file));
            report_.document = std::move(opened);
        }
        if (!job_.contains("import")) return {};
        json step = job_["import"].is_string() ? json{{"file", job_["import"]}} : job_["import"];
        step["op"] = "model.import";
        return apply(step, "import");
    }

    Result<void> apply(const json& step, const std::string& number) {
        auto outcome = registry_.run(report_.document, step, context_);
        if (!outcome) {
            const std::string name = step.is_object() && step.contains("op") && step["op"].is_string()
                                         ? step["op"].get<std::string>()
                                         : "?";
            return Error{outcome.error().code,
                         fmt::format("step {} ({}): {}", number, name, outcome.error().message), number};
        }
        report_.document = std::move(outcome->document);
        report_.messages.insert(report_.messages.end(), outcome->messages.begin(), outcome->messages.end());
        report_.readings.push_back(outcome->readings);
        return {};
    }

    /// First everything that can fail, then the writing.
    Result<void> finish() {
        std::string project;
        const auto target = [&](const char* key) { return context_.folder / job_[key].get<std::string>(); };
        if (job_.contains("save")) {
            PIVRAK_CHECK(check_project_path(report_.document, target("save")));
            PIVRAK_TRY(bytes, project_bytes(report_.document));
            project = std::move(bytes);
        }
        if (job_.contains("deliver")) {
            const json given =
                job_["deliver"].is_string() ? json{{"file", job_["deliver"]}} : job_["deliver"];
            DeliveryOptions options;
            options.with_controls = given.value("controls", false);
            PIVRAK_TRY(sampling, sampling_from(given));
            options.sampling = sampling;
            PIVRAK_TRY(delivery, deliver(report_.document, context_.folder / given["file"].get<std::string>(),
                                         options, context_.progress));
            report_.delivered = std::move(delivery);
        }
        if (!job_.contains("save")) return {};
        if (auto written = write_file_atomically(target("save"), project); !written) {
            if (report_.delivered) std::filesystem::remove(report_.delivered->path);
            return written.error();
        }
        report_.saved = target("save");
        return {};
    }

    const Registry& registry_;
    const json& job_;
    const OperationContext& context_;
    JobReport report_;
};

}  // namespace

bool is_job_file(const std::filesystem::path& file) {
    return file.string().ends_with(".job.json");
}

Result<Document> made_by_job(const Registry& registry, const std::filesystem::path& file,
                             const OperationContext& context) {
    const std::filesystem::path path = std::filesystem::weakly_canonical(file);
    if (std::ranges::count(context.jobs, path))
        return Error{"job.circle", fmt::format("'{}' needs what it makes itself", file.filename().string()),
                     file.string()};
    PIVRAK_TRY(text, read_file(file));
    json job = json::parse(text, nullptr, false);
    if (job.is_discarded())
        return Error{"job.format", fmt::format("'{}' is not JSON", file.filename().string()), file.string()};
    if (job.is_object())
        for (const char* written : {"save", "deliver"}) job.erase(written);
    OperationContext inner{file.parent_path(), context.progress, context.jobs};
    inner.jobs.push_back(path);
    auto done = run_job(registry, job, inner);
    if (!done)
        return Error{done.error().code, fmt::format("{}: {}", file.filename().string(), done.error().message),
                     file.string()};
    return std::move(done->document);
}

Result<JobReport> run_job(const Registry& registry, const json& job, const OperationContext& context) {
    return JobRunner(registry, job, context).run();
}

json to_json(const Delivery& d) {
    return {{"file", d.path.string()},
            {"bytes", d.bytes},
            {"parts", d.parts},
            {"triangles", d.triangles},
            {"clips", d.clips},
            {"still_clips", d.still_clips},
            {"prints", d.prints},
            {"samples", d.samples},
            {"kept_samples", d.kept_samples},
            {"read_back",
             {{"frames", d.read_back.frames},
              {"parts", d.read_back.parts},
              {"largest_error_m", d.read_back.at_frames.largest_m},
              {"largest_error_deg", d.read_back.at_frames.largest_rad * deg_per_rad},
              {"between_frames_m", d.read_back.between.largest_m},
              {"between_frames_deg", d.read_back.between.largest_rad * deg_per_rad},
              {"print_error_m", d.read_back.print_error_m}}}};
}

std::string summary(const Delivery& d) {
    const std::string prints = d.prints == 0
                                   ? ""
                                   : fmt::format("; {} off by {:.3f} mm", counted(d.prints, "printed track"),
                                                 d.read_back.print_error_m * 1e3);
    const std::string still = d.still_clips.empty() ? ""
                                                    : fmt::format("; left out, as nothing moves in {}: '{}'",
                                                                  d.still_clips.size() == 1 ? "it" : "them",
                                                                  fmt::join(d.still_clips, "', '"));
    return fmt::format(
        "{}: {} parts, {} triangles, {} clips, {} of {} samples kept, {:.1f} KB; read back over {} frames: "
        "largest error {:.6f} mm, {:.6f}°; between frames {:.3f} mm, {:.4f}°{}{}",
        d.path.filename().string(), d.parts, d.triangles, d.clips, d.kept_samples, d.samples,
        static_cast<double>(d.bytes) / 1024, d.read_back.frames, d.read_back.at_frames.largest_m * 1e3,
        d.read_back.at_frames.largest_rad * deg_per_rad, d.read_back.between.largest_m * 1e3,
        d.read_back.between.largest_rad * deg_per_rad, prints, still);
}

}  // namespace pivrak
