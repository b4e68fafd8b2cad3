#pragma once

#include "core/model/field.h"

namespace pivrak {

/// A wheel that touches the ground with the lowest place of its profile however far it leans, up to lying on
/// its side. The three shifts of a free frame that carries it are driven; the lean is that frame's turn, or
/// comes from what carries it. It rolls over its profile sideways without sliding.
struct Lean {
    static constexpr std::string_view word = "lean";
    static constexpr std::string_view moved_by_words = "the ground it leans on";
    static constexpr std::string_view by_hand_words =
        "is set down on the ground; turn it about x, or move what carries it";

    ChannelRef driven;  ///< shift z of the free frame; its shifts x and y are driven too
    PartId wheel;       ///< a hinge carried by that frame
    PartId ground;      ///< a part with a mesh; none for the floor
    bool operator==(const Lean&) const = default;

    std::optional<ChannelRef> moved_by() const { return std::nullopt; }
    bool also_drives(ChannelRef channel) const {
        return channel.part() == driven.part() &&
               (channel.kind == ChannelKind::ShiftX || channel.kind == ChannelKind::ShiftY);
    }
    Damaged damaged() const { return std::nullopt; }

    template <class Self, class Visitor>
    static void fields(Self& self, Visitor& v) {
        v.channel("driven", self.driven, Role::Driven);
        v.part("wheel", self.wheel, Role::Needed);
        v.part_if("ground", self.ground, Role::Outside);
    }
};

}  // namespace pivrak
