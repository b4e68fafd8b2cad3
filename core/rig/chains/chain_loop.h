#pragma once

#include <array>
#include <optional>
#include <span>
#include <vector>

#include "core/elements/chain/chain.h"

namespace pivrak {

/// Of a chain's plane: below this share of weight in it, slack hangs outwards, not down.
inline constexpr double least_upright = 0.2;

/// No chain goes round more wheels.
inline constexpr std::size_t most_chain_wheels = 64;

/// A wheel of a chain in the chain's plane.
struct ChainCircle {
    Vec2 centre{0, 0};
    double radius_m = 0;  ///< of the circle on which pins go round
    double side = 1;      ///< 1: links go round counterclockwise; -1: clockwise, with the chain's back
    bool roller = false;  ///< without teeth: links pass it by where they do not reach it
};

/// The ends of an open run in the chain's plane.
struct LoopEnds {
    RunStart start = RunStart::Tied;
    Vec2 from{0, 0}, to{0, 0};  ///< tied places
    double leaving_rad = 0;     ///< where, at rest, the run leaves the first wheel that it starts on
};

/// A chain in its plane: what places its pins. Wheels stand in the order in which links reach them.
struct ChainLoop {
    double pitch_m = 0;
    int links = 0;
    std::size_t reference = 0;    ///< the wheel from which pins are counted
    double start_rad = 0;         ///< place of pin 0 on it, travel at zero
    std::size_t slack_after = 0;  ///< the run after this wheel hangs with what is left over
    Vec2 down{0, 0};              ///< where that run hangs to; zero: away from the loop's middle
    std::vector<ChainCircle> circles;
    std::optional<LoopEnds> ends{};  ///< of an open run

    /// Pins of an open run are one more than its links.
    std::size_t pin_count() const { return static_cast<std::size_t>(std::max(links, 0)) + (ends ? 1 : 0); }
};

/// How a loop's pins fit.
struct ChainFit {
    bool possible = false;  ///< the chain can go round its wheels at all
    bool placed = false;    ///< and has links enough to reach round them, if only stretched
    double slack_m = 0;     ///< links left over in the run that hangs; below zero: missing
    double sag_m = 0;       ///< of that run, off the straight line between its ends
    std::size_t blocked =
        0;  ///< when impossible: the wheel that links cannot go round, or leave; else a roller passed by
    std::size_t passed = 0;  ///< rollers that no link reaches
    double line_m = 0;       ///< of an open run: the smooth line from its end to its start, or to its drum
    double wound_rad = 0;    ///< of a run that starts on a wheel: what is on it; below zero: nothing is left
    double missing_m() const { return slack_m < 0 ? -slack_m : 0; }
};

/// The angle between two neighbouring pins on a circle [rad]. Source: chords of one pitch.
double pin_step_rad(double pitch_m, double radius_m);
/// The circle on which pins sit [m]. Source: ISO 606:2015, pitch diameter p / sin(180 deg / z).
double pitch_radius(double pitch_m, int teeth);

/// Places every pin; pin j stands `travel + j * pitch` along the chain. All links but those of a hanging run
/// that is too short are exactly one pitch long. On sprockets pins sit on pitch circles at equal angles, and
/// straight runs join the corners of these polygons; round rollers they follow the smooth line of their
/// circle, and those that no link would reach are passed by. The run after `slack_after` is a string of rigid
/// links of equal weight at rest. Allocates nothing. Pre: `pins.size() == pin_count()`, two or more circles
/// in a loop, radius >= pitch / 2. Where links are missing, those of that run stand too far apart, evenly.
/// Not placed: pins may be anywhere. An open run is laid by `place_open_pins`.
ChainFit place_pins(const ChainLoop& loop, double travel_m, std::span<Vec2> pins);

/// As `place_pins` for the fit alone.
ChainFit chain_fit(const ChainLoop& loop, double travel_m);

/// The length that the loop needs when every run is straight, in its most demanding position over one pitch
/// of travel [m]; 0 when it is impossible.
double needed_length(const ChainLoop& loop);

/// The straight runs of the smooth loop, from each wheel to the next [m]. Pre: it is possible.
std::vector<std::array<Vec2, 2>> straight_runs(const ChainLoop& loop);

/// Length of the smooth loop of straight lines and arcs [m], as a belt would lie; 0 when impossible.
double smooth_length(const ChainLoop& loop);

}  // namespace pivrak
