#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/base/words.h"
#include "core/elements/follow/follow_words.h"
#include "core/io/project/project_json.h"
#include "core/model/element_channels.h"
#include "core/motion/evaluator.h"
#include "core/operations/all_operations.h"
#include "core/operations/channel_access.h"
#include "core/operations/drivers/driven_channel.h"
#include "core/operations/keys/clip_access.h"

namespace pivrak {
namespace {

/// What is asked, in SI: `driven = offset + gain * driver`.
struct Rule {
    double gain = 1, offset = 0;
    std::vector<ResponsePoint> curve = {};
};

std::string_view trimmed(std::string_view text) {
    const auto first = text.find_first_not_of(" \t\n"), last = text.find_last_not_of(" \t\n");
    return first == std::string_view::npos ? std::string_view() : text.substr(first, last - first + 1);
}

/// What stands behind `slope` in a point's answer, cut off from it. Errors: `follow.curve`.
Result<std::optional<double>> slope_cut_off(std::string_view& answer, const Follow& of) {
    static constexpr std::string_view word = "slope";
    const std::size_t at = answer.find(word);
    if (at == std::string_view::npos) return std::optional<double>();
    const std::string_view number = trimmed(answer.substr(at + word.size()));
    PIVRAK_TRY(typed, parse_quantity(number, Dimension::None, LengthUnit::Metre));
    answer = trimmed(answer.substr(0, at));
    return std::optional(slope_from_typed(of, typed));
}

/// `0 m: 0 deg, 400 mm: 30 deg slope 12, 1.2 m: 80 deg`, each point the driver's value and theirs, and how
/// steep it is there in degrees and metres.
Result<std::vector<ResponsePoint>> curve_from(const std::string& text, ChannelRef driver, ChannelRef driven,
                                              LengthUnit unit) {
    std::vector<ResponsePoint> points;
    for (std::size_t at = 0; at <= text.size();) {
        const std::size_t end = std::min(text.find(',', at), text.size());
        const std::string_view point = trimmed(std::string_view(text).substr(at, end - at));
        at = end + 1;
        const std::size_t colon = point.find(':');
        if (colon == std::string_view::npos)
            return Error{
                "follow.curve",
                fmt::format("'{}' is no point of a curve: say the driver's value, a colon, and theirs",
                            point),
                "curve"};
        PIVRAK_TRY(led, parse_quantity(trimmed(point.substr(0, colon)), dimension_of(driver.kind), unit));
        std::string_view words = trimmed(point.substr(colon + 1));
        PIVRAK_TRY(slope, slope_cut_off(words, {driven, driver}));
        PIVRAK_TRY(answer, parse_quantity(words, dimension_of(driven.kind), unit));
        points.push_back({led, answer, slope});
    }
    std::ranges::sort(points, {}, &ResponsePoint::driver);
    return points;
}

Result<std::optional<double>> value_if(const Document& document, const Arguments& a, const char* name,
                                       ChannelKind kind) {
    if (!a.has(name)) return std::optional<double>();
    PIVRAK_TRY(value, a.value(name, dimension_of(kind), document.settings.length_unit));
    return std::optional(value);
}

Result<Rule> rule_of(const Document& document, const Arguments& a, ChannelRef driver, ChannelRef driven) {
    PIVRAK_TRY(from, value_if(document, a, "driver_from", driver.kind));
    PIVRAK_TRY(to, value_if(document, a, "driver_to", driver.kind));
    PIVRAK_TRY(at_from, value_if(document, a, "from", driven.kind));
    PIVRAK_TRY(at_to, value_if(document, a, "to", driven.kind));
    PIVRAK_TRY(offset, value_if(document, a, "offset", driven.kind));
    if (a.has("curve")) {
        if (a.has("gain") || a.has("offset") || from || to)
            return Error{"follow.range", "a curve says all: no gain, offset or range beside it", "curve"};
        PIVRAK_TRY(curve, curve_from(a.text("curve"), driver, driven, document.settings.length_unit));
        return Rule{a.flag("opposite") ? -1.0 : 1.0, 0, std::move(curve)};
    }
    if (a.flag("each_turn"))
        return Error{"follow.cam", "what begins again with each turn needs a 'curve'", "each_turn"};
    const int ends = (from ? 1 : 0) + (to ? 1 : 0) + (at_from ? 1 : 0) + (at_to ? 1 : 0);
    Rule rule;
    if (ends == 0) {
        rule.gain = gain_from_typed({driven, driver}, a.number_if("gain").value_or(1));
        rule.offset = offset.value_or(0);
    } else if (ends < 4 || a.has("gain") || a.has("offset")) {
        return Error{
            "follow.range",
            "a range needs both ends of both: driver_from, driver_to, from, to; then gain and offset "
            "follow from it",
            "driver_from"};
    } else if (!(std::abs(*to - *from) > 1e-12)) {
        return Error{"follow.range", "the driver has to move between the two ends", "driver_to"};
    } else {
        rule.gain = (*at_to - *at_from) / (*to - *from);
        rule.offset = *at_from - rule.gain * *from;
    }
    if (a.flag("opposite")) rule.gain = -rule.gain;
    return rule;
}

/// The channel that they follow.
Result<ChannelRef> driver_of(const Document& document, const Arguments& a) {
    const nlohmann::json& word = a.values().at("driver_channel");
    if (a.has("driver_element")) return channel_at(document, a.elements("driver_element").front(), word);
    if (a.has("driver")) return channel_at(document, a.part("driver"), word);
    return Error{"argument.missing", "'driver' is needed: what they follow", "driver"};
}

/// How the so-many-th of a series follows, from 0 on. Errors: `follow.*`.
Result<Follow> follow_of(const Document& document, const Arguments& a, ChannelRef driver, ChannelRef driven,
                         double number) {
    const std::string name = channel_name(document, driven);
    if (driven == driver) return Error{"follow.itself", fmt::format("'{}' cannot follow itself", name), name};
    PIVRAK_TRY(rule, rule_of(document, a, driver, driven));
    PIVRAK_TRY(step_offset, value_if(document, a, "step_offset", driven.kind));
    Follow follow{driven,
                  driver,
                  rule.gain * std::pow(a.number_if("step_gain").value_or(1), number),
                  rule.offset + number * step_offset.value_or(0),
                  a.number_if("delay").value_or(0) + number * a.number_if("step_delay").value_or(0),
                  std::move(rule.curve),
                  a.flag("straight"),
                  a.flag("each_turn")};
    if (follow.each_turn && !is_turn(driver.kind))
        return Error{"follow.cam", fmt::format("'{}' does not turn", channel_name(document, driver)),
                     "each_turn"};
    if (!std::isfinite(follow.gain) || !std::isfinite(follow.offset) || follow.damaged())
        return Error{
            "follow.rule",
            fmt::format("'{}' would follow {}", name, follow.damaged() ? *follow.damaged() : "by no number"),
            name};
    return follow;
}

Result<Outcome> follow_add(const Document& document, const Arguments& a, const OperationContext&) {
    Outcome out{document};
    PIVRAK_TRY(driver, driver_of(document, a));
    double number = a.integer("number") - 1;
    std::optional<Follow> first;
    for (const PartId part : a.parts("parts")) {
        PIVRAK_TRY(driven, channel_at(document, part, a.values().at("channel")));
        PIVRAK_TRY(follow, follow_of(document, a, driver, driven, number++));
        PIVRAK_CHECK(make_drivable(out.document, driven));
        if (follow.delay_frames > 0)
            if (const auto name = driver_name(out.document, driver))
                return Error{
                    "follow.late",
                    fmt::format("'{}' has no keys of its own, '{}' drives it: let them follow that one, "
                                "later",
                                channel_name(document, driver), *name),
                    "delay"};
        out.document.couplings.set({out.document.new_id<CouplingId>(), follow});
        if (!first) first = std::move(follow);
    }
    if (const auto compiled = Evaluator::check(out.document); !compiled) return compiled.error();
    out.messages.push_back(fmt::format("{} follow{} '{}': {}", counted(a.parts("parts").size(), "part"),
                                       a.parts("parts").size() == 1 ? "s" : "",
                                       channel_name(document, driver), rule_words(*first)));
    out.readings = {{"gain", first->gain}, {"offset", first->offset}};
    return out;
}

/// The follow of a part's channel, the only one when no channel is named. Errors: `driver.none`,
/// `driver.which`.
Result<Coupling> follow_at(const Document& document, PartId part, const Arguments& a) {
    std::optional<Coupling> found;
    for (const Coupling& coupling : document.couplings) {
        if (!coupling.as<Follow>() || coupling.driven().part() != part) continue;
        if (a.has("channel") && coupling.driven().kind != channel_of(a)) continue;
        if (found)
            return Error{
                "driver.which",
                fmt::format("several channels of '{}' follow: name the 'channel'", name_of(document, part)),
                "channel"};
        found = coupling;
    }
    if (!found)
        return Error{"driver.none", fmt::format("'{}' follows nothing", name_of(document, part)),
                     name_of(document, part)};
    return *found;
}

/// What is given of a rule; all else stays. A curve that is given multiplies by 1 unless a gain is given too.
Result<void> change_rule(const Document& document, const Arguments& a, Follow& follow) {
    if (a.has("curve")) {
        PIVRAK_TRY(curve,
                   curve_from(a.text("curve"), follow.driver, follow.driven, document.settings.length_unit));
        if (follow.curve.empty()) follow.gain = 1, follow.offset = 0;
        follow.curve = std::move(curve);
    }
    if (const auto gain = a.number_if("gain")) follow.gain = gain_from_typed(follow, *gain);
    PIVRAK_TRY(offset, value_if(document, a, "offset", follow.driven.kind));
    follow.offset = offset.value_or(follow.offset);
    follow.delay_frames = a.number_if("delay").value_or(follow.delay_frames);
    if (a.has("straight")) follow.straight = a.flag("straight");
    if (a.has("each_turn")) follow.each_turn = a.flag("each_turn");
    const std::string name = channel_name(document, follow.driven);
    if (follow.each_turn && !is_turn(follow.driver.kind))
        return Error{"follow.cam", fmt::format("'{}' does not turn", channel_name(document, follow.driver)),
                     "each_turn"};
    if (const Damaged why = follow.damaged(); why || !std::isfinite(follow.gain))
        return Error{"follow.rule", fmt::format("'{}' would follow {}", name, why ? *why : "by no number"),
                     name};
    return {};
}

Result<Outcome> follow_set(const Document& document, const Arguments& a, const OperationContext&) {
    Outcome out{document};
    bool changes = false;
    std::string rule;
    for (const PartId part : a.parts("parts")) {
        PIVRAK_TRY(found, follow_at(document, part, a));
        Follow follow = *found.as<Follow>();
        PIVRAK_CHECK(change_rule(document, a, follow));
        changes |= !(follow == *found.as<Follow>());
        if (rule.empty()) rule = rule_words(follow);
        out.document.couplings.set({found.id, std::move(follow)});
    }
    if (!changes) return nothing_to_do(document, "they follow so already");
    if (const auto compiled = Evaluator::check(out.document); !compiled) return compiled.error();
    out.messages.push_back(fmt::format("{} follow{} {}", counted(a.parts("parts").size(), "part"),
                                       a.parts("parts").size() == 1 ? "s" : "", rule));
    return out;
}

ArgumentSpec optional_flag(const char* name, const char* summary) {
    return {name, ArgumentKind::Flag, summary, false, {}, {}};
}

}  // namespace

void add_follow_operations(Registry& registry) {
    const auto value = [](const char* name, const char* summary, const char* label, const char* empty = "") {
        return worded({name, ArgumentKind::Value, summary, false, {}, {}}, label, empty);
    };
    registry.add(
        {"follow.add",
         "Follow",
         "Channels follow another one: in proportion, or from one end of a range to the other.",
         {parts_argument("parts that follow, in their order"),
          driven_channel_argument("channel", "which channel of theirs; the joint's own when left out"),
          worded({"driver", ArgumentKind::Part, "the part they follow", false, {}, {}}, "Follow",
                 "last picked"),
          {"driver_element", ArgumentKind::Elements, "an element whose channel they follow", false, {}, {}},
          driven_channel_argument("driver_channel", "which channel of that; the joint's own when left out"),
          worded({"gain",
                  ArgumentKind::Number,
                  "of theirs for each of the driver's, in degrees and metres: 15 turns by 30 degrees for 2 m",
                  false,
                  {},
                  {}},
                 "Gain", "1"),
          value("offset", "what they are while the driver is at nothing", "Offset", "0"),
          worded({"opposite", ArgumentKind::Flag, "the other way round", false, false, {}}, "opposite way"),
          value("driver_from", "the driver at one end of a range", "Driver from"),
          value("driver_to", "the driver at the other end", "Driver to"),
          value("from", "what they are at the one end", "From"),
          value("to", "what they are at the other", "To"),
          worded(
              {"curve",
               ArgumentKind::Text,
               "a response by points, the driver's value and theirs, with a slope where wanted: 0 m: 0 deg, "
               "1.2 m: 80 deg slope 30",
               false,
               {},
               {}},
              "Points"),
          worded({"straight", ArgumentKind::Flag, "straight from point to point", false, false, {}},
                 "corners at its points"),
          worded({"each_turn",
                  ArgumentKind::Flag,
                  "a cam: the curve begins again with each turn",
                  false,
                  false,
                  {}},
                 "again each turn"),
          worded({"delay", ArgumentKind::Number, "frames later than the driver's keys", false, {}, {}},
                 "Later by", "0 frames"),
          worded({"step_gain",
                  ArgumentKind::Number,
                  "each next part's gain is so many times the one before",
                  false,
                  {},
                  {}},
                 "Next: gain times", "1", "Each next one"),
          worded(
              {"step_offset", ArgumentKind::Value, "each next part's offset is so much more", false, {}, {}},
              "Next: offset plus", "0", "Each next one"),
          worded({"step_delay",
                  ArgumentKind::Number,
                  "each next part follows so many frames later",
                  false,
                  {},
                  {}},
                 "Next: later by", "0 frames", "Each next one"),
          {"number", ArgumentKind::Integer, "of the first of the parts in the series, from 1", false, 1, {}}},
         follow_add});
    ArgumentSpec channel = channel_argument();
    channel.fallback = {};
    registry.add(
        {"follow.set",
         "Change how they follow",
         "What is given of the rule by which channels follow is changed; all else stays.",
         {parts_argument("parts that follow"),
          channel,
          {"gain",
           ArgumentKind::Number,
           "of theirs for each of the driver's, in degrees and metres; of a curve, times its answer",
           false,
           {},
           {}},
          value("offset", "what they are while the driver is at nothing", "Offset"),
          {"curve", ArgumentKind::Text, "a response by points instead of the one there is", false, {}, {}},
          optional_flag("straight", "straight from point to point"),
          optional_flag("each_turn", "a cam: the curve begins again with each turn"),
          {"delay", ArgumentKind::Number, "frames later than the driver's keys", false, {}, {}}},
         follow_set});
}

}  // namespace pivrak
