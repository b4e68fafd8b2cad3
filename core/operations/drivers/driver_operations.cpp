#include <fmt/format.h>

#include <algorithm>

#include "core/base/words.h"
#include "core/model/element_channels.h"
#include "core/motion/evaluator.h"
#include "core/operations/all_operations.h"
#include "core/operations/channel_access.h"
#include "core/operations/constraints/posed.h"
#include "core/operations/drivers/driven_channel.h"
#include "core/operations/keys/clip_access.h"

namespace pivrak {
namespace {

/// The follows, formulas and sways of the parts that are named, and of one channel when that is. Errors:
/// `driver.none` for a part that has none.
Result<std::vector<Coupling>> drivers_asked(const Document& document, const Arguments& a) {
    std::vector<Coupling> all;
    for (const PartId part : a.parts("parts")) {
        const std::size_t before = all.size();
        for (const Coupling& coupling : document.couplings)
            if (coupling.driven().part() == part && is_driver(coupling) &&
                (!a.has("channel") || coupling.driven().kind == channel_of(a)))
                all.push_back(coupling);
        if (all.size() == before)
            return Error{
                "driver.none",
                fmt::format("'{}' follows nothing, and has no formula and no sway", name_of(document, part)),
                name_of(document, part)};
    }
    return all;
}

/// Whether some clip has keys of it, which play when nothing else moves it.
bool has_keys_somewhere(const Document& document, ChannelRef channel) {
    return std::any_of(document.clips.begin(), document.clips.end(), [&](const Clip& clip) {
        const Track* track = clip.track(channel);
        return track && !track->keys.empty();
    });
}

void hold_at(Document& document, ChannelRef channel, double value) {
    auto held = find_channel(document, channel);
    if (!held) return;
    held->value = value;
    put_channel(document, channel, *held);
}

/// Drivers end; where that is asked the channel stays as it is at the frame.
Result<Outcome> driver_remove(const Document& document, const Arguments& a, const OperationContext&) {
    PIVRAK_TRY(clip, clip_named(document, a));
    PIVRAK_TRY(found, drivers_asked(document, a));
    PIVRAK_TRY(posed, Posed::at(document, clip->id, a.number_if("frame").value_or(clip->first_frame)));
    Outcome out{document};
    for (const Coupling& coupling : found) {
        out.document.couplings.erase(coupling.id);
        if (a.flag("hold")) hold_at(out.document, coupling.driven(), posed.value(coupling.driven()));
    }
    out.messages.push_back(fmt::format("{} let go{}", counted(found.size(), "channel"),
                                       a.flag("hold") ? ", each stays where it is" : ""));
    return out;
}

Coupling switched(Coupling coupling, bool off) {
    std::visit(
        [&](auto& kind) {
            if constexpr (requires { kind.off; }) kind.off = off;
        },
        coupling.what);
    return coupling;
}

/// What a channel is held at while its driver is off: the value given, or that of the frame.
Result<Outcome> driver_off(const Document& document, const Arguments& a, const OperationContext&) {
    PIVRAK_TRY(clip, clip_named(document, a));
    PIVRAK_TRY(found, drivers_asked(document, a));
    PIVRAK_TRY(posed, Posed::at(document, clip->id, a.number_if("frame").value_or(clip->first_frame)));
    Outcome out{document};
    std::size_t count = 0, keyed = 0;
    for (const Coupling& coupling : found) {
        if (coupling.is_off() && !a.has("value")) continue;
        const ChannelRef driven = coupling.driven();
        ++count;
        out.document.couplings.set(switched(coupling, true));
        keyed += has_keys_somewhere(document, driven) ? 1 : 0;
        // A sway leaves keys and hands as they are.
        if (coupling.as<Sway>() && !a.has("value")) continue;
        double value = posed.value(driven);
        if (a.has("value")) {
            PIVRAK_TRY(given, channel_value(document, a, driven));
            value = given;
        }
        hold_at(out.document, driven, within_limits(document, driven, value));
    }
    if (count == 0) return nothing_to_do(document, "what drives them is off already");
    out.messages.push_back(fmt::format("what drives {} is off{}", counted(count, "channel"),
                                       keyed ? "; their keys play" : ", they stay where they are"));
    return out;
}

Result<Outcome> driver_on(const Document& document, const Arguments& a, const OperationContext&) {
    PIVRAK_TRY(found, drivers_asked(document, a));
    Outcome out{document};
    std::size_t count = 0;
    for (const Coupling& coupling : found) {
        if (!coupling.is_off()) continue;
        ++count;
        out.document.couplings.set(switched(coupling, false));
    }
    if (count == 0) return nothing_to_do(document, "what drives them is on already");
    if (const auto compiled = Evaluator::check(out.document); !compiled) return compiled.error();
    out.messages.push_back(fmt::format("what drives {} is on", counted(count, "channel")));
    return out;
}

/// A channel by the part or element that is named and its word.
Result<ChannelRef> channel_named(const Document& document, const Arguments& a, const char* part,
                                 const char* element, const char* channel) {
    const nlohmann::json word = a.has(channel) ? a.values().at(channel) : nlohmann::json();
    if (a.has(element)) return channel_at(document, a.elements(element).front(), word);
    if (a.has(part)) return channel_at(document, a.part(part), word);
    return Error{"argument.missing", fmt::format("'{}' is needed: whose channel is meant", part), part};
}

/// The same driver with another channel in the place of one; none where it does not take that.
std::optional<Coupling> with_input(Coupling coupling, ChannelRef from, ChannelRef to) {
    bool takes = false;
    if (Follow* follow = coupling.as<Follow>(); follow && follow->driver == from) {
        follow->driver = to;
        takes = true;
    }
    if (Formula* formula = coupling.as<Formula>())
        for (FormulaInput& input : formula->inputs)
            if (input.kind == InputKind::Channel && input.channel == from) {
                input.channel = to;
                takes = true;
            }
    return takes ? std::optional(coupling) : std::nullopt;
}

/// Angles for angles, lengths for lengths: else each gain would mean something else.
Result<void> check_alike(const Document& document, ChannelRef from, ChannelRef to) {
    const auto what = [](ChannelKind kind) {
        return is_turn(kind)                ? "an angle"
               : has_no_unit(kind)          ? "a plain number"
               : kind == ChannelKind::Bend  ? "a bend"
               : kind == ChannelKind::Speed ? "a speed"
                                            : "a length";
    };
    if (std::string_view(what(from.kind)) == what(to.kind)) return {};
    return Error{
        "driver.unlike",
        fmt::format("'{}' is {}, '{}' is {}: what takes the one would count wrong with the other",
                    channel_name(document, from), what(from.kind), channel_name(document, to), what(to.kind)),
        channel_name(document, to)};
}

Result<Outcome> driver_replace(const Document& document, const Arguments& a, const OperationContext&) {
    PIVRAK_TRY(from, channel_named(document, a, "driver", "driver_element", "driver_channel"));
    PIVRAK_TRY(to, channel_named(document, a, "with", "with_element", "with_channel"));
    if (from == to) return nothing_to_do(document, "they take it already");
    PIVRAK_CHECK(check_alike(document, from, to));
    const std::vector<PartId> only = a.has("parts") ? a.parts("parts") : std::vector<PartId>();
    Outcome out{document};
    std::size_t count = 0;
    for (const Coupling& coupling : document.couplings) {
        const PartId part = coupling.driven().part();
        if (!only.empty() && std::find(only.begin(), only.end(), part) == only.end()) continue;
        const auto changed = with_input(coupling, from, to);
        if (!changed) continue;
        if (coupling.driven() == to)
            return Error{"follow.itself",
                         fmt::format("'{}' takes '{}' itself, so it cannot stand in its place",
                                     channel_name(document, to), channel_name(document, from)),
                         channel_name(document, to)};
        out.document.couplings.set(*changed);
        ++count;
    }
    if (count == 0)
        return Error{
            "driver.none",
            fmt::format("nothing follows '{}' or takes it in a formula", channel_name(document, from)),
            channel_name(document, from)};
    if (const auto compiled = Evaluator::check(out.document); !compiled) return compiled.error();
    out.messages.push_back(fmt::format("{} now take{} '{}' instead of '{}'", counted(count, "channel"),
                                       count == 1 ? "s" : "", channel_name(document, to),
                                       channel_name(document, from)));
    return out;
}

}  // namespace

void add_driver_operations(Registry& registry) {
    ArgumentSpec channel = channel_argument();
    channel.fallback = {};
    const ArgumentSpec value{
        "value", ArgumentKind::Value, "what they are held at; as they are when left out", false, {}, {}};
    registry.add({"driver.remove",
                  "Let go",
                  "Channels follow nothing any more, have no formula and do not sway.",
                  {parts_argument("parts that followed"),
                   channel,
                   {"hold", ArgumentKind::Flag, "they stay as they are at the frame", false, false, {}},
                   frame_argument(),
                   clip_argument()},
                  driver_remove});
    registry.add(
        {"driver.off",
         "Switch a driver off",
         "What drives channels stays, and moves nothing until it is on again: they are held at a "
         "value, or moved by hand.",
         {parts_argument("parts that are driven"), channel, value, frame_argument(), clip_argument()},
         driver_off});
    registry.add({"driver.on",
                  "Switch a driver on",
                  "What was switched off drives its channels again.",
                  {parts_argument("parts that are driven"), channel},
                  driver_on});
    registry.add(
        {"driver.replace",
         "Take another",
         "All that follows a channel, or takes it in a formula, takes another one in its place.",
         {{"driver", ArgumentKind::Part, "the part whose channel they take", false, {}, {}},
          {"driver_element", ArgumentKind::Elements, "the element whose channel they take", false, {}, {}},
          driven_channel_argument("driver_channel", "which channel of that; the joint's own when left out"),
          {"with", ArgumentKind::Part, "the part whose channel they take from now on", false, {}, {}},
          {"with_element", ArgumentKind::Elements, "an element whose channel that is", false, {}, {}},
          driven_channel_argument("with_channel", "which channel of that; the joint's own when left out"),
          parts_argument("only what drives these; all when left out", false)},
         driver_replace});
}

}  // namespace pivrak
