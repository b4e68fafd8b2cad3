#pragma once

#include <string>
#include <string_view>

#include "core/base/result.h"

namespace pivrak {

/// Looks through an OBJ text for what its reader passes over in silence: face indices that point to no
/// vertex, and coordinates that are not finite. Errors: `obj.index`, `obj.not_finite` (with the line),
/// `obj.no_vertices` for a text that has none.
Result<void> check_obj_text(std::string_view text, const std::string& file);

}  // namespace pivrak
