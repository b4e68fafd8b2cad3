#pragma once

#include "core/operations/registry.h"

namespace pivrak {

/// Gives stand-ins other measures. Whatever counted their teeth, or rolls on their outside, takes over what
/// they have then: pairs of gears with their tooth phase, chains with their links. Errors: `stand_in.none`,
/// `stand_in.measure`, `train.*`, `chain.*`.
Result<Outcome> change_stand_ins(const Document& document, const Arguments& a,
                                 const OperationContext& context);

}  // namespace pivrak
