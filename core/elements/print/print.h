#pragma once

#include <string>

#include "core/model/field.h"

namespace pivrak {

/// A track that a wheel prints on the ground: a ribbon along the way of its contact that grows as it goes.
/// Its picture lies on the ground in metres, so nothing of it ever slides.
struct Print {
    PrintId id;
    std::string name;
    PartId wheel;           ///< a hinge about its axle
    PartId ground;          ///< a part with a mesh; none for the floor
    double width_m = 0;     ///< 0: that of the tread
    double tile_m = 0.5;    ///< length of way that one picture covers
    double lift_m = 0.003;  ///< above the ground, so that it shows
    MaterialId material;
    bool operator==(const Print&) const = default;

    Damaged damaged() const {
        return width_m < 0 || !(tile_m > 0) ? Damaged("a print has no size") : std::nullopt;
    }

    template <class Self, class Visitor>
    static void fields(Self& self, Visitor& v) {
        v.id("id", self.id);
        v.text("name", self.name);
        v.part("wheel", self.wheel, Role::Needed);
        v.part_if("ground", self.ground, Role::Outside);
        v.number("width_m", self.width_m, {.dimension = Dimension::Length});
        v.number("tile_m", self.tile_m, {.dimension = Dimension::Length});
        v.number("lift_m", self.lift_m, {.dimension = Dimension::Length});
        v.id_if("material", self.material);
    }
};

}  // namespace pivrak
