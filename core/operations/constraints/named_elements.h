#pragma once

#include <fmt/format.h>

#include "core/model/element_channels.h"
#include "core/operations/arguments.h"

namespace pivrak {

/// The entries of a table that an argument names. Errors: `code` for an element that is no such, told with
/// `what_not`: `is no constraint`.
template <class Entry>
Result<std::vector<Entry>> named_elements(const Document& document, const SharedTable<Entry>& table,
                                          const Arguments& arguments, const char* argument, const char* code,
                                          std::string_view what_not) {
    std::vector<Entry> found;
    for (const OwnerId owner : arguments.elements(argument)) {
        const Entry* one = table.find(decltype(Entry::id){owner.value});
        const std::string name = owner_name(document, owner);
        if (!one) return Error{code, fmt::format("'{}' {}", name, what_not), name};
        found.push_back(*one);
    }
    return found;
}

}  // namespace pivrak
