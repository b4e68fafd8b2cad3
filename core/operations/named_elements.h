#pragma once

#include <fmt/format.h>

#include "core/model/element_channels.h"
#include "core/operations/all_operations.h"
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

/// Whether an entry of a table has a name already, and that name with the first number that makes it free.
template <class Entry>
bool has_entry_named(const SharedTable<Entry>& table, const std::string& name) {
    for (const Entry& entry : table)
        if (entry.name == name) return true;
    return false;
}
/// Gives an entry the name that the arguments ask for, if any. Errors: those of `check_name`; `code` for a
/// name that another entry of the table has, told with `what`: `constraint`.
template <class Entry>
Result<void> rename_entry(const SharedTable<Entry>& table, const Arguments& a, const char* code,
                          std::string_view what, Entry& entry) {
    if (!a.has("name")) return {};
    PIVRAK_CHECK(check_name(a.text("name")));
    if (a.text("name") != entry.name && has_entry_named(table, a.text("name")))
        return Error{code, fmt::format("there is another {} '{}'", what, a.text("name")), "name"};
    entry.name = a.text("name");
    return {};
}

template <class Entry>
std::string free_entry_name(const SharedTable<Entry>& table, const std::string& wanted) {
    std::string name = wanted;
    for (int n = 2; has_entry_named(table, name); ++n) name = fmt::format("{} {}", wanted, n);
    return name;
}

}  // namespace pivrak
