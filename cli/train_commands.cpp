#include <fmt/format.h>

#include <cmath>

#include "cli/commands.h"
#include "cli/load.h"
#include "core/checks/drive/chain_check.h"
#include "core/checks/drive/drive_map.h"
#include "core/checks/drive/mesh_interference.h"
#include "core/checks/drive/train_report.h"
#include "core/model/element_channels.h"
#include "core/motion/evaluator.h"
#include "core/operations/drive/chain_steps.h"
#include "core/rig/gears/gear_search.h"

namespace pivrak::cli {

using nlohmann::json;

int train(const std::string& file, bool as_json) {
    const auto loaded = load(file);
    if (!loaded) return fail(loaded.error(), as_json);
    const Document& document = loaded->document;
    const TrainReport report = report_trains(document);
    json out{{"trains", json::array()}, {"clashes", report.clashes}};
    for (const TrainPart& train : report.trains) {
        json lines = json::array();
        if (!as_json) fmt::print("train of '{}'\n", channel_name(document, train.input));
        for (const TrainLine& line : train.lines) {
            lines.push_back({{"shaft", part_path(document, line.channel.part())},
                             {"channel", channel_word(line.channel.kind)},
                             {"state", state_word(line.state)},
                             {"ratio", line.ratio},
                             {"fraction", line.fraction}});
            if (!as_json) fmt::print("  {:<32} {}\n", channel_name(document, line.channel), line.words);
        }
        out["trains"].push_back({{"input", part_path(document, train.input.part())},
                                 {"inputs", train.inputs},
                                 {"shafts", lines}});
    }
    if (as_json) fmt::print("{}\n", out.dump(2));
    if (!as_json)
        for (const std::string& clash : report.clashes) fmt::print("clash: {}\n", clash);
    return report.clashes.empty() ? 0 : 1;
}

int teeth(const std::string& file, int steps, bool as_json) {
    const auto loaded = load(file);
    if (!loaded) return fail(loaded.error(), as_json);
    const Document& document = loaded->document;
    json out = json::array();
    for (const Coupling& coupling : document.couplings) {
        const GearPair* pair = coupling.as<GearPair>();
        if (!pair || pair->kind == PairKind::Belt || pair->kind == PairKind::CrossedBelt ||
            pair->kind == PairKind::Screw)
            continue;
        const std::string names = fmt::format("{}  →  {}", channel_name(document, pair->driver),
                                              channel_name(document, pair->driven));
        const auto found = mesh_interference(document, *pair, steps);
        if (!found) {
            if (!as_json) fmt::print("{}: {}\n", names, found.error().message);
            continue;
        }
        out.push_back({{"driver", part_path(document, pair->driver.part())},
                       {"driven", part_path(document, pair->driven.part())},
                       {"deepest_m", found->deepest_m},
                       {"driver_at", found->driver_at},
                       {"place", {found->place.x(), found->place.y(), found->place.z()}}});
        if (!as_json)
            fmt::print("{}: {} at {:.4f} of the driver\n", names,
                       format_length(found->deepest_m, LengthUnit::Millimetre, 3), found->driver_at);
    }
    if (as_json) fmt::print("{}\n", out.dump(2));
    return 0;
}

int map(const std::string& file, double frame, bool as_json) {
    const auto loaded = load(file);
    if (!loaded) return fail(loaded.error(), as_json);
    const Document& document = loaded->document;
    const Clip& clip = clip_or_first(document);
    const auto evaluator = Evaluator::compile(document, clip.id);
    if (!evaluator) return fail(evaluator.error(), as_json);
    Pose pose = evaluator->make_pose();
    evaluator->evaluate(frame, pose);
    const auto value = [&](ChannelRef channel) {
        const auto slot = evaluator->channel_slot(channel);
        return slot ? pose.channels[*slot] : 0.0;
    };
    const auto words = [&](ChannelRef channel) {
        return dimension_of(channel.kind) == Dimension::Length
                   ? format_length(value(channel), document.settings.length_unit, 3)
                   : format_channel(channel.kind, value(channel), document, 2);
    };
    const auto path = [&](ChannelRef channel) {
        return is_of_part(channel.kind) ? part_path(document, channel.part())
                                        : owner_name(document, channel.owner);
    };
    json out = json::array();
    for (const DriveEdge& edge : drive_map(document, clip).edges) {
        out.push_back({{"from", path(edge.from)},
                       {"from_channel", channel_word(edge.from.kind)},
                       {"from_value", value(edge.from)},
                       {"to", path(edge.to)},
                       {"to_channel", channel_word(edge.to.kind)},
                       {"to_value", value(edge.to)},
                       {"by", edge.label}});
        if (!as_json)
            fmt::print("{} {}  →  {} {}  ({})\n", channel_name(document, edge.from), words(edge.from),
                       channel_name(document, edge.to), words(edge.to), edge.label);
    }
    if (as_json) fmt::print("{}\n", out.dump(2));
    return 0;
}

int chain(const std::string& file, bool as_json) {
    const auto loaded = load(file);
    if (!loaded) return fail(loaded.error(), as_json);
    const Document& document = loaded->document;
    const auto courses = chain_course(document, clip_or_first(document).id);
    if (!courses) return fail(courses.error(), as_json);
    json out = json::array();
    for (const ChainCourse& course : *courses) {
        const Chain& chain = *document.chains.find(course.chain);
        json one = chain_readings(document, chain);
        one["least_slack_m"] = course.least_slack_m;
        one["least_at_frame"] = course.least_at;
        one["most_slack_m"] = course.most_slack_m;
        one["off_teeth_m"] = course.off_teeth_m;
        out.push_back(one);
        if (as_json) continue;
        fmt::print("{}: {} links of {}, needs {:.3f}, slack {}, sag {}\n", chain.name, chain.link_count,
                   format_length(chain.pitch_m, LengthUnit::Millimetre, 2), one["links_needed"].get<double>(),
                   format_length(one["slack_m"].get<double>(), LengthUnit::Millimetre, 2),
                   format_length(one["sag_m"].get<double>(), LengthUnit::Millimetre, 1));
        if (one.contains("wound_turns"))
            fmt::print("  {:.2f} turns on the drum\n", one["wound_turns"].get<double>());
        for (const json& remedy : one["remedies"]) fmt::print("  {}\n", remedy["words"].get<std::string>());
    }
    if (as_json) fmt::print("{}\n", out.dump(2));
    return 0;
}

int gears(const GearsCommand& c) {
    const GearSearch search{c.ratio, c.stages,        c.least,
                            c.most,  c.teeth_in_pair, static_cast<std::size_t>(c.answers)};
    const std::vector<GearAnswer> answers = find_gear_trains(search);
    json out = json::array();
    for (const GearAnswer& answer : answers) {
        std::string words;
        json stages = json::array();
        for (const auto& [driver, driven] : answer.stages) {
            words += fmt::format("{}{}:{}", words.empty() ? "" : " ", driver, driven);
            stages.push_back({driver, driven});
        }
        out.push_back({{"stages", stages}, {"ratio", answer.ratio}, {"error_ppm", answer.error_ppm}});
        if (!c.as_json)
            fmt::print("{:<24} {:.6f} : 1   {:+.1f} ppm\n", words, answer.ratio, answer.error_ppm);
    }
    if (c.as_json) fmt::print("{}\n", out.dump(2));
    if (answers.empty()) return fail({"gears.none", "no gears within these limits", ""}, c.as_json);
    return 0;
}

}  // namespace pivrak::cli
