#pragma once

#include <string>
#include <vector>

#include "core/base/result.h"
#include "core/geometry/types.h"

namespace pivrak::demo {

/// A tracked snow vehicle, 6.4 m: nested nodes without shapes, uneven scale, its right side a mirrored node,
/// floating 0.13 m, facing backwards, equal names. Answers GLB bytes.
Result<std::string> groomer();

/// A truck with a two-axle trailer, its centimetres written as metres; all tyres are one mesh.
Result<std::string> supply_truck();

/// A ropeway cabin with hanger, grip, two sliding doors and a folding step.
Result<std::string> cabin();

/// The finished shapes of a loading crane, each where its stand-in stands in `proxy-loader.job.json`.
Result<std::string> loader_parts();

/// An uneven snow field of 80 m by 60 m with a track cut into it: 60 000 triangles with colours.
Result<std::string> saddle_ground();

/// Where a part really turns: a point on its hinge line [m] and the line's direction, against `middle_of`,
/// the middle of the bounds of a part that stands still. X forward, Z up.
struct HingeTruth {
    std::string part, middle_of;
    Vec3 point_m, direction;
};
std::vector<HingeTruth> groomer_hinges();
std::vector<HingeTruth> truck_hinges();

/// What the raw files do not tell, in metres, with each model stood up: facing X, on the floor, centred.
struct VehicleFigures {
    double groomer_length = 6.4, groomer_float = 0.13;
    int road_wheels_a_side = 5;
    double road_wheel_radius = 0.26, road_wheel_width = 0.16;
    double truck_wheel_radius = 0.42, truck_tyre_width = 0.26;
    double truck_wheelbase = 3.4, truck_track = 1.86;
    int ground_triangles = 60000;
};

}  // namespace pivrak::demo
