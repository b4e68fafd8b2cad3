#pragma once

#include "core/operations/registry.h"

namespace pivrak {

/// The operation `split.trim`: parts that are small against a neighbour they touch go into it. A small part
/// goes into the largest neighbour it touches; one that touches only other small parts goes with them.
/// Errors: `trim.share`, `trim.gap`, `trim.nothing`, `trim.cancelled`.
Result<Outcome> trim_small_parts(const Document& document, const Arguments& arguments,
                                 const OperationContext& context);

}  // namespace pivrak
