#pragma once

#include <optional>
#include <variant>

#include "core/base/overloaded.h"
#include "core/model/channel.h"

namespace pivrak {

/// How two members run on each other: gears with outside teeth; one inside a ring; a rack; a worm and its
/// wheel; bevels whose axes meet; pulleys with a belt, open or crossed; a screw and its nut.
enum class PairKind : std::uint8_t { Outside, Inside, Rack, Worm, Bevel, Belt, CrossedBelt, Screw };

/// Two members that run on each other without slip. It names a driver, but either may move the other: the
/// whole train of shafts is solved at once. Against what carries both axes, turns and shifts keep one ratio.
struct GearPair {
    ChannelRef driver, driven;
    int driver_teeth = 1, driven_teeth = 1;  ///< of a worm: its starts; not used by screws
    double phase = 0;             ///< of the driven at which teeth interleave, driver at zero [rad], or [m]
    bool phase_measured = false;  ///< found from the shapes, not typed
    PairKind kind = PairKind::Outside;
    double driver_radius_m = 0, driven_radius_m = 0;  ///< rolling radii where no teeth tell; else 0
    double lead_m = 0;                                ///< shift of a nut for one turn of its screw
    bool left_hand = false;                           ///< of a worm or a screw
    bool operator==(const GearPair&) const = default;
};

/// A wheel that turns as it is carried along, so that it does not slide where it touches.
struct Roll {
    ChannelRef driven;    ///< the turn of a hinge
    PartId rider;         ///< turns by how far this part rides along its path; none: by any motion
    double radius_m = 0;  ///< 0: measured on its shape
    double slip = 0;      ///< share by which it turns too fast (above 0) or too slowly (-1: it stands)
    PartId like;          ///< turns with this wheel, as one track runs over both; none: by itself
    bool operator==(const Roll&) const = default;
};

/// A wheel steered so that its axle points to the middle of the bend that the steering asks for.
/// Source: the cot rule, cot(outer) - cot(inner) = track / wheelbase (T. D. Gillespie, Fundamentals of
/// Vehicle Dynamics, 1992).
struct Steer {
    ChannelRef driver, driven;  ///< turns about up, left above zero
    double reference_m = 1;     ///< how far ahead of the turning axle the steering's angle is meant
    double forward_m = 1;       ///< the kingpin, ahead of the turning axle
    double left_m = 0;          ///< the kingpin, left of the middle
    PartId rider;               ///< the bends of the path it rides are steered too; may be none
    bool operator==(const Steer&) const = default;
};

/// A wheel that touches the ground with the lowest place of its profile however far it leans, up to lying on
/// its side. The three shifts of a free frame that carries it are driven; the lean is that frame's turn, or
/// comes from what carries it. It rolls over its profile sideways without sliding.
struct Lean {
    ChannelRef driven;  ///< shift z of the free frame; its shifts x and y are driven too
    PartId wheel;       ///< a hinge carried by that frame
    PartId ground;      ///< a part with a mesh; none for the floor
    bool operator==(const Lean&) const = default;
};

/// A channel moved by others.
struct Coupling {
    CouplingId id;
    std::variant<GearPair, Roll, Steer, Lean> what;
    bool operator==(const Coupling&) const = default;

    const GearPair* gear() const { return std::get_if<GearPair>(&what); }
    const Roll* roll() const { return std::get_if<Roll>(&what); }
    const Steer* steer() const { return std::get_if<Steer>(&what); }
    const Lean* lean() const { return std::get_if<Lean>(&what); }
    ChannelRef driven() const {
        return std::visit([](const auto& kind) { return kind.driven; }, what);
    }
    /// Whether it moves a channel: the one it is named by, or another one along with it.
    bool drives(ChannelRef channel) const {
        return channel == driven() ||
               (lean() && channel.part == driven().part &&
                (channel.kind == ChannelKind::ShiftX || channel.kind == ChannelKind::ShiftY));
    }
    /// The channel that drives it; a wheel that rolls by any motion, or leans, has none.
    std::optional<ChannelRef> driver() const {
        using Driver = std::optional<ChannelRef>;
        return std::visit(Overloaded{[](const GearPair& pair) -> Driver { return pair.driver; },
                                     [](const Roll& roll) -> Driver {
                                         if (roll.like) return ChannelRef{roll.like, ChannelKind::Turn};
                                         if (roll.rider) return ChannelRef{roll.rider, ChannelKind::Along};
                                         return std::nullopt;
                                     },
                                     [](const Steer& steer) -> Driver { return steer.driver; },
                                     [](const Lean&) -> Driver { return std::nullopt; }},
                          what);
    }
    /// `change(PartId&)` for every part it names.
    template <class Change>
    void each_part(Change change) {
        const auto if_any = [&](PartId& part) {
            if (part) change(part);
        };
        std::visit(Overloaded{[&](GearPair& pair) {
                                  change(pair.driver.part);
                                  change(pair.driven.part);
                              },
                              [&](Roll& roll) {
                                  change(roll.driven.part);
                                  if_any(roll.rider);
                                  if_any(roll.like);
                              },
                              [&](Steer& steer) {
                                  change(steer.driver.part);
                                  change(steer.driven.part);
                                  if_any(steer.rider);
                              },
                              [&](Lean& lean) {
                                  change(lean.driven.part);
                                  change(lean.wheel);
                                  if_any(lean.ground);
                              }},
                   what);
    }
};

}  // namespace pivrak
