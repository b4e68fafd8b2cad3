#pragma once

#include <cstddef>
#include <string>
#include <string_view>

namespace pivrak {

/// A count with its noun: `1 part`, `23 parts`, `1,000,001 parts`. `many` is the noun with an s when left
/// out.
std::string counted(std::size_t count, std::string_view one, std::string_view many = {});

/// The text with its letters A to Z made small.
std::string lower_case(std::string_view text);

}  // namespace pivrak
