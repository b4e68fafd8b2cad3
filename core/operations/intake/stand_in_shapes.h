#pragma once

#include <nlohmann/json.hpp>
#include <string>
#include <vector>

#include "core/geometry/mesh/solid.h"
#include "core/operations/arguments.h"

namespace pivrak {

/// The word for chains of no standard size: their pitch is given.
inline constexpr const char* other_chain = "other";

/// Every kind of stand-in.
const std::vector<std::string>& stand_in_kinds();
/// Names of the measures that a kind has; none for an unknown one.
std::vector<std::string> stand_in_measures(const std::string& kind);
/// All measures, as arguments of operations.
std::vector<ArgumentSpec> stand_in_specs();

/// Whether a kind is made about an axis; the others stand on a base.
bool is_round_stand_in(const std::string& kind);

/// The solid of a stand-in [mm], about z or on its base, from `kind` and all measures. Errors, with lengths
/// in `unit`: `stand_in.measure`, `stand_in.chain`.
Result<Solid> stand_in_solid(const Arguments& a, LengthUnit unit);

/// What a shape remembers of how it was made: its kind, its measures [m, rad], and the axis of its own that a
/// round one lies along (0: as it was made).
nlohmann::json stand_in_record(const Arguments& a, char lies_along);

}  // namespace pivrak
