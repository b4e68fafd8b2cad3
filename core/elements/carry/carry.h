#pragma once

#include <string>

#include "core/base/id.h"
#include "core/geometry/frame.h"
#include "core/model/field.h"

namespace pivrak {

using CarryId = Id<struct CarryTag>;

/// Another part that carries one, as far as its blend says: the frame in which the part rests follows this
/// carrier instead of what carries it in the tree. With several, each takes its share of what those before it
/// left. The part's own joint moves it from there.
struct Carry {
    CarryId id;
    std::string name;
    PartId part;
    PartId carrier;         ///< none for the world
    Vec3 place{0, 0, 0};    ///< where it rests, its joint at zero, in the carrier's frame [m]
    Quat turn{1, 0, 0, 0};  ///< and how
    bool off = false;
    Channel blend{1, std::nullopt, false};
    bool operator==(const Carry&) const = default;

    Damaged damaged() const {
        if (part == carrier) return "a part carries itself";
        return blend.value < 0 || blend.value > 1 ? Damaged("its blend is outside 0 to 1") : std::nullopt;
    }

    template <class Self, class Visitor>
    static void fields(Self& self, Visitor& v) {
        v.id("id", self.id);
        v.text("name", self.name);
        v.part("part", self.part, Role::Driven);
        v.part_if("carrier", self.carrier, Role::Held);
        v.vector("place", self.place, Vec3(0, 0, 0));
        v.rotation("turn", self.turn);
        v.flag("off", self.off);
        v.own("blend", ChannelKind::Blend, self.blend, {.usual = 1});
    }
    template <class Sign>
    void mirror(const Sign& sign) {
        Mat3 image = turn.toRotationMatrix();
        for (int k = 0; k < 3; ++k) {
            const auto kind = static_cast<ChannelKind>(static_cast<int>(ChannelKind::ShiftX) + k);
            if (sign(ChannelRef{part, kind}) < 0) image.col(k) *= -1;
            if (sign(ChannelRef{carrier, kind}) >= 0) continue;
            image.row(k) *= -1;
            place[k] = -place[k];
        }
        if (image.determinant() > 0) turn = Quat(image).normalized();
    }

    bool pivot_moved(PartId moved, const Frame& new_from_old) {
        Frame rest = carrier_from_rest();
        if (moved == part) rest = rest * new_from_old.inverse();
        if (moved == carrier) rest = new_from_old * rest;
        place = rest.translation;
        turn = rest.rotation.normalized();
        return moved == part || moved == carrier;
    }
    Frame carrier_from_rest() const { return {turn, place}; }
    PartId home() const { return part; }
};

}  // namespace pivrak
