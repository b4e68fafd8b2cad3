#pragma once

#include "core/operations/arguments.h"

namespace pivrak {

/// What the arguments of `coupling.gear` make: sizes as typed, or counted and measured on the shapes. Its
/// phase is left at 0. Errors: `gear.*`.
Result<GearPair> read_pair(const Document& document, const Arguments& arguments);

}  // namespace pivrak
