#pragma once

#include <cstdint>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/result.h"

namespace pivrak {

/// Face numbers as people and files write them: `0-11 15 20-22`, rising.
std::string face_ranges(const std::vector<std::uint32_t>& faces);

/// The numbers of such a text, rising, each once. Errors: `faces.syntax`, `faces.range` for one at or over
/// `count`.
Result<std::vector<std::uint32_t>> faces_from_ranges(std::string_view text, std::size_t count);

}  // namespace pivrak
