#pragma once

#include "core/model/field.h"

namespace pivrak {

/// A part drawn along behind a hitch: its frame stands over its rear axle, level, and heads where the axle
/// was pulled. With a turntable, the drawbar steers a front axle `wheelbase_m` before the rear one.
struct Tow {
    PartId hitch;            ///< the part that pulls
    Vec3 hitch_m{0, 0, 0};   ///< where, in its frame
    double drawbar_m = 1;    ///< from the hitch to the axle, or to the turntable
    PartId turntable;        ///< a hinge that the drawbar turns; none for a rigid drawbar
    double wheelbase_m = 0;  ///< from the turntable back to the rear axle
    PartId drawbar;          ///< a hinge that lets the drawbar nod towards the hitch; may be none
    bool operator==(const Tow&) const = default;

    Damaged damaged() const {
        return !(drawbar_m > 0) || wheelbase_m < 0 ? Damaged("a drawbar has no length") : std::nullopt;
    }

    template <class Self, class Visitor>
    static void fields(Self& self, Visitor& v) {
        v.part("hitch", self.hitch, Role::Held);
        v.vector("hitch_m", self.hitch_m);
        v.number("drawbar_m", self.drawbar_m, {.dimension = Dimension::Length});
        v.part_if("turntable", self.turntable, Role::Outside);
        v.part_if("drawbar", self.drawbar, Role::Outside);
        v.number("wheelbase_m", self.wheelbase_m, {.dimension = Dimension::Length, .usual = 0});
    }
};

}  // namespace pivrak
