#include <fmt/format.h>

#include <algorithm>

#include "core/operations/all_operations.h"
#include "core/operations/channel_access.h"
#include "core/operations/constraints/posed.h"
#include "core/operations/keys/clip_access.h"
#include "core/operations/named_elements.h"

namespace pivrak {
namespace {

std::string carrier_name(const Document& document, PartId carrier) {
    return carrier ? name_of(document, carrier) : "the world";
}

Result<void> check_can_carry(const Document& document, PartId part, PartId carrier) {
    const Part& carried = *document.parts.find(part);
    if (carried.ride || carried.tow)
        return Error{"carry.rider",
                     fmt::format("'{}' hangs where its {} puts it; put a frame below it and carry that",
                                 carried.name, carried.ride ? "path" : "hitch"),
                     carried.name};
    if (carrier && is_below(document, carrier, part))
        return Error{"carry.itself",
                     fmt::format("'{}' carries '{}', so it cannot be carried by it", carried.name,
                                 carrier_name(document, carrier)),
                     carried.name};
    return {};
}

/// So that the part rests, at that pose, where it rests now.
Carry carry_from(Document& document, const Posed& posed, PartId part, PartId carrier) {
    Carry carry;
    carry.id = document.new_id<CarryId>();
    carry.part = part;
    carry.carrier = carrier;
    const Frame offset = (posed.world(carrier).inverse() * posed.rest(part)).normalized();
    carry.place = offset.translation;
    carry.turn = offset.rotation;
    const std::string wanted = name_of(document, part) + " by " + carrier_name(document, carrier);
    carry.name = free_entry_name(document.carries, wanted);
    return carry;
}

Result<Outcome> carry_add(const Document& document, const Arguments& a, const OperationContext&) {
    PIVRAK_TRY(posed, Posed::asked(document, a));
    Outcome out{document};
    const PartId carrier = a.has("carrier") ? a.part("carrier") : PartId{};
    for (const PartId part : a.parts("parts")) {
        PIVRAK_CHECK(check_can_carry(document, part, carrier));
        Carry carry = carry_from(out.document, posed, part, carrier);
        if (a.flag("snap")) {
            carry.place = Vec3(0, 0, 0);
            carry.turn = Quat(1, 0, 0, 0);
        }
        if (const auto blend = a.number_if("blend")) {
            PIVRAK_CHECK(check_in_range(ChannelKind::Blend, *blend));
            carry.blend.value = *blend;
        }
        out.document.carries.set(carry);
        out.messages.push_back(
            fmt::format("'{}' is carried by {}", name_of(document, part), carrier_name(document, carrier)));
        out.readings["carries"].push_back(carry.id.value);
    }
    return out;
}

/// In so little time one carrier hands over to the next: they differ by less than it can be seen.
constexpr double change_frames = 0.01;

/// From that frame on another carrier, with nothing seen of it: where it rests is measured there, and the new
/// carrier's blend goes from nothing to all just before.
Result<Outcome> carry_change(const Document& document, const Arguments& a, const OperationContext&) {
    PIVRAK_TRY(clip, clip_named(document, a));
    const double frame = a.number("frame");
    PIVRAK_CHECK(check_key_frame(frame));
    PIVRAK_TRY(posed, Posed::at(document, clip->id, frame));
    Outcome out{document};
    Clip changed = *clip;
    const PartId carrier = a.has("carrier") ? a.part("carrier") : PartId{};
    for (const PartId part : a.parts("parts")) {
        PIVRAK_CHECK(check_can_carry(document, part, carrier));
        const Carry carry = carry_from(out.document, posed, part, carrier);
        out.document.carries.set(carry);
        Track& track = changed.track_or_new({carry.id, ChannelKind::Blend});
        put_key(track, {frame - change_frames, 0, Interpolation::Linear});
        put_key(track, {frame, 1, Interpolation::Linear});
        out.messages.push_back(fmt::format("'{}' is carried by {} from frame {} on", name_of(document, part),
                                           carrier_name(document, carrier), frame));
        out.readings["carries"].push_back(carry.id.value);
    }
    out.document.clips.set(changed);
    return out;
}

Result<std::vector<Carry>> carries_named(const Document& document, const Arguments& a) {
    return named_elements(document, document.carries, a, "carries", "carry.unknown", "carries nothing");
}

Result<Outcome> carry_set(const Document& document, const Arguments& a, const OperationContext&) {
    PIVRAK_TRY(found, carries_named(document, a));
    Outcome out{document};
    for (Carry carry : found) {
        if (a.has("on")) carry.off = !a.flag("on");
        if (const auto blend = a.number_if("blend")) {
            PIVRAK_CHECK(check_in_range(ChannelKind::Blend, *blend));
            carry.blend.value = *blend;
        }
        out.document.carries.set(carry);
    }
    return out;
}

Result<Outcome> carry_remove(const Document& document, const Arguments& a, const OperationContext&) {
    PIVRAK_TRY(found, carries_named(document, a));
    Outcome out{document};
    for (const Carry& carry : found) {
        out.document.carries.erase(carry.id);
        out.messages.push_back(fmt::format("'{}' removed", carry.name));
    }
    return out;
}

const ArgumentSpec carrier_argument =
    worded({"carrier", ArgumentKind::Part, "what carries them; the world when left out", false, {}, {}},
           "Carried by", "the world");

}  // namespace

void add_carry_operations(Registry& registry) {
    const ArgumentSpec carries{"carries", ArgumentKind::Elements, "by name or id", true, {}, {}};
    const ArgumentSpec blend{"blend", ArgumentKind::Number, "share from 0 to 1", false, {}, {}};
    registry.add(
        {"carry.add",
         "Carry by another part",
         "Parts rest in another part's frame instead of their carrier's in the tree, where they rest now.",
         {parts_argument("what is carried"),
          carrier_argument,
          blend,
          frame_argument(),
          clip_argument(),
          {"snap", ArgumentKind::Flag, "goes to the carrier's own frame", false, false, {}}},
         carry_add});
    registry.add({"carry.change",
                  "Change carrier at a frame",
                  "From a frame on parts are carried by another part, or the world, without a jump.",
                  {parts_argument("what is carried"),
                   carrier_argument,
                   {"frame", ArgumentKind::Number, "from which on", true, {}, {}},
                   clip_argument()},
                  carry_change});
    registry.add({"carry.set",
                  "Change a carrier's share",
                  "Sets a carrier's blend, or turns it off and on.",
                  {carries, blend, {"on", ArgumentKind::Flag, "whether it carries at all", false, {}, {}}},
                  carry_set});
    registry.add({"carry.remove",
                  "Remove carriers",
                  "The tree, or what is left, carries the part again.",
                  {carries},
                  carry_remove});
}

}  // namespace pivrak
