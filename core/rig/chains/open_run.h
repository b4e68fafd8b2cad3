#pragma once

#include "core/rig/chains/chain_loop.h"

namespace pivrak {

/// Places every pin of an open run: pin 0 at its start, the last one where it is tied. Links are exactly one
/// pitch long, along straights and arcs round wheels; those that no link would reach are passed by. Pins are
/// laid from the tied end; slack is what is left over at the start: in a tied run its first straight hangs
/// with it, on a drum its last pin stands that much ahead of its place. The first wheel pays out `travel_m`.
/// A run that folds leaves its start along x, turns about a circle half as wide as its ends are apart, and
/// comes back; its slack is by how much it reaches beyond the farther end. Without `pins` the fit alone is
/// found. Allocates nothing. Pre: `pins` are `pin_count()` or none; `loop.ends`.
ChainFit place_open_pins(const ChainLoop& loop, double travel_m, std::span<Vec2> pins);

/// Where an open run comes to a wheel.
struct RunTouch {
    bool touched = false;    ///< it does not pass the wheel by
    double contact_rad = 0;  ///< place on the wheel where it comes from the tied end
    double length_m = 0;     ///< of its smooth line from the tied end to there
};

/// Of every wheel between the ends; none is touched where the run cannot be laid. Pre: `touches` as many as
/// circles.
void run_touches(const ChainLoop& loop, std::span<RunTouch> touches);

/// How far the run has turned a wheel about the plane's z from one pose to another, without slip [rad]; 0
/// where it does not touch it. Links go round it as corners, one step a pitch. The contact has moved by less
/// than half a round.
double turned_by_run(const ChainCircle& wheel, double pitch_m, const RunTouch& from, const RunTouch& to);

}  // namespace pivrak
