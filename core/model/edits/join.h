#pragma once

#include "core/model/edits/edits.h"

namespace pivrak {

/// Melts parts into one of them: their shapes go into its shape where they stand, at rest, what they carry is
/// carried by it, and they are removed with their joints, couplings and keys. A shape shared with other parts
/// is copied first. Pre: all parts exist. Errors: `join.carried` when `into` hangs below one of the others.
Result<Removal> join_parts(Document& document, const std::vector<PartId>& parts, PartId into);

}  // namespace pivrak
