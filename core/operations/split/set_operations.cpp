#include <fmt/format.h>

#include <algorithm>

#include "core/operations/all_operations.h"

namespace pivrak {
namespace {

Result<const PartSet*> set_named(const Document& document, const std::string& name) {
    for (const PartSet& set : document.sets)
        if (set.name == name) return &set;
    return Error{"set.unknown", fmt::format("there is no set '{}'", name), "set"};
}

Result<Outcome> make(const Document& document, const Arguments& a, const OperationContext&) {
    const std::string name = a.text("name");
    if (name.find_first_not_of(" \t") == std::string::npos)
        return Error{"name.empty", "a set needs a name with at least one letter", "name"};
    if (set_named(document, name))
        return Error{"set.duplicate", fmt::format("there is a set '{}' already", name), "name"};
    Outcome out{document};
    PartSet set{out.document.new_id<SetId>(), name, a.parts("parts")};
    std::sort(set.parts.begin(), set.parts.end());
    out.document.sets.set(set);
    out.messages.push_back(fmt::format("set '{}' of {} parts", name, set.parts.size()));
    return out;
}

Result<Outcome> change(const Document& document, const Arguments& a, const OperationContext&) {
    PIVRAK_TRY(found, set_named(document, a.text("set")));
    PartSet set = *found;
    if (a.has("name")) {
        const std::string name = a.text("name");
        if (name != set.name && set_named(document, name))
            return Error{"set.duplicate", fmt::format("there is a set '{}' already", name), "name"};
        set.name = name;
    }
    const auto has = [&](PartId part) {
        return std::find(set.parts.begin(), set.parts.end(), part) != set.parts.end();
    };
    if (a.has("add"))
        for (const PartId part : a.parts("add"))
            if (!has(part)) set.parts.push_back(part);
    if (a.has("take"))
        for (const PartId part : a.parts("take")) std::erase(set.parts, part);
    std::sort(set.parts.begin(), set.parts.end());
    Outcome out{document};
    out.document.sets.set(set);
    out.messages.push_back(fmt::format("set '{}' of {} parts", set.name, set.parts.size()));
    return out;
}

Result<Outcome> remove_set(const Document& document, const Arguments& a, const OperationContext&) {
    PIVRAK_TRY(set, set_named(document, a.text("set")));
    Outcome out{document};
    out.document.sets.erase(set->id);
    return out;
}

Result<Outcome> show_only(const Document& document, const Arguments& a, const OperationContext&) {
    const Tree tree(document);
    std::vector<PartId> kept;
    for (const PartId top : a.parts("parts"))
        for (const PartId part : tree.branch(top)) kept.push_back(part);
    std::sort(kept.begin(), kept.end());
    Outcome out{document};
    for (const Part& found : document.parts) {
        const bool shown = std::binary_search(kept.begin(), kept.end(), found.id);
        if (found.shown == shown) continue;
        Part part = found;
        part.shown = shown;
        out.document.parts.set(part);
    }
    return out;
}

}  // namespace

void add_set_operations(Registry& registry) {
    registry.add({"set.make",
                  "Make a set",
                  "Gives a selection of parts a name.",
                  {parts_argument("its parts"), {"name", ArgumentKind::Text, "its name", true, {}, {}}},
                  make});
    registry.add({"set.change",
                  "Change a set",
                  "Renames a set, adds parts to it or takes parts out.",
                  {{"set", ArgumentKind::Text, "name of the set", true, {}, {}},
                   {"name", ArgumentKind::Text, "new name", false, {}, {}},
                   {"add", ArgumentKind::Parts, "parts to add", false, {}, {}},
                   {"take", ArgumentKind::Parts, "parts to take out", false, {}, {}}},
                  change});
    registry.add({"set.remove",
                  "Remove a set",
                  "Removes a set; its parts stay.",
                  {{"set", ArgumentKind::Text, "name of the set", true, {}, {}}},
                  remove_set});
    registry.add({"part.show_only",
                  "Show only these",
                  "Shows parts with all they carry and hides everything else.",
                  {parts_argument("parts to show")},
                  show_only});
}

}  // namespace pivrak
