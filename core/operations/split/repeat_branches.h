#pragma once

#include <vector>

#include "core/operations/registry.h"

namespace pivrak {

/// Branches copied once for each of these, by which the copy is moved in the world. Riders among them get
/// places of their own, or leave their path, as the arguments say.
Result<Outcome> repeated_by(const Document& document, const Arguments& arguments,
                            const std::vector<Frame>& motions);

/// How many there are in the end. Errors: `repeat.count`.
Result<int> repeat_count(const Arguments& arguments);

/// Whether only shapes are copied.
ArgumentSpec shape_alone_argument();

}  // namespace pivrak
