#pragma once

#include <vector>

#include "core/base/progress.h"
#include "core/model/document.h"

namespace pivrak {

/// A wheel as found: the parts that turn together, and where it stands in the world at rest.
struct FoundWheel {
    std::vector<PartId> parts;  ///< the one with the largest radius first: the tyre
    std::vector<PartId> pins;   ///< stub axles that it turns on: they go up and down with it, and do not turn
    Vec3 hub{0, 0, 0};          ///< middle of the tyre
    Vec3 axle{0, 1, 0};         ///< unit, to the left
    double radius_m = 0, width_m = 0;
    int axle_index = 0;  ///< from the front, 0 first
};

/// How a vehicle stands on its wheels, facing X.
struct VehicleLayout {
    std::vector<FoundWheel> wheels;   ///< from front to rear, left before right
    std::vector<double> axles_x_m;    ///< from front to rear
    std::vector<FoundWheel> runners;  ///< of a crawler: what a track runs over besides, off the ground
    double track_thickness_m = 0;     ///< of a crawler: from its wheels down to the lowest of its track
    std::vector<PartId> body;         ///< everything else, uppermost parts only

    double wheelbase_m() const;  ///< from the first axle to the last; 0 with one axle
    double track_m() const;      ///< widest distance of hubs across; 0 with wheels on one side only
};

/// Finds the wheels among some parts and all they carry: round parts about an axis that points sideways and
/// that reach the lowest place, with what turns on the same axis inside them. With `chosen`, these parts are
/// the wheels instead, round or not. Wheels closer along X than a third of their radius share an axle. With
/// three axles or more, round parts before, behind or above the wheels of a side, with a twin on the other,
/// are sprockets and idlers. Errors: `vehicle.no_wheels`, `vehicle.no_shape` (a chosen part has none),
/// `vehicle.cancelled`; where pairs of wheels turn about X `vehicle.sideways`, with the present direction of
/// what may be its front as subject, where they turn about Z `vehicle.lying`, with that of what may be up.
Result<VehicleLayout> vehicle_layout(const Document& document, const std::vector<PartId>& parts,
                                     const std::vector<PartId>& chosen = {}, const Progress& progress = {});

}  // namespace pivrak
