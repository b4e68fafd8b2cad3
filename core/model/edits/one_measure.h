#pragma once

#include <optional>
#include <string>

#include "core/model/document.h"

namespace pivrak {

/// An element that counts lengths of several parts together, as gears that mesh and arms that reach do, and
/// would have some of them grow without the others if `sized` could: how it is called. None where there is no
/// such.
std::optional<std::string> measured_across(const Document& document, PartId sized);

}  // namespace pivrak
