#include <fmt/format.h>

#include "cli/commands.h"
#include "cli/load.h"
#include "core/checks/exercise/exercise_report.h"
#include "core/io/atomic_file.h"

namespace pivrak::cli {

using nlohmann::json;

namespace {

json values_json(const Document& document, const std::vector<ExercisedValue>& pose) {
    json out = json::array();
    for (const ExercisedValue& value : pose)
        out.push_back({{"channel", channel_name(document, value.channel)}, {"value", value.value}});
    return out;
}

json report_json(const Document& document, const ExerciseReport& report) {
    json out{{"motions", report.motions},
             {"poses", report.poses},
             {"ranges", json::array()},
             {"rows", json::array()}};
    for (const ExerciseRange& range : report.ranges)
        out["ranges"].push_back({{"channel", channel_name(document, range.channel)},
                                 {"from", range.range.min},
                                 {"to", range.range.max},
                                 {"assumed", range.assumed}});
    for (const ExerciseRow& row : report.rows) {
        json one{{"what", row.code}, {"message", row.message}, {"pose", values_json(document, row.pose)}};
        if (document.parts.contains(row.part)) one["part"] = part_path(document, row.part);
        if (document.parts.contains(row.other)) one["other"] = part_path(document, row.other);
        out["rows"].push_back(std::move(one));
    }
    return out;
}

Result<void> write_report(const Document& document, const ExerciseReport& report, const std::string& file) {
    PIVRAK_TRY(text, exercise_file(document, report, std::filesystem::path(file).extension().string()));
    return write_file_atomically(file, text);
}

}  // namespace

int exercise(const ExerciseCommand& command) {
    const auto loaded = load(command.file);
    if (!loaded) return fail(loaded.error(), command.as_json);
    const Document& document = loaded->document;
    ExerciseOptions options{command.pairs, command.seed, !command.without_contacts, {}};
    for (const std::string& name : command.parts) {
        const auto part = find_part(document, name);
        if (!part) return fail(part.error(), command.as_json);
        options.parts.push_back(*part);
    }
    const auto report = pivrak::exercise(document, options);
    if (!report) return fail(report.error(), command.as_json);
    for (const std::string& file : command.reports)
        if (const auto written = write_report(document, *report, file); !written)
            return fail(written.error(), command.as_json);
    if (command.as_json) {
        fmt::print("{}\n", report_json(document, *report).dump(2));
    } else {
        for (const ExerciseRow& row : report->rows) fmt::print("{}\n", row.message);
        fmt::print("{}\n", exercise_summary(*report));
    }
    return report->rows.empty() ? 0 : 1;
}

}  // namespace pivrak::cli
