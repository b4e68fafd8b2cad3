#pragma once

#include "core/model/field.h"

namespace pivrak {

/// A channel that follows another one, with a gain; as far as its blend says, and else as it is asked to.
struct Follower {
    static constexpr std::string_view word = "follower";

    ChannelRef driver, driven;
    double gain = 1;
    double left_m = 0;  ///< a place to the left, for the mirror
    PartId beside;      ///< may be none
    Channel blend{1, std::nullopt, false};
    bool operator==(const Follower&) const = default;

    std::optional<ChannelRef> moved_by() const { return driver; }
    Damaged damaged() const { return gain == 0 ? Damaged("a follower has no gain") : std::nullopt; }

    template <class Self, class Visitor>
    static void fields(Self& self, Visitor& v) {
        v.channel("driven", self.driven, Role::Driven);
        v.channel("driver", self.driver, Role::Driver);
        v.number("gain", self.gain, {.usual = 1});
        v.number("left_m", self.left_m, {.usual = 0, .in_mirror = InMirror::Flips});
        v.part_if("beside", self.beside, Role::Outside);
        v.own("blend", ChannelKind::Blend, self.blend, {.usual = 1});
    }
};

}  // namespace pivrak
