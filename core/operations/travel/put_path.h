#pragma once

#include "core/operations/registry.h"

namespace pivrak {

/// Measures a path that was made or changed, refuses one that cannot be ridden, and tells what it is.
/// `deviation` is how far it lies off what it was [m]. Errors: those of measuring it.
Result<Outcome> put_path(const Document& document, const Path& path, std::optional<double> deviation = {});

}  // namespace pivrak
