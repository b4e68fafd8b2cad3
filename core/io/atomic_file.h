#pragma once

#include <filesystem>
#include <string>
#include <string_view>

#include "core/base/result.h"

namespace pivrak {

/// Writes a whole file or leaves what was there: bytes go to a temporary file beside it, are flushed to the
/// disk, and take the name at the end. Errors: `file.write` with the system's reason.
Result<void> write_file_atomically(const std::filesystem::path& path, std::string_view bytes);

/// Errors: `file.read` with the system's reason, `file.empty`.
Result<std::string> read_file(const std::filesystem::path& path);

}  // namespace pivrak
