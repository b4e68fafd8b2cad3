#pragma once

#include <string>
#include <vector>

#include "core/model/field.h"

namespace pivrak {

/// A wheel of a vehicle: the hinge that rolls, and what it hangs from.
struct VehicleWheel {
    PartId wheel;       ///< a hinge about the axle
    PartId suspension;  ///< a slide along the body's up; none for a rigid axle
    PartId steering;    ///< a hinge about its kingpin; none for a wheel that is not steered
    bool operator==(const VehicleWheel&) const = default;

    template <class Self, class Visitor>
    static void fields(Self& self, Visitor& v) {
        v.part("wheel", self.wheel, Role::Held);
        v.part_if("suspension", self.suspension, Role::Outside);
        v.part_if("steering", self.steering, Role::Outside);
    }
};

/// A vehicle that stands on its wheels. Its frame `ground_level` heaves, pitches and rolls as the ground
/// under the wheels asks, and each suspension sets its wheel down on the ground.
struct Vehicle {
    static constexpr bool one_measure = true;  ///< its parts grow together, or not at all

    VehicleId id;
    std::string name;
    PartId place;         ///< what moves it about: a free part, a rider or one that is towed
    PartId yaw;           ///< a hinge between both that turns the body without steering it; may be none
    PartId ground_level;  ///< free; its shift z, turn x and turn y are driven
    PartId body;          ///< free, for leaning by hand; carries everything sprung
    PartId steering;      ///< a hinge that steers; may be none
    PartId ground;        ///< a part with a mesh; none for the floor
    std::vector<VehicleWheel> wheels;
    double heave = 1, pitch = 1, roll = 1;  ///< how much the body follows the ground, 0 to 1
    double track_thickness_m = 0;  ///< thickness of the track that runs between its wheels and the ground
    std::vector<PartId> runners;   ///< turn with a track without standing: sprockets and idlers
    bool operator==(const Vehicle&) const = default;

    Damaged damaged() const { return std::nullopt; }

    template <class Self, class Visitor>
    static void fields(Self& self, Visitor& v) {
        v.id("id", self.id);
        v.text("name", self.name);
        v.part("place", self.place, Role::Needed);
        v.part("ground_level", self.ground_level, Role::Needed);
        v.part("body", self.body, Role::Held);
        v.part_if("yaw", self.yaw, Role::Outside);
        v.part_if("steering", self.steering, Role::Outside);
        v.part_if("ground", self.ground, Role::Outside);
        v.list("wheels", self.wheels);
        v.number("heave", self.heave, {.usual = 1});
        v.number("pitch", self.pitch, {.usual = 1});
        v.number("roll", self.roll, {.usual = 1});
        v.number("track_thickness_m", self.track_thickness_m, {.dimension = Dimension::Length, .usual = 0});
        v.parts("runners", self.runners, Role::Outside);
    }
};

}  // namespace pivrak
