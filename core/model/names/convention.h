#pragma once

#include <string>
#include <string_view>

#include "core/model/names/naming.h"

namespace pivrak {

/// A name as the convention wants it; itself when it keeps the convention already. Never empty: a name with
/// no plain letter at all becomes `part`.
std::string conformed_name(std::string_view name, const NamingConvention& convention);

/// What the convention asks for, as a sentence for a person: `words divided by _, sides as letters`.
std::string convention_in_words(const NamingConvention& convention);

}  // namespace pivrak
