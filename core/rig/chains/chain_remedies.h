#pragma once

#include <string>
#include <string_view>
#include <vector>

#include "core/rig/chains/chain_layout.h"

namespace pivrak {

/// What makes a loop take whole links.
enum class RemedyKind : std::uint8_t {
    Move,  ///< a wheel is moved in the plane
    Turn,  ///< an arm that carries a wheel is turned
    Sag,   ///< a link more than needed: the slack run hangs
    Pitch  ///< the pitch is a little off
};

/// `move`, `turn`, `sag`, `pitch`: as steps and reports name them.
std::string_view word(RemedyKind kind);

struct ChainRemedy {
    RemedyKind kind = RemedyKind::Sag;
    int links = 0;      ///< that the chain then has
    PartId part;        ///< the wheel that is moved, or the arm
    double amount = 0;  ///< way [m], turn [rad], sag [m], share of the pitch
    Vec3 way{0, 0, 0};  ///< of a wheel that is moved, in the world, from where it is [m]
};

/// The whole numbers of links next to what is needed: multiples of the pattern, the lower one first.
std::array<int, 2> whole_links(const Chain& chain, double links_needed);

/// Every way to whole links, each with its number, small ones first: each wheel moved away from or towards
/// the loop, each arm that carries one turned, the run left to sag, the pitch taken off. Each leaves no slack
/// but where it says so (1e-6 of a pitch). Empty for an impossible chain, and for an open
/// run, which takes what links it has.
std::vector<ChainRemedy> chain_remedies(const Document& document, const Chain& chain);

/// `Sprocket B 1.37 mm outwards, 90 links`.
std::string remedy_words(const Document& document, const Chain& chain, const ChainRemedy& remedy);

/// Carries a remedy out at rest. Pins are not seated anew. Pre: it comes from `chain_remedies`.
void apply_remedy(Document& document, Chain& chain, const ChainRemedy& remedy);

}  // namespace pivrak
