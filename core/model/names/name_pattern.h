#pragma once

#include <string>
#include <string_view>
#include <vector>

#include "core/base/result.h"
#include "core/model/document.h"

namespace pivrak {

/// In which order parts that would have the same name are numbered.
enum class SeriesOrder { Picked, FrontToRear, LeftToRight, BottomToTop };

struct NamePattern {
    /// Text with, where wanted: `<name>` the present name, `<base>` the present name without its side words
    /// and trailing number, `<side>` words for the place (`front left`), `<number>` a count, `<carrier>` the
    /// name of what carries the part. Blanks beside something empty close up.
    std::string text;
    std::size_t first = 1;  ///< the first number
    SeriesOrder order = SeriesOrder::Picked;
};

/// One new name for each part, in the order given. Parts whose names would otherwise be the same count as one
/// series; numbers are as wide as the series' largest. Sides are those of the middle of what the part
/// carries, against the middle of the model. Errors: `name.pattern` (an unknown or open placeholder; the
/// known ones are named).
Result<std::vector<std::string>> names_by_pattern(const Document& document, const std::vector<PartId>& parts,
                                                  const NamePattern& pattern);

/// A name without side words and trailing number: `Front left wheel 02` gives `wheel`.
std::string base_name(std::string_view name);

}  // namespace pivrak
