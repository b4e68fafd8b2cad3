#pragma once

#include <array>
#include <vector>

#include "core/model/document.h"
#include "core/model/driven_index.h"

namespace pivrak {

/// One channel of a tie. `whole` is the share in whole numbers (teeth, starts), each channel in a unit of its
/// own; 0 where there is none.
struct TieTerm {
    ChannelRef channel;
    double share = 0;
    long whole = 0;
};

/// What runs on each other without slip: the sum of `share * channel` stays at `constant`. One tooth further
/// it runs just as well: gears may stand off by `tooth`.
struct Tie {
    std::vector<TieTerm> terms;
    double constant = 0, tooth = 0;
    CouplingId pair;  ///< one of these two
    ChainId chain;

    bool exact() const {
        for (const TieTerm& term : terms)
            if (term.whole == 0) return false;
        return true;
    }
};

/// A member of a pair as it stands at rest: where its axis runs, or which way it slides.
struct PairMember {
    Vec3 centre, axis;
    double size = 0;  ///< teeth, starts, or a radius [m]
    bool slides = false;
};

/// How two members move each other at rest, against what carries both: `first * a + second * b = 0` for
/// their turns [rad] and shifts [m]. The sizes are used as they are: teeth stay whole numbers.
/// Source: equal velocities where pitch surfaces touch; bevel cones by ISO 23509 (tan of the cone's angle =
/// sin(sigma) / (z2 / z1 + cos(sigma))), screws by their lead.
std::array<double, 2> pair_shares(const GearPair& pair, const PairMember& driver, const PairMember& driven);

/// Where the pitch cones of two bevels touch: their common apex, a unit line from it, and the way in which
/// both go by there.
struct BevelTouch {
    Vec3 apex, line, way;
};
/// None when their axes are parallel.
std::optional<BevelTouch> bevel_touch(const PairMember& a, const PairMember& b);

/// The members of a pair at rest. Pre: both parts exist.
std::array<PairMember, 2> pair_members(const Document& document, const GearPair& pair);

/// The tie of a pair. Gears carried about on different parts are tied by their turns against what carries
/// both axes: an arm that turns about one of them takes part. Source: R. Willis, Principles of Mechanism,
/// 1841.
Tie pair_tie(const Document& document, const Coupling& pair);

/// Parts whose joints would move the members of a pair away from each other; none for a sound pair.
std::vector<PartId> parting_joints(const Document& document, const GearPair& pair);

/// A tie for each wheel of a chain: its turn against the chain's plane, and the chain's travel.
std::vector<Tie> chain_ties(const Document& document, const DrivenIndex& driven, const Chain& chain);

/// Every tie of a document.
std::vector<Tie> ties_of(const Document& document);

}  // namespace pivrak
