#pragma once

#include "core/operations/registry.h"

namespace pivrak {

/// Gives stand-ins other measures. Whatever counted their teeth, or rolls on their outside, takes over what
/// they have then: pairs of gears with their tooth phase, chains with their pitch and links. Errors:
/// `stand_in.none`, `stand_in.measure`, `stand_in.pitch`, `train.*`, `chain.*`.
Result<Outcome> change_stand_ins(const Document& document, const Arguments& a,
                                 const OperationContext& context);
/// All measures as arguments, none of which has a value when it is left out.
std::vector<ArgumentSpec> changed_measures();

}  // namespace pivrak
