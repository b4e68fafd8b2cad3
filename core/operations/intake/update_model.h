#pragma once

#include "core/operations/registry.h"

namespace pivrak {

/// The operation `model.update`: reads a newer version of a model and gives its shapes to the parts that came
/// from it. Pivots, joints, couplings, keys, names and the tree stay. A part is found again by the path of
/// its node in the file; pieces that were split off are made again by the same division and found by size and
/// place. What the file no longer has, and what is new in it, is told; new nodes become parts. Errors:
/// `update.source` when no part came from a model of that name, those of `import_model`, `update.nothing`
/// when nothing matches.
Result<Outcome> update_model(const Document& document, const Arguments& arguments,
                             const OperationContext& context);

}  // namespace pivrak
