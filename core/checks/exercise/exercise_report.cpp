#include "core/checks/exercise/exercise_report.h"

#include <fmt/format.h>

#include "core/base/words.h"

namespace pivrak {
namespace {

std::string csv_field(const std::string& text) {
    if (text.find_first_of(",\"\r\n") == std::string::npos) return text;
    std::string out = "\"";
    for (const char c : text) out += c == '"' ? std::string("\"\"") : std::string(1, c);
    return out + "\"";
}

std::string escaped(const std::string& text) {
    std::string out;
    for (const char c : text)
        out += c == '<'   ? "&lt;"
               : c == '>' ? "&gt;"
               : c == '&' ? "&amp;"
               : c == '"' ? "&quot;"
                          : std::string(1, c);
    return out;
}

std::string name_or_none(const Document& document, PartId part) {
    const Part* found = document.parts.find(part);
    return found ? part_path(document, part) : "";
}

std::string range_words(const Document& document, const ExerciseRange& range) {
    return format_channel(range.channel.kind, range.range.min, document) + " to " +
           format_channel(range.channel.kind, range.range.max, document);
}

/// Degrees and metres, as tables have them.
double table_value(const ExercisedValue& value) {
    return is_turn(value.channel.kind) ? value.value / rad_per_deg : value.value;
}

std::string_view table_unit(ChannelKind kind) {
    switch (dimension_of(kind)) {
        case Dimension::Angle:
            return "deg";
        case Dimension::Length:
            return "m";
        default:
            return "";
    }
}

constexpr std::string_view page_head = R"(<!doctype html>
<html lang="en"><head><meta charset="utf-8"><title>Exercise</title><style>
body{font:15px/1.5 sans-serif;color:#1d2b30;background:#f1eee6;max-width:60rem;margin:2rem auto;padding:0 1rem}
table{border-collapse:collapse;width:100%;background:#fbf9f4}
th,td{border:1px solid #cfc8b8;padding:.35rem .6rem;text-align:left;vertical-align:top}
th{background:#123c46;color:#fbf9f4;font-weight:normal}
.assumed{color:#5c6b6f}
</style></head><body>
)";

}  // namespace

std::string exercise_summary(const ExerciseReport& report) {
    return fmt::format(
        "{} run through {}, {} looked at: {}", counted(report.ranges.size(), "channel"),
        counted(report.motions, "motion"), counted(report.poses, "pose"),
        report.rows.empty() ? "nothing goes wrong" : counted(report.rows.size(), "thing") + " to look at");
}

std::string exercise_csv(const Document& document, const ExerciseReport& report) {
    std::string out =
        "what,part,other part,message,channel,value,unit,second channel,second value,second unit\r\n";
    for (const ExerciseRow& row : report.rows) {
        out += csv_field(row.code) + "," + csv_field(name_or_none(document, row.part)) + "," +
               csv_field(name_or_none(document, row.other)) + "," + csv_field(row.message);
        for (std::size_t i = 0; i < 2; ++i) {
            if (i >= row.pose.size()) {
                out += ",,,";
                continue;
            }
            const ExercisedValue& value = row.pose[i];
            out += fmt::format(",{},{:.9g},{}", csv_field(channel_name(document, value.channel)),
                               table_value(value), table_unit(value.channel.kind));
        }
        out += "\r\n";
    }
    return out;
}

std::string exercise_html(const Document& document, const ExerciseReport& report) {
    std::string out(page_head);
    out += "<h1>Exercise</h1>\n<p>" + escaped(exercise_summary(report)) + ".</p>\n";
    if (!report.rows.empty()) {
        out += "<h2>To look at</h2>\n<table><tr><th>What happens</th><th>Pose</th></tr>\n";
        for (const ExerciseRow& row : report.rows) {
            std::string pose;
            for (const ExercisedValue& value : row.pose)
                pose +=
                    fmt::format("{}{}: {}", pose.empty() ? "" : "; ", channel_name(document, value.channel),
                                format_channel(value.channel.kind, value.value, document));
            out += "<tr><td>" + escaped(row.message) + "</td><td>" + escaped(pose) + "</td></tr>\n";
        }
        out += "</table>\n";
    }
    out += "<h2>Run through</h2>\n<table><tr><th>Channel</th><th>Range</th></tr>\n";
    for (const ExerciseRange& range : report.ranges)
        out +=
            fmt::format("<tr{}><td>{}</td><td>{}{}</td></tr>\n", range.assumed ? " class=\"assumed\"" : "",
                        escaped(channel_name(document, range.channel)), escaped(range_words(document, range)),
                        range.assumed ? " (no limits of its own)" : "");
    return out + "</table>\n</body></html>\n";
}

Result<std::string> exercise_file(const Document& document, const ExerciseReport& report,
                                  const std::string& ending) {
    if (ending == ".html") return exercise_html(document, report);
    if (ending == ".csv") return exercise_csv(document, report);
    return Error{"exercise.ending",
                 fmt::format("a report of an exercise ends in .html or .csv, not in '{}'", ending), ending};
}

}  // namespace pivrak
