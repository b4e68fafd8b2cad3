#pragma once

#include "core/rig/chains/chain_builder.h"

namespace pivrak {

/// What an open run is asked to be: a hoist, a cord over rollers, a chain that hangs over a wheel.
struct RunPlan {
    RunStart start = RunStart::Tied;
    ChainTie from;  ///< only of a run that is tied at its start
    ChainTie to;
    std::vector<PartId> wheels;      ///< from its start to its end; a drum, or what carries it, is the first
    std::vector<int> teeth;          ///< of each, 0 for a roller; empty: 0
    std::vector<PartId> other_side;  ///< wheels that it passes on the other side than the shortest way
    double pitch_m = 0;              ///< of its links
    double pin_height_m = 0;         ///< from a roller's tread to the line of pins: half a rope's thickness
    int link_count = 0;              ///< 0: as many as the run is long, and `wound_turns` on a drum
    double wound_turns = 3;
    bool keep_pitch = false;  ///< else a run that is tied at both ends takes links that just fill it
};

/// Measures wheels, chooses the plane and the side of each, counts links. `plane` is the datum's frame in the
/// world; its part is to be made by the caller. Errors: those of wheels, `run.sides` (too many to choose
/// sides for), `run.plane` (an end beside the plane), `chain.pitch`, `chain.impossible`, `chain.links`.
Result<BuiltChain> build_run(const Document& document, const RunPlan& plan);

/// A cable chain that lies between two ends and folds: what is asked of it.
struct FoldPlan {
    ChainTie from, to;
    Vec3 way{1, 0, 0};  ///< in the world: where it leaves its start and turns back
    double pitch_m = 0;
    int link_count = 0;       ///< 0: by `reach_m`
    double reach_m = 0;       ///< how far its end must be able to go beyond its start along `way`
    double least_bend_m = 0;  ///< the radius below which its links do not bend
};

/// Errors: `fold.way` (its ends do not lie apart across the way), `fold.bend` (tighter than its links bend),
/// `chain.pitch`, `chain.links` (too short for where its end stands).
Result<BuiltChain> build_fold(const Document& document, const FoldPlan& plan);

/// Gives a run that is tied at both ends links that just fill it: as many as it has, or, of none, as fit the
/// pitch it has; then with the pitch that leaves no slack.
void fill_run(const Document& document, Chain& chain);

/// Errors: `chain.impossible`, `fold.way`, `chain.links` (far too few to reach).
Result<void> check_run(const Document& document, const Chain& chain);

/// Takes what is on the drum from where the end is at rest: after something moved, or links became more or
/// fewer. Pre: an open run whose datum and ends exist.
void seat_run(const Document& document, Chain& chain);

}  // namespace pivrak
