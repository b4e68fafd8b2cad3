#pragma once

#include <nlohmann/json.hpp>
#include <string>
#include <vector>

#include "core/geometry/mesh/solid.h"

namespace pivrak::demo {

/// One machine part of the station as its builder knew it, before it was melted into a lump.
struct Component {
    std::string name, lump;
    Solid solid;             ///< placed in the world, X forward, Y left, Z up [mm]
    std::string carried_by;  ///< empty: stays where the split puts it
    bool turns = false;      ///< a hinge on its fitted axis
};

/// True figures of the station that the raw model does not tell [mm].
struct StationFigures {
    double module = 8;
    int pinion_teeth = 17, wheel_teeth = 51;
    Vec3 motor_axis{-557.21, 0, 688.71};
    Vec3 layshaft_axis{-291.45, 0, 746.65};
    Vec3 bull_axis{61.9, 0, 1437.25};
};

std::vector<Component> drive_station(const StationFigures& figures = {});

/// The steps that make the finished project of the station from its raw model, as a job.
nlohmann::json drive_station_steps(const std::vector<Component>& components);

}  // namespace pivrak::demo
