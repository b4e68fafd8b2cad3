#include <fmt/format.h>

#include <limits>
#include <tuple>

#include "core/base/words.h"
#include "core/io/project/project_json.h"
#include "core/model/element_channels.h"
#include "core/operations/all_operations.h"
#include "core/operations/channel_access.h"
#include "core/operations/keys/clip_access.h"
#include "core/rig/driven_by.h"

namespace pivrak {
namespace {

/// New limits from what was given and what was there. None stay none.
Result<std::optional<Limits>> limits_from(const Arguments& a, ChannelKind kind, LengthUnit unit,
                                          const std::optional<Limits>& present) {
    if (a.flag("unlimited")) return std::optional<Limits>{};
    constexpr double open = std::numeric_limits<double>::infinity();
    std::optional<double> min, max;
    for (const auto& [name, end, side] : {std::tuple{"min", &min, -open}, std::tuple{"max", &max, open}})
        if (a.has(name) && a.values().at(name) == "none") {
            *end = side;
        } else if (a.has(name)) {
            PIVRAK_TRY(value, a.value(name, dimension_of(kind), unit));
            PIVRAK_CHECK(check_in_range(kind, value));
            *end = value;
        }
    if (!min && !max) return present;
    // One end alone leaves the other open.
    const Limits limits{min.value_or(present ? present->min : -open),
                        max.value_or(present ? present->max : open)};
    if (limits.min == -open && limits.max == open) return std::optional<Limits>{};
    if (limits.min > limits.max)
        return Error{
            "limits.inverted",
            fmt::format("the lower limit {} is above the upper limit {}",
                        format_channel(kind, limits.min, unit), format_channel(kind, limits.max, unit)),
            "min"};
    return std::optional(limits);
}

/// The channel asked for, or the joint's first one.
ChannelKind limited_channel(const Arguments& a, const Joint& joint) {
    const auto kinds = channels_of(joint.kind);
    const ChannelKind asked = channel_of(a);
    if (asked >= ChannelKind::Along) return asked;
    return joint.has(asked) || kinds.empty() ? asked : kinds.front();
}

Result<Outcome> joint_set(const Document& document, const Arguments& a, const OperationContext&) {
    Outcome out{document};
    for (const PartId id : a.parts("parts")) {
        Part part = *document.parts.find(id);
        if (a.has("kind")) part.joint.kind = *joint_kind_from(a.text("kind"));
        const bool changes = part.joint.kind != document.parts.find(id)->joint.kind;
        if (const auto user = changes ? joint_user(document, id, part.joint) : std::nullopt)
            return Error{
                "joint.coupled",
                fmt::format("the joint of '{}' cannot become '{}': {} needs it as it is; remove that first",
                            part.name, word(part.joint.kind), *user),
                part.name};
        if (a.has("axis")) part.joint.axis = *axis_from(a.text("axis"));
        const ChannelKind channel_kind = limited_channel(a, part.joint);
        Channel channel = part.joint.channel(channel_kind);
        PIVRAK_TRY(limits, limits_from(a, channel_kind, document.settings.length_unit, channel.limits));
        channel.limits = limits;
        if (limits) channel.value = limits->clamp(channel.value);
        if (a.has("locked")) {
            if (!part.has(channel_kind))
                return Error{"channel.none",
                             fmt::format("'{}' is fixed: there is nothing to lock", part.name), part.name};
            channel.locked = a.flag("locked");
        }
        part.joint.set_channel(channel_kind, channel);
        out.document.parts.set(part);
    }
    return out;
}

Result<Outcome> channel_set(const Document& document, const Arguments& a, const OperationContext&) {
    Outcome out{document};
    PIVRAK_TRY(channels, channels_asked(a));
    const Drivers drivers(document);
    for (const ChannelRef asked : channels) {
        PIVRAK_CHECK(check_free_channel(drivers, asked));
        PIVRAK_TRY(typed, channel_value(document, a, asked));
        // A shaft of a train is turned through what turns it.
        const auto handle = drivers.handle(asked);
        const ChannelRef moved = handle ? handle->input : asked;
        const double wanted = handle ? handle->input_for(typed) : typed;
        Channel channel = *find_channel(out.document, moved);
        channel.value = channel.limits ? channel.limits->clamp(wanted) : wanted;
        if (channel.value != wanted)
            out.messages.push_back(fmt::format("'{}' stops at its limit {}",
                                               owner_name(document, moved.owner),
                                               format_channel(moved.kind, channel.value, document)));
        put_channel(out.document, moved, channel);
    }
    return out;
}

/// Limits and lock of a channel, of parts and of elements alike.
Result<Outcome> channel_limit(const Document& document, const Arguments& a, const OperationContext&) {
    Outcome out{document};
    PIVRAK_TRY(channels, channels_asked(a));
    for (const ChannelRef asked : channels) {
        const auto found = find_channel(document, asked);
        if (!found) {
            const std::string name = owner_name(document, asked.owner);
            return Error{"channel.none", fmt::format("'{}' has no {}", name, channel_word(asked.kind)), name};
        }
        Channel channel = *found;
        PIVRAK_TRY(limits, limits_from(a, asked.kind, document.settings.length_unit, channel.limits));
        channel.limits = limits;
        if (limits) channel.value = limits->clamp(channel.value);
        if (a.has("locked")) channel.locked = a.flag("locked");
        put_channel(out.document, asked, channel);
    }
    return out;
}

/// Every channel of some parts back to zero, or as near as its limits let it. Keyed channels get a key there.
Result<Outcome> to_rest(const Document& document, const Arguments& a, const OperationContext&) {
    const Clip* found = nullptr;
    if (a.has("frame")) {
        PIVRAK_CHECK(check_key_frame(a.number("frame")));
        PIVRAK_TRY(named, clip_named(document, a));
        found = named;
    }
    std::optional<Clip> clip = found ? std::optional(*found) : std::nullopt;
    Outcome out{document};
    const Drivers drivers(document);
    std::size_t moved = 0, keyed = 0, left = 0;
    for (const PartId id : parts_or_all(document, a)) {
        Part part = *document.parts.find(id);
        for (const ChannelKind kind : part.channels()) {
            if (!check_free_channel(drivers, {id, kind})) continue;
            Channel channel = part.joint.channel(kind);
            const double zero = rest_of(kind), rest = channel.limits ? channel.limits->clamp(zero) : zero;
            const Track* track = clip ? clip->track({id, kind}) : nullptr;
            if (track && !track->keys.empty()) {
                put_key(clip->track_or_new({id, kind}),
                        {a.number("frame"), rest, track->keys.front().interpolation});
                ++keyed;
            }
            left += rest != zero;
            if (channel.value == rest) continue;
            channel.value = rest;
            part.joint.set_channel(kind, channel);
            ++moved;
        }
        out.document.parts.set(part);
    }
    if (moved + keyed == 0) return nothing_to_do(document, "everything is at rest already");
    if (clip) out.document.clips.set(*clip);
    out.messages.push_back(counted(moved + keyed, "channel") + " back at rest");
    if (left) out.messages.push_back(counted(left, "channel") + " whose limits keep them from rest");
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
                    "fixed; hinge, slide or cylinder on one own axis; ball; free; as it is when left out",
                    false,
                    {},
                    {"fixed", "hinge", "slide", "cylinder", "ball", "free"}},
                   {"axis",
                    ArgumentKind::Choice,
                    "axis of a hinge, slide or cylinder; as it is when left out",
                    false,
                    {},
                    {"x", "y", "z"}},
                   channel_argument(),
                   {"min", ArgumentKind::Value, "lower limit of the channel", false, {}, {}},
                   {"max", ArgumentKind::Value, "upper limit of the channel", false, {}, {}},
                   {"unlimited", ArgumentKind::Flag, "takes the limits away", false, false, {}},
                   {"locked", ArgumentKind::Flag, "whether the channel can move at all", false, {}, {}}},
                  joint_set});
    registry.add({"channel.rest",
                  "Back to rest",
                  "Sets every free channel to zero, or as near as its limits let it.",
                  {parts_argument("parts to put at rest; all when left out", false),
                   {"frame", ArgumentKind::Number, "keyed channels get a key at this frame", false, {}, {}},
                   clip_argument()},
                  to_rest});
    registry.add({"channel.set",
                  "Turn or shift",
                  "Sets a channel of parts that have no keys on it; a limit stops it.",
                  {parts_argument("parts to move", false),
                   elements_argument(),
                   channel_argument(),
                   {"value", ArgumentKind::Value, "the turn or shift from rest", true, {}, {}}},
                  channel_set});
    registry.add({"channel.limit",
                  "Limits of a channel",
                  "Says how far a channel of parts or of elements may go, or that it stands still.",
                  {parts_argument("parts whose channel is limited", false),
                   elements_argument(),
                   channel_argument(),
                   {"min", ArgumentKind::Value, "lower limit of the channel", false, {}, {}},
                   {"max", ArgumentKind::Value, "upper limit of the channel", false, {}, {}},
                   {"unlimited", ArgumentKind::Flag, "takes the limits away", false, false, {}},
                   {"locked", ArgumentKind::Flag, "whether the channel can move at all", false, {}, {}}},
                  channel_limit});
}

}  // namespace pivrak
