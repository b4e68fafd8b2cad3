#pragma once

#include <nlohmann/json.hpp>
#include <string>
#include <vector>

#include "core/base/result.h"
#include "core/geometry/types.h"

namespace pivrak::demo {

/// Where everything stands in the saddle [m], and what the rope goes by.
struct SaddleFigures {
    double line_y = -18;              ///< between the two strands
    double strand = 3.2;              ///< from there to each
    double west_x = -32.2;            ///< middle of the bend at the station
    double east_x = 35.99927;         ///< of the one at the far end
    double rope_z = 4.5;              ///< at both ends
    double rope_from_floor = 3.75;    ///< of a cabin: from the grip down to the floor's underside
    double bull_wheel_radius = 1.2;   ///< of the drive station
    int bull_wheel_turns = 21;        ///< in one lap: all wheels of the train come round whole
    double station_x = -38;           ///< the bull wheel's plane
    double bull_wheel_z = 1.43725;    ///< its axis above the floor
    double return_radius = 3.15;      ///< of the wheel at the far end; it comes round whole too
    double deflection_radius = 0.35;  ///< of the two sheaves above the bull wheel
    double roller_radius = 0.15;      ///< of the sheaves on the towers
    std::vector<double> towers{-16, 1, 18};
    int rollers_a_side = 4;  ///< on each tower
};

/// Points that control the rope's closed curve. It is as long as its bull wheel turns out in whole turns.
std::vector<Vec3> rope_points(const SaddleFigures& figures = {});

/// What the ropeway stands on and runs over, where it stands in the saddle: rope, towers with rollers, frame
/// and deck of the station, the wheel at the far end. Answers GLB bytes.
Result<std::string> ropeway(const SaddleFigures& figures = {});

/// The steps from the finished machines to the whole saddle at work.
nlohmann::json saddle_job(const SaddleFigures& figures = {});

}  // namespace pivrak::demo
