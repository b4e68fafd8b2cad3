#include <fmt/format.h>

#include <unordered_set>

#include "core/base/words.h"
#include "core/io/project/project_json.h"
#include "core/model/names/convention.h"
#include "core/model/names/name_pattern.h"
#include "core/model/names/names.h"
#include "core/operations/all_operations.h"

namespace pivrak {
namespace {

using nlohmann::json;

/// Gives parts new names, numbering those that others have already, and tells each change.
Result<Outcome> renamed(const Document& document, const std::vector<PartId>& parts,
                        const std::vector<std::string>& wanted) {
    Outcome out{document};
    const std::unordered_set<PartId> changing(parts.begin(), parts.end());
    FreeNames names(empty_document());
    for (const Part& part : document.parts)
        if (!changing.contains(part.id)) names.reserve(part.name);
    std::size_t changed = 0, numbered = 0;
    json list = json::array();
    for (std::size_t i = 0; i < parts.size(); ++i) {
        PIVRAK_CHECK(check_name(wanted[i]));
        Part part = *document.parts.find(parts[i]);
        const std::string before = part.name;
        part.name = names.take(wanted[i]);
        numbered += part.name != wanted[i];
        if (part.name == before) continue;
        ++changed;
        list.push_back({{"part", part.id.value}, {"from", before}, {"to", part.name}});
        out.created.push_back(part.id);
        out.document.parts.set(part);
    }
    if (changed == 0) return nothing_to_do(document, "all names are that already");
    out.messages.push_back(counted(changed, "part") + " renamed");
    if (numbered) out.messages.push_back(fmt::format("{} numbered, since the name was taken", numbered));
    out.readings["names"] = std::move(list);
    return out;
}

SeriesOrder order_from(const std::string& word) {
    return word == "front_to_rear"   ? SeriesOrder::FrontToRear
           : word == "left_to_right" ? SeriesOrder::LeftToRight
           : word == "bottom_to_top" ? SeriesOrder::BottomToTop
                                     : SeriesOrder::Picked;
}

Result<Outcome> by_pattern(const Document& document, const Arguments& a, const OperationContext&) {
    const int first = a.integer("first");
    if (first < 0) return Error{"name.first", "numbers begin at 0 or above", "first"};
    const std::vector<PartId> parts = a.parts("parts");
    PIVRAK_TRY(names, names_by_pattern(
                          document, parts,
                          {a.text("pattern"), static_cast<std::size_t>(first), order_from(a.text("order"))}));
    return renamed(document, parts, names);
}

Result<Outcome> replace(const Document& document, const Arguments& a, const OperationContext&) {
    const std::string find = a.text("find"), put = a.text("put");
    if (find.empty()) return Error{"name.find", "say which letters are to be replaced", "find"};
    std::vector<PartId> parts;
    std::vector<std::string> names;
    for (const PartId id : parts_or_all(document, a)) {
        std::string name = document.parts.find(id)->name;
        std::size_t at = name.find(find);
        if (at == std::string::npos) continue;
        for (; at != std::string::npos; at = name.find(find, at + put.size()))
            name.replace(at, find.size(), put);
        parts.push_back(id);
        names.push_back(name);
    }
    if (parts.empty()) return Error{"name.not_found", fmt::format("no name has '{}' in it", find), "find"};
    return renamed(document, parts, names);
}

Result<Outcome> conform(const Document& document, const Arguments& a, const OperationContext&) {
    const NamingConvention& naming = document.settings.naming;
    if (naming.asks_nothing())
        return Error{"name.no_convention", "the project has no naming convention yet; set one first", ""};
    std::vector<PartId> parts;
    std::vector<std::string> names;
    for (const PartId id : parts_or_all(document, a)) {
        const std::string& name = document.parts.find(id)->name;
        std::string wanted = conformed_name(name, naming);
        if (wanted == name) continue;
        parts.push_back(id);
        names.push_back(std::move(wanted));
    }
    if (parts.empty()) return nothing_to_do(document, "all names keep the convention already");
    return renamed(document, parts, names);
}

Result<Outcome> set_convention(const Document& document, const Arguments& a, const OperationContext&) {
    Outcome out{document};
    NamingConvention& naming = out.document.settings.naming;
    if (a.has("letters")) naming.letters = *name_letters_from(a.text("letters"));
    if (a.has("separator")) naming.separator = *name_separator_from(a.text("separator"));
    if (a.has("sides")) naming.sides = *side_tags_from(a.text("sides"));
    if (a.has("plain")) naming.plain = a.flag("plain");
    return out;
}

ArgumentSpec choice(std::string name, std::string summary, std::vector<std::string> choices) {
    return {std::move(name), ArgumentKind::Choice, std::move(summary), false, {}, std::move(choices)};
}

}  // namespace

void add_name_operations(Registry& registry) {
    registry.add(
        {"name.pattern",
         "Name by pattern",
         "Names many parts at once; parts that would be called the same are numbered as a series.",
         {parts_argument("parts to name"),
          {"pattern",
           ArgumentKind::Text,
           "text with <name>, <base> (the name without side and number), <side>, <number>, <carrier>",
           true,
           {},
           {}},
          {"first", ArgumentKind::Integer, "first number", false, 1, {}},
          {"order",
           ArgumentKind::Choice,
           "how a series is counted",
           false,
           "picked",
           {"picked", "front_to_rear", "left_to_right", "bottom_to_top"}}},
         by_pattern});
    registry.add({"name.replace",
                  "Replace in names",
                  "Puts other letters for some in names.",
                  {parts_argument("parts to look at; all when left out", false),
                   {"find", ArgumentKind::Text, "letters looked for", true, {}, {}},
                   {"put", ArgumentKind::Text, "letters put there; none when left out", false, "", {}}},
                  replace});
    registry.add({"name.conform",
                  "Rename to the convention",
                  "Renames parts as the project's naming convention wants it.",
                  {parts_argument("parts to look at; all when left out", false)},
                  conform});
    registry.add({"project.naming",
                  "Naming convention",
                  "Says what names of parts should be like; what is left out stays as it is.",
                  {choice("letters", "first letters of words", {"any", "lower", "capital"}),
                   choice("separator", "what divides words", {"any", "space", "underscore", "hyphen"}),
                   choice("sides", "left or L", {"any", "words", "letters"}),
                   {"plain", ArgumentKind::Flag, "only a-z, A-Z and 0-9", false, {}, {}}},
                  set_convention});
}

}  // namespace pivrak
