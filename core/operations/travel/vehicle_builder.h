#pragma once

#include <optional>
#include <set>

#include "core/model/document.h"
#include "core/rig/vehicles/vehicle_layout.h"

namespace pivrak {

/// How a vehicle is rigged on its wheels. Places are in the world at rest; it faces X.
struct VehiclePlan {
    std::string name = "Vehicle";
    std::set<int> steered;               ///< axles that are steered, the first is 0
    double bump_m = 0.1, droop_m = 0.1;  ///< travel of each wheel up and down
    double kingpin_m = 0;                ///< how far inside its wheel each kingpin stands
    PartId ground;
    // A crawler:
    double track_thickness_m = 0;  ///< thickness of its track under the wheels
    double track_pitch_m = 0;      ///< gives the radius of toothed sprockets; 0: half way up their teeth
    // A trailer:
    PartId hitch;  ///< the part that pulls; none for what drives by itself
    Vec3 hitch_place{0, 0, 0};
    std::vector<PartId> turntable;  ///< what turns with the drawbar, the first axle's wheels apart
    std::vector<PartId> drawbar;    ///< of these, what nods with the drawbar
};

struct BuiltVehicle {
    VehicleId vehicle;
    std::vector<PartId> created;
};

/// Makes the controls, frames and couplings of a vehicle, and hangs its parts into them; nothing moves. Every
/// part of the layout exists. Errors: `vehicle.driven` (a wheel turns by something else), `vehicle.hitch` (a
/// hitch that is not before the axle).
Result<BuiltVehicle> build_vehicle(Document& document, const VehicleLayout& layout, const VehiclePlan& plan);

}  // namespace pivrak
