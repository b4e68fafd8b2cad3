#include <fmt/format.h>

#include "core/io/project_json.h"
#include "core/operations/all_operations.h"
#include "core/operations/channel_access.h"

namespace pivrak {
namespace {

/// New limits from what was given and what was there. None stay none.
Result<std::optional<Limits>> limits_from(const Arguments& a, const std::optional<Limits>& present) {
    if (a.flag("unlimited")) return std::optional<Limits>{};
    const auto min = a.number_if("min"), max = a.number_if("max");
    if (!min && !max) return present;
    if (!present && (!min || !max))
        return Error{"limits.half", "a part without limits needs both 'min' and 'max'", "min"};
    const Limits limits{min.value_or(present ? present->min : 0), max.value_or(present ? present->max : 0)};
    if (limits.min > limits.max)
        return Error{"limits.inverted",
                     fmt::format("the lower limit {} is above the upper limit {}", format_angle(limits.min),
                                 format_angle(limits.max)),
                     "min"};
    return std::optional(limits);
}

Result<Outcome> joint_set(const Document& document, const Arguments& a, const OperationContext&) {
    Outcome out{document};
    for (const PartId id : a.parts("parts")) {
        Part part = *document.parts.find(id);
        const JointKind kind = *joint_kind_from(a.text("kind"));
        for (const Coupling& coupling : document.couplings)
            if (kind == JointKind::Fixed &&
                (coupling.gear.driver.part == id || coupling.gear.driven.part == id))
                return Error{"joint.coupled",
                             fmt::format("'{}' is part of a gear pair; remove that first", part.name),
                             part.name};
        part.joint.kind = kind;
        if (a.has("axis")) part.joint.axis = *axis_from(a.text("axis"));
        PIVRAK_TRY(limits, limits_from(a, part.joint.turn.limits));
        part.joint.turn.limits = limits;
        if (limits) part.joint.turn.value = limits->clamp(part.joint.turn.value);
        out.document.parts.set(part);
    }
    return out;
}

Result<Outcome> channel_set(const Document& document, const Arguments& a, const OperationContext&) {
    Outcome out{document};
    for (const PartId id : a.parts("parts")) {
        Part part = *document.parts.find(id);
        PIVRAK_CHECK(check_free_channel(document, {id, ChannelKind::Turn}));
        const double wanted = a.number("value");
        part.joint.turn.value = part.joint.turn.limits ? part.joint.turn.limits->clamp(wanted) : wanted;
        if (part.joint.turn.value != wanted)
            out.messages.push_back(
                fmt::format("'{}' stops at its limit {}", part.name, format_angle(part.joint.turn.value)));
        out.document.parts.set(part);
    }
    return out;
}

}  // namespace

void add_joint_operations(Registry& registry) {
    registry.add({"joint.set",
                  "Joint and limits",
                  "Says how parts may move against what carries them, and how far.",
                  {parts_argument("parts whose joint is set"),
                   {"kind",
                    ArgumentKind::Choice,
                    "fixed, or a hinge about one of the part's own axes",
                    true,
                    {},
                    {"fixed", "hinge"}},
                   {"axis",
                    ArgumentKind::Choice,
                    "axis of a hinge; as it is when left out",
                    false,
                    {},
                    {"x", "y", "z"}},
                   {"min", ArgumentKind::Angle, "lower limit", false, {}, {}},
                   {"max", ArgumentKind::Angle, "upper limit", false, {}, {}},
                   {"unlimited", ArgumentKind::Flag, "takes the limits away", false, false, {}}},
                  joint_set});
    registry.add({"channel.set",
                  "Turn",
                  "Sets the turn of hinges that have no keys; a limit stops it.",
                  {parts_argument("hinges to turn"),
                   {"value", ArgumentKind::Angle, "the turn from rest", true, {}, {}}},
                  channel_set});
}

}  // namespace pivrak
