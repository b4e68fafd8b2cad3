#pragma once

#include "core/operations/arguments.h"

namespace pivrak {

/// The argument that names a path, and the path it names. Errors: `path.unknown`.
ArgumentSpec path_argument();
Result<const Path*> path_named(const Document& document, const Arguments& arguments);

/// The path's frame in the world at rest.
Frame world_from_path(const Document& document, const Path& path);

/// A distance along a path of a length, as typed: a length, or a share of the whole (`25 %`). Errors:
/// `quantity.*`.
Result<double> typed_along(const std::string& text, double length_m, LengthUnit bare);

}  // namespace pivrak
