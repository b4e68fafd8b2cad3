#pragma once

#include "core/model/field.h"

namespace pivrak {

/// How two members run on each other: gears with outside teeth; one inside a ring; a rack; a worm and its
/// wheel; bevels whose axes meet; pulleys with a belt, open or crossed; a screw and its nut.
enum class PairKind : std::uint8_t { Outside, Inside, Rack, Worm, Bevel, Belt, CrossedBelt, Screw };
inline constexpr ChoiceWords<8> pair_kind_words{"outside", "inside", "rack",         "worm",
                                                "bevel",   "belt",   "crossed_belt", "screw"};

/// Two members that run on each other without slip. It names a driver, but either may move the other: the
/// whole train of shafts is solved at once. Against what carries both axes, turns and shifts keep one ratio.
struct GearPair {
    static constexpr std::string_view word = "gear";
    static constexpr bool one_measure = true;  ///< its parts grow together, or not at all

    ChannelRef driver, driven;
    int driver_teeth = 1, driven_teeth = 1;  ///< of a worm: its starts; not used by screws
    double phase = 0;             ///< of the driven at which teeth interleave, driver at zero [rad], or [m]
    bool phase_measured = false;  ///< found from the shapes, not typed
    PairKind kind = PairKind::Outside;
    double driver_radius_m = 0, driven_radius_m = 0;  ///< rolling radii where no teeth tell; else 0
    double lead_m = 0;                                ///< shift of a nut for one turn of its screw
    bool left_hand = false;                           ///< of a worm or a screw
    bool operator==(const GearPair&) const = default;

    std::optional<ChannelRef> moved_by() const { return driver; }
    Damaged damaged() const {
        if (driver_radius_m < 0 || driven_radius_m < 0 || lead_m < 0)
            return "a gear pair has a size below zero";
        if (driver_teeth < 1 || driven_teeth < 1) return "a gear has no teeth";
        return std::nullopt;
    }

    template <class Self, class Visitor>
    static void fields(Self& self, Visitor& v) {
        v.channel("driven", self.driven, Role::Driven);
        v.channel("driver", self.driver, Role::Driver);
        v.choice("pair", self.kind, pair_kind_words, PairKind::Outside);
        v.count("driver_teeth", self.driver_teeth);
        v.count("driven_teeth", self.driven_teeth);
        // Of what is shifted it is a length.
        v.number("phase", self.phase,
                 {.dimension = is_turn(self.driven.kind) ? Dimension::Angle : Dimension::Length,
                  .usual = 0,
                  .in_mirror = InMirror::AsDriven,
                  .formerly = "phase_rad"});
        v.flag("phase_measured", self.phase_measured);
        v.number("driver_radius_m", self.driver_radius_m, {.dimension = Dimension::Length, .usual = 0});
        v.number("driven_radius_m", self.driven_radius_m, {.dimension = Dimension::Length, .usual = 0});
        v.number("lead_m", self.lead_m, {.dimension = Dimension::Length, .usual = 0});
        if (self.kind == PairKind::Worm || self.kind == PairKind::Screw)
            v.handed("left_hand", self.left_hand);
        else
            v.flag("left_hand", self.left_hand);
    }
};

}  // namespace pivrak
