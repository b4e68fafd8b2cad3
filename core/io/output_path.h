#pragma once

#include <filesystem>

#include "core/model/document.h"

namespace pivrak {

/// Whether a file may be written there: never over one that the project's shapes came from.
/// Errors: `output.overwrites_source`, `output.folder` when the folder does not exist.
Result<void> check_output_path(const Document& document, const std::filesystem::path& path);

}  // namespace pivrak
