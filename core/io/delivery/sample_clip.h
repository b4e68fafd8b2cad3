#pragma once

#include "core/io/delivery/delivered_tree.h"
#include "core/motion/bake.h"

namespace pivrak {

/// Where a clip is looked at for a delivery that is played straight from sample to sample.
struct Sampling {
    int per_frame = 1;       ///< even steps a frame, 1 to 16
    double tolerance_m = 0;  ///< more where straight ways would leave the motion by more; 0: not looked at
    bool operator==(const Sampling&) const = default;
};
/// Turned by more than this between two samples, a part might seem to go the other way round.
constexpr double longest_sampled_turn_rad = 100 * rad_per_deg;

/// How far a part's shape reaches from its pivot [m], in the part's own measure.
double shape_reach(const Document& document, const Part& part);

/// The world frames of all parts at a clip's whole frames, at even steps between them, and at as many more
/// moments as it takes for no delivered part to turn further than `longest_sampled_turn_rad` against what
/// carries it: how far it turned is known from its channels, where ends alone cannot tell one round from
/// none. With a tolerance, steps are halved while a part's place or the reach of its shape strays further
/// from a straight way. Stops at a 64th of a step. Errors: those of `bake_clip`, `sampling.steps` for steps
/// outside 1 to 16.
Result<Bake> sample_clip(const Document& document, ClipId clip, const DeliveredTree& tree,
                         const Sampling& sampling, const Progress& progress = {});

/// A part that turns by more than half a round between neighbouring rows of a table: which way it goes cannot
/// be read from it. None when every row is near enough to the next.
struct FastTurn {
    PartId part;
    double frame = 0, turn_rad = 0;  ///< the fastest: from that frame to the next row
};
std::optional<FastTurn> fastest_turn(const Document& document, ClipId clip,
                                     const std::vector<double>& frames);

}  // namespace pivrak
