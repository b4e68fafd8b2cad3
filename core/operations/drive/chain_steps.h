#pragma once

#include <string>
#include <vector>

#include "core/operations/registry.h"
#include "core/rig/chains/chain_builder.h"

namespace pivrak {

// What the steps of chains and of open runs share.

/// The argument that names a chain.
ArgumentSpec chain_argument();

/// `19 38 0`: the argument `teeth`, of each wheel; empty when left out. Errors: `chain.teeth`.
Result<std::vector<int>> teeth_list(const Arguments& a);

/// By the argument `pitch`, or `size`; 0 when both were left out. Errors: `chain.pitch`.
Result<double> pitch_asked(const Arguments& a);

/// The chain that the argument `chain` names by its datum or a link. Errors: `chain.none`.
Result<Chain> chain_named(const Document& document, const Arguments& a);

/// Takes what `key` names for a tensioner, or for what a run pulls; the chain's own datum takes it away.
/// Errors: `chain.take_up`.
Result<void> read_take_up(const Document& document, const Arguments& a, const std::string& key, Chain& chain);

/// Refuses a chain that would keep its train from turning: its wheels are geared with each other otherwise.
/// Errors: `train.stuck`.
Result<void> check_turns(const Document& before, const Document& after);

/// Pins at rest; empty when the chain cannot be laid.
std::vector<Vec2> rest_pins(const Document& document, const Chain& chain);

/// A link as another one: its copy with all it carries, named later.
PartId copy_link(Document& document, PartId link);

/// Makes links more or fewer, and puts each where it rests.
void lay_links(Document& document, Chain& chain);

/// A new datum with that plane, and the chain on it. Errors: `name.*`.
Result<void> add_chain_datum(Outcome& out, Chain& chain, const Frame& plane, const std::string& name,
                             PartId under);

/// What a person may read of a chain at rest, as readings and in a sentence.
nlohmann::json chain_readings(const Document& document, const Chain& chain);
void tell_chain(Outcome& out, const Chain& chain);

}  // namespace pivrak
