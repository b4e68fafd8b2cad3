#pragma once

#include <string>

#include "core/base/id.h"
#include "core/geometry/frame.h"
#include "core/model/field.h"

namespace pivrak {

using StretchId = Id<struct StretchTag>;

/// A spring or a cable between two seats. Its part hangs on the first one, points at the second, and its
/// shape is drawn out along its axis until it ends there; the wire of a coil keeps its thickness.
struct Stretch {
    static constexpr bool one_measure = true;  ///< its parts grow together, or not at all

    StretchId id;
    std::string name;
    PartId part;  ///< whose shape it is
    PartId from, to;
    Vec3 from_place{0, 0, 0}, to_place{0, 0, 0};  ///< the seats, in the frames of what holds them [m]
    bool evenly = false;                          ///< a coil, too, is drawn out as if it were solid
    bool off = false;
    bool operator==(const Stretch&) const = default;

    Damaged damaged() const {
        return from == to || part == from || part == to ? Damaged("its seats are not on two other parts")
                                                        : std::nullopt;
    }

    template <class Self, class Visitor>
    static void fields(Self& self, Visitor& v) {
        v.id("id", self.id);
        v.text("name", self.name);
        v.part("part", self.part, Role::Driven);
        v.part("from", self.from, Role::Needed);
        v.part("to", self.to, Role::Needed);
        v.vector("from_place", self.from_place, Vec3(0, 0, 0));
        v.vector("to_place", self.to_place, Vec3(0, 0, 0));
        v.flag("evenly", self.evenly);
        v.flag("off", self.off);
    }
    /// Makes it that of a mirror image, in which own axes of parts may be turned over.
    template <class Sign>
    void mirror(const Sign& sign) {
        for (int k = 0; k < 3; ++k) {
            const auto kind = static_cast<ChannelKind>(static_cast<int>(ChannelKind::ShiftX) + k);
            if (sign(ChannelRef{from, kind}) < 0) from_place[k] = -from_place[k];
            if (sign(ChannelRef{to, kind}) < 0) to_place[k] = -to_place[k];
        }
    }
    bool pivot_moved(PartId moved, const Frame& new_from_old) {
        if (moved == from) from_place = new_from_old.point(from_place);
        if (moved == to) to_place = new_from_old.point(to_place);
        return moved == from || moved == to;
    }
    PartId home() const { return part; }
};

}  // namespace pivrak
