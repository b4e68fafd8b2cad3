#pragma once

#include <unordered_set>

#include "core/model/document.h"

namespace pivrak {

/// Parts that wheels, paths and feet are laid on.
std::unordered_set<PartId> grounds_of(const Document& document);

}  // namespace pivrak
