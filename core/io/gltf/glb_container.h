#pragma once

#include <string>
#include <string_view>

#include "core/base/result.h"

namespace pivrak {

/// Looks at the container of a binary glTF file before any parser does: magic, version, and whether all the
/// bytes that its header and chunks promise are there.
/// Errors: `glb.not_glb`, `glb.version`, `glb.truncated` - each names the file and the numbers.
/// Source: glTF 2.0 specification, section 4 (GLB file format).
Result<void> check_glb_container(std::string_view bytes, const std::string& file);

}  // namespace pivrak
