#pragma once

#include "core/model/field.h"

namespace pivrak {

/// A wheel steered so that its axle points to the middle of the bend that the steering asks for.
/// Source: the cot rule, cot(outer) - cot(inner) = track / wheelbase (T. D. Gillespie, Fundamentals of
/// Vehicle Dynamics, 1992).
struct Steer {
    static constexpr std::string_view word = "steer";

    ChannelRef driver, driven;  ///< turns about up, left above zero
    double reference_m = 1;     ///< how far ahead of the turning axle the steering's angle is meant
    double forward_m = 1;       ///< the kingpin, ahead of the turning axle
    double left_m = 0;          ///< the kingpin, left of the middle
    PartId rider;               ///< the bends of the path it rides are steered too; may be none
    bool operator==(const Steer&) const = default;

    std::optional<ChannelRef> moved_by() const { return driver; }
    Damaged damaged() const { return std::nullopt; }

    template <class Self, class Visitor>
    static void fields(Self& self, Visitor& v) {
        v.channel("driven", self.driven, Role::Driven);
        v.channel("driver", self.driver, Role::Driver);
        v.number("reference_m", self.reference_m, {.dimension = Dimension::Length});
        v.number("forward_m", self.forward_m, {.dimension = Dimension::Length});
        v.number("left_m", self.left_m, {.dimension = Dimension::Length, .in_mirror = InMirror::Flips});
        v.part_if("rider", self.rider, Role::Needed);
    }
};

}  // namespace pivrak
