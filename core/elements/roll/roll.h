#pragma once

#include "core/model/field.h"

namespace pivrak {

/// A wheel that turns as it is carried along, so that it does not slide where it touches.
struct Roll {
    static constexpr std::string_view word = "roll";
    static constexpr std::string_view moved_by_words = "its carrier's motion";
    static constexpr std::string_view by_hand_words = "rolls as it is carried along; move what carries it";

    ChannelRef driven;    ///< the turn of a hinge
    PartId rider;         ///< turns by how far this part rides along its path; none: by any motion
    double radius_m = 0;  ///< 0: measured on its shape
    double slip = 0;      ///< share by which it turns too fast (above 0) or too slowly (-1: it stands)
    PartId like;          ///< turns with this wheel, as one track runs over both; none: by itself
    bool operator==(const Roll&) const = default;

    std::optional<ChannelRef> moved_by() const {
        if (like) return ChannelRef{like, ChannelKind::Turn};
        if (rider) return ChannelRef{rider, ChannelKind::Along};
        return std::nullopt;
    }
    Damaged damaged() const {
        return radius_m < 0 ? Damaged("a rolling wheel has a radius below zero") : std::nullopt;
    }

    template <class Self, class Visitor>
    static void fields(Self& self, Visitor& v) {
        v.channel("driven", self.driven, Role::Driven);
        v.part_if("rider", self.rider, Role::Needed);
        v.number("radius_m", self.radius_m, {.dimension = Dimension::Length, .usual = 0});
        v.number("slip", self.slip, {.usual = 0});
        v.part_if("like", self.like, Role::Needed);
    }
};

}  // namespace pivrak
