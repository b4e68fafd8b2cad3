#pragma once

#include "core/model/field.h"

namespace pivrak {

/// What makes a datum a camera: it looks along its X, its Z up, and sees so much of what is before it. It is
/// carried, rides and is keyed as any part; pictures are taken through it.
struct Lens {
    double field_rad = 32 * rad_per_deg;  ///< from the bottom of the picture to its top
    bool operator==(const Lens&) const = default;

    Damaged damaged() const {
        return field_rad > 0.01 && field_rad < 3 ? std::nullopt
                                                 : Damaged("a camera sees nothing, or all at once");
    }
    template <class Self, class Visitor>
    static void fields(Self& self, Visitor& v) {
        v.number("field_rad", self.field_rad, {.dimension = Dimension::Angle});
    }
};

}  // namespace pivrak
