#include <fmt/format.h>

#include <algorithm>

#include "core/base/words.h"
#include "core/elements/linkage/linkage_motion.h"
#include "core/io/project/project_json.h"
#include "core/operations/all_operations.h"
#include "core/operations/channel_access.h"
#include "core/operations/linkages/linkage_maker.h"
#include "core/operations/named_elements.h"
#include "core/rig/linkages/common_pin.h"
#include "core/rig/linkages/input_range.h"
#include "core/rig/linkages/mobility.h"

namespace pivrak {
namespace {

using nlohmann::json;

/// The axis about which all hinges of a loop turn; none when they differ, or there are none.
std::optional<Vec3> axis_of_loop(const Document& document, const LinkageLoops& loops) {
    std::optional<Vec3> axis;
    for (const PartId joint : loops.joints) {
        const Part& part = *document.parts.find(joint);
        if (part.joint.kind != JointKind::Hinge) continue;
        const Vec3 own = world_from_rest(document, joint).axis(part.joint.axis);
        if (axis && axis->cross(own).norm() > 0.02) return std::nullopt;
        if (!axis) axis = own;
    }
    return axis;
}

/// What is given, and the rest measured on the shapes.
Result<ClosingPlace> closing_place(const Document& document, const Arguments& a) {
    const PartId first = a.part("a"), second = a.part("b");
    const std::string name_a = name_of(document, first), name_b = name_of(document, second);
    ClosingPlace at{*value_of<Closes>(closes_words, a.text("closes"))};
    PIVRAK_TRY(loops, linkage_loops(document, {{at.closes, first, second}}));
    if (at.closes == Closes::Turn) return at;
    if (a.has("axis")) {
        at.axis = a.point("axis");
        if (at.axis.norm() < 1e-9) return Error{"linkage.axis", "an axis needs a direction", "axis"};
        at.axis.normalize();
    }
    std::optional<CommonPin> pin;
    if (!a.has("at") || (!a.has("axis") && at.closes == Closes::Slider))
        pin = common_pin(document, first, second);
    if (!a.has("at") && !pin)
        return Error{
            "linkage.no_pin",
            fmt::format("'{}' and '{}' have no round surfaces on one line; say where they are pinned", name_a,
                        name_b),
            "at"};
    at.place = a.has("at") ? a.point("at") : pin->place;
    if (a.has("axis") || at.closes == Closes::Ball) return at;
    const auto shared = axis_of_loop(document, loops);
    if (at.closes == Closes::Pin && shared && (!pin || shared->cross(pin->direction).norm() < 0.02))
        at.axis = *shared;  // not quite the shapes', so that the loop stays flat
    else if (pin)
        at.axis = pin->direction;
    else
        return Error{"linkage.no_axis",
                     fmt::format("say along which axis '{}' and '{}' are held together", name_a, name_b),
                     "axis"};
    return at;
}

void tell(Outcome& out, LinkageId id) {
    const Linkage& linkage = *out.document.linkages.find(id);
    if (const auto words = mobility_words(out.document, linkage))
        out.messages.push_back(fmt::format("'{}' {}", linkage.name, *words));
    out.readings["linkages"].push_back(id.value);
}

Result<Outcome> linkage_close(const Document& document, const Arguments& a, const OperationContext&) {
    Outcome out{document};
    PIVRAK_TRY(at, closing_place(document, a));
    const PartId first = a.part("a"), second = a.part("b");
    const std::string name =
        a.has("name") ? a.text("name")
                      : fmt::format("{} to {}", name_of(document, first), name_of(document, second));
    PIVRAK_CHECK(check_name(name));
    PIVRAK_TRY(id, add_closure(out.document, closure_at(document, first, second, at), name));
    if (const auto compiled = Evaluator::check(out.document); !compiled) return compiled.error();
    tell(out, id);
    return out;
}

Result<std::vector<Linkage>> linkages_named(const Document& document, const Arguments& a) {
    return named_elements(document, document.linkages, a, "linkages", "linkage.unknown", "is no linkage");
}

Result<Outcome> linkage_input(const Document& document, const Arguments& a, const OperationContext&) {
    Outcome out{document};
    PIVRAK_TRY(found, linkages_named(document, a));
    for (Linkage linkage : found) {
        PIVRAK_TRY(loops, linkage_loops(document, linkage.closures));
        std::vector<ChannelRef> wanted;
        for (const PartId part : a.parts("parts")) {
            const std::size_t before = wanted.size();
            for (const ChannelRef channel : loops.channels)
                if (channel.part() == part && (!a.has("channel") || channel.kind == channel_of(a)))
                    wanted.push_back(channel);
            if (wanted.size() == before)
                return Error{"linkage.not_in",
                             fmt::format("'{}' has no such joint in the loops of '{}'",
                                         name_of(document, part), linkage.name),
                             name_of(document, part)};
        }
        PIVRAK_CHECK(choose_inputs(document, linkage, wanted));
        const bool taken = std::any_of(wanted.begin(), wanted.end(),
                                       [&](ChannelRef channel) { return linkage.is_input(channel); });
        if (!taken)
            return Error{"linkage.no_input",
                         fmt::format("'{}' cannot move '{}': it is driven by something else, or stands still "
                                     "while the rest moves",
                                     channel_name(document, wanted.front()), linkage.name),
                         linkage.name};
        out.document.linkages.set(linkage);
        tell(out, linkage.id);
    }
    if (const auto compiled = Evaluator::check(out.document); !compiled) return compiled.error();
    return out;
}

Result<Outcome> linkage_set(const Document& document, const Arguments& a, const OperationContext&) {
    Outcome out{document};
    PIVRAK_TRY(found, linkages_named(document, a));
    for (Linkage linkage : found) {
        if (a.has("on")) linkage.off = !a.flag("on");
        PIVRAK_CHECK(rename_entry(document.linkages, a, "linkage.duplicate", "linkage", linkage));
        out.document.linkages.set(linkage);
    }
    if (const auto compiled = Evaluator::check(out.document); !compiled) return compiled.error();
    return out;
}

Result<Outcome> linkage_remove(const Document& document, const Arguments& a, const OperationContext&) {
    Outcome out{document};
    PIVRAK_TRY(found, linkages_named(document, a));
    for (Linkage linkage : found) {
        const int count = static_cast<int>(linkage.closures.size());
        if (!a.has("closure")) {
            out.document.linkages.erase(linkage.id);
            out.messages.push_back(fmt::format("'{}' removed", linkage.name));
            continue;
        }
        const int at = a.integer("closure");
        if (at < 1 || at > count)
            return Error{"linkage.closure", fmt::format("'{}' has closures 1 to {}", linkage.name, count),
                         "closure"};
        linkage.closures.erase(linkage.closures.begin() + (at - 1));
        if (linkage.closures.empty()) {
            out.document.linkages.erase(linkage.id);
            out.messages.push_back(fmt::format("'{}' removed with its last closure", linkage.name));
            continue;
        }
        PIVRAK_CHECK(choose_inputs(document, linkage, {}));
        out.document.linkages.set(linkage);
        tell(out, linkage.id);
    }
    return out;
}

json reading_of(const Document& document, const InputRange& range, const BuiltLinkage& built,
                ChannelRef channel) {
    json reading{{"part", channel.owner.value}, {"channel", word(channel.kind)}};
    const auto end = [&](const char* name, double value, const LinkageStop& stop) {
        if (stop.why == Stops::Not) return;
        reading[name] = {{"at", value}, {"why", stop_words(document, built, stop)}};
    };
    end("least", range.least, range.at_least);
    end("most", range.most, range.at_most);
    return reading;
}

/// Changes nothing: how it can move, and how far.
Result<Outcome> linkage_measure(const Document& document, const Arguments& a, const OperationContext&) {
    Outcome out{document};
    PIVRAK_TRY(found, linkages_named(document, a));
    for (const Linkage& linkage : found) {
        PIVRAK_TRY(built, build_linkage(document, linkage.closures,
                                        [&](ChannelRef channel) { return linkage.is_input(channel); }));
        const Mobility can =
            mobility(built.solver.model(), built.rest, locked_columns(document, built.channels));
        json reading{{"linkage", linkage.id.value}, {"ways", can.ways},         {"ways_at_once", can.at_once},
                     {"counted", can.counted},      {"apart_m", built.apart_m}, {"inputs", json::array()}};
        PIVRAK_TRY(words, mobility_words(document, linkage));
        out.messages.push_back(fmt::format("'{}' {}", linkage.name, words));
        for (const LinkageInput& input : linkage.inputs) {
            const auto at = std::find(built.channels.begin(), built.channels.end(), input.channel);
            const auto column = static_cast<std::uint32_t>(at - built.channels.begin());
            const InputRange range = input_range(built, column);
            reading["inputs"].push_back(reading_of(document, range, built, input.channel));
            out.messages.push_back(range_words(document, built, column, range));
        }
        out.readings["linkages"].push_back(reading);
    }
    return out;
}

}  // namespace

void add_linkage_operations(Registry& registry) {
    const ArgumentSpec linkages{"linkages", ArgumentKind::Elements, "by name or id", true, {}, {}};
    registry.add(
        {"linkage.close",
         "Close a loop",
         "Two parts are held together where a loop of joints closes; the joints of the loop follow its "
         "inputs.",
         {worded({"a", ArgumentKind::Part, "one part of the closure", true, {}, {}}, "Part"),
          worded({"b", ArgumentKind::Part, "the other; of a slider, whose line it is", true, {}, {}},
                 "Held to"),
          worded({"closes",
                  ArgumentKind::Choice,
                  "a pin leaves one turn; a ball all three; a slider keeps a place on a line; a turn keeps "
                  "them turned alike",
                  false,
                  "pin",
                  {closes_words.begin(), closes_words.end()}},
                 "By a"),
          worded(
              {"at", ArgumentKind::Place, "where; measured on round surfaces when left out", false, {}, {}},
              "At", "where both are round"),
          worded({"axis", ArgumentKind::Vector, "of the pin, or the line, in the world", false, {}, {}},
                 "Axis", "measured"),
          {"name", ArgumentKind::Text, "of a new linkage", false, {}, {}}},
         linkage_close});
    ArgumentSpec channel = channel_argument();
    channel.fallback = {};
    registry.add({"linkage.input",
                  "Move a linkage by",
                  "Joints of the loops that are keyed or driven from now on; the others follow.",
                  {linkages, parts_argument("whose joints lead"), channel},
                  linkage_input});
    registry.add({"linkage.set",
                  "Change a linkage",
                  "Whether it holds at all, and its name.",
                  {linkages,
                   {"on", ArgumentKind::Flag, "whether it holds", false, {}, {}},
                   {"name", ArgumentKind::Text, "of the linkage", false, {}, {}}},
                  linkage_set});
    registry.add({"linkage.remove",
                  "Open a linkage",
                  "Takes one closure out, or the whole linkage.",
                  {linkages,
                   {"closure", ArgumentKind::Integer, "which one, from 1; all when left out", false, {}, {}}},
                  linkage_remove});
    registry.add({"linkage.measure",
                  "Measure a linkage",
                  "How many ways it can move, and how far each input goes before a dead point or a limit.",
                  {linkages},
                  linkage_measure});
}

}  // namespace pivrak
