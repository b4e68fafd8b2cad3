#pragma once

#include "core/model/field.h"

namespace pivrak {

/// What keeps a rider upright: the world's up; the path's own frame, which never turns about its direction
/// (so nothing flips); the world's up leaned into bends; plumb, level however steep the path is, as what
/// hangs from a rope; or level as well, but faced by the path's side, so that it goes over loops without
/// turning round.
enum class Upright : std::uint8_t { World, Path, Bank, Plumb, Level };
inline constexpr ChoiceWords<5> upright_words{"world", "path", "bank", "plumb", "level"};

/// A part carried along a path. Its rest frame is where the path puts it, and its joint moves it from there.
/// The channel `Along` says how far [m]. Carried at two points it follows the chord between them.
struct Ride {
    PathId path;
    int axis = 0;          ///< own axis that leads: 0 x, 1 y, 2 z
    bool against = false;  ///< the axis looks back along the path
    int up_axis = 2;       ///< own axis that is kept up; not the leading one
    Upright upright = Upright::World;
    double bank_speed_m_s = 0;        ///< lean so that this speed pushes straight down
    double bank_gain = 1;             ///< of that lean
    double side_m = 0, height_m = 0;  ///< off the path, to its left and up
    double front_m = 0, rear_m = 0;   ///< points that carry it, ahead of and behind the pivot
    PartId ahead;                     ///< a rider it is coupled to; none for one that goes by itself
    bool along_path = false;          ///< the gap is a length of path between the pivots, not of a coupler
    double gap_m = 0;                 ///< straight distance between the couplers
    double coupler_front_m = 0, coupler_rear_m = 0;  ///< couplers, ahead of and behind the pivot
    bool operator==(const Ride&) const = default;

    Damaged damaged() const {
        return axis == up_axis ? Damaged("a rider's leading axis is kept up too") : std::nullopt;
    }

    template <class Self, class Visitor>
    static void fields(Self& self, Visitor& v) {
        const auto length = [&](const char* name, auto& value, InMirror in_mirror = InMirror::Stays) {
            v.number(name, value, {.dimension = Dimension::Length, .usual = 0, .in_mirror = in_mirror});
        };
        v.id("path", self.path);
        v.axis("axis", self.axis, 0);
        v.axis("up_axis", self.up_axis, 2);
        v.choice("upright", self.upright, upright_words, Upright::World);
        v.flag("against", self.against);
        v.flag("along_path", self.along_path);
        v.part_if("ahead", self.ahead, Role::Outside);
        v.number("bank_speed_m_s", self.bank_speed_m_s, {.usual = 0});
        v.number("bank_gain", self.bank_gain, {.usual = 1});
        length("side_m", self.side_m, InMirror::Flips);
        length("height_m", self.height_m);
        length("front_m", self.front_m);
        length("rear_m", self.rear_m);
        length("gap_m", self.gap_m);
        length("coupler_front_m", self.coupler_front_m);
        length("coupler_rear_m", self.coupler_rear_m);
    }
};

}  // namespace pivrak
