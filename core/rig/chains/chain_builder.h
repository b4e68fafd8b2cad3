#pragma once

#include "core/base/result.h"
#include "core/rig/chains/chain_layout.h"

namespace pivrak {

/// What a chain is asked to be. Wheels stand in the order in which links reach them, either way round.
struct ChainPlan {
    std::string name;
    std::vector<PartId> wheels;   ///< hinges, or what is fixed on them: then that is measured
    std::vector<PartId> outside;  ///< those of them that the chain runs by with its back
    std::vector<int> teeth;       ///< of each wheel, 0 for a roller; empty: counted on the shapes
    double pitch_m = 0;           ///< 0: the standard chain that fits the first sprocket's tips
    double pin_height_m = 0;      ///< from a roller's tread to the line of pins
    int link_count = 0;           ///< 0: as many as it takes
    int pattern = 1;
    PartId under;        ///< carries the datum; none: what carries all wheels
    PartId slack_after;  ///< the wheel from which the hanging run goes; none: the longest run
};

/// Whether links can be so long: 0.01 mm to 10 m. Errors: `chain.pitch`.
Result<void> check_pitch(double pitch_m);
/// Whether a line can be laid with links: at most 100 000. Errors: `chain.links`.
Result<void> check_link_count(const Document& document, double length_m, double pitch_m);

/// Measures wheels, chooses plane and way round, counts links, and sets each sprocket so that its gaps take
/// the pins. `plane` is the datum's frame in the world; its part is to be made by the caller.
/// Errors: `chain.wheels`, `chain.teeth`, `chain.pitch`, `chain.axes`, `chain.plane`, `chain.overlap`,
/// `chain.impossible`, `chain.crossed`, `chain.links`.
struct BuiltChain {
    Chain chain;
    Frame plane;
};
Result<BuiltChain> build_chain(const Document& document, const ChainPlan& plan);

/// Sets starts and phases anew, with the datum where it is: after wheels moved, or links became more or
/// fewer.
void seat_chain(const Document& document, Chain& chain);

/// Wheels that lie over each other, runs that cross, wheels the chain cannot go round. Errors: as above.
Result<void> check_chain(const Document& document, const Chain& chain);

/// The part that carries all of these.
PartId common_carrier(const Document& document, const std::vector<PartId>& parts);

}  // namespace pivrak
