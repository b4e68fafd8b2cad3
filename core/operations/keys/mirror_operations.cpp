// Keys for the other side of a machine.
#include <fmt/format.h>

#include "core/base/words.h"
#include "core/model/edits/branch_copy.h"
#include "core/model/element_channels.h"
#include "core/model/names/names.h"
#include "core/operations/all_operations.h"
#include "core/operations/keys/clip_access.h"
#include "core/operations/keys/key_picks.h"

namespace pivrak {
namespace {

/// The part of the other side by its name; the part itself where its name has no side. Errors: `mirror.none`.
Result<PartId> other_side_of(const Document& document, PartId part, SideAxis side) {
    const std::string name = name_of(document, part), other = swap_sides(name, side);
    if (other == name) return part;
    const auto found = find_part(document, other);
    if (found) return *found;
    return Error{"mirror.none",
                 fmt::format("'{}' has no other side: there is no one part called '{}'", name, other), name};
}

/// With which sign the other side's channel does the mirror image of the motion: a shift goes along the image
/// of its axis, a turn goes the other way round about it.
double image_sign(const Document& document, ChannelRef from, ChannelRef to, int across) {
    const Part &part = *document.parts.find(from.part()), &other = *document.parts.find(to.part());
    if (from.kind > ChannelKind::TurnZ) return 1;  // it has no direction
    Vec3 image = world_from_rest(document, part.id).axis(axis_of(part.joint, from.kind));
    image[across] = -image[across];
    if (is_turn(from.kind)) image = -image;
    return world_from_rest(document, other.id).axis(axis_of(other.joint, to.kind)).dot(image) < 0 ? -1 : 1;
}

Result<Outcome> key_mirror(const Document& document, const Arguments& a, const OperationContext&) {
    PIVRAK_TRY(source, clip_named(document, a));
    PIVRAK_TRY(picked, picked_keys(*source, a));
    const bool along = a.text("across") == "length";
    const SideAxis side = along ? SideAxis::FrontRear : SideAxis::LeftRight;
    const double by = a.has("to_frame") ? a.number("to_frame") - frames_of(picked).min : 0;
    Clip clip = *source;
    std::size_t count = 0;
    for (const PickedKeys& one : picked) {
        if (!is_of_part(one.channel.kind))
            return Error{
                "mirror.element",
                fmt::format("'{}' is of no part, and has no side", channel_name(document, one.channel)), ""};
        PIVRAK_TRY(part, other_side_of(document, one.channel.part(), side));
        const ChannelRef to{part, one.channel.kind};
        if (!find_channel(document, to))
            return Error{"channel.none",
                         fmt::format("'{}' has no {}", name_of(document, part), channel_word(to.kind)),
                         name_of(document, part)};
        const double sign = image_sign(document, one.channel, to, along ? 0 : 1);
        for (const double frame : one.frames) {
            Key key = *source->track(one.channel)->key_at(frame);
            key.scale_value(sign);
            key.frame += by;
            PIVRAK_CHECK(check_key_frame(key.frame));
            put_key(clip.track_or_new(to), key);
            ++count;
        }
    }
    if (clip == *source) return nothing_to_do(document, "the other side has these keys already");
    return with_clip(document, std::move(clip), counted(count, "key") + " set on the other side");
}

}  // namespace

void add_mirror_operations(Registry& registry) {
    registry.add({"key.mirror", "Keys to the other side",
                  "Copies keys to the parts of the other side, by their names, as the mirror image of the "
                  "motion; what "
                  "stands in the middle gets them itself.",
                  picking_keys({{"to_frame",
                                 ArgumentKind::Number,
                                 "where the first of them stands; where it does now when left out",
                                 false,
                                 {},
                                 {}},
                                {"across",
                                 ArgumentKind::Choice,
                                 "the machine's width, left and right, or its length, front and rear",
                                 false,
                                 "width",
                                 {"width", "length"}}}),
                  key_mirror});
}

}  // namespace pivrak
