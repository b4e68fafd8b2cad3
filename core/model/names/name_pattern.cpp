#include "core/model/names/name_pattern.h"

#include <fmt/format.h>

#include <algorithm>
#include <map>
#include <numeric>

#include "core/model/edits/branch_bounds.h"
#include "core/model/names/name_words.h"
#include "core/model/names/names.h"

namespace pivrak {
namespace {

constexpr std::string_view number_mark = "\x01";

std::string replaced_all(std::string text, std::string_view what, std::string_view by) {
    for (std::size_t at = text.find(what); at != std::string::npos; at = text.find(what, at + by.size()))
        text.replace(at, what.size(), by);
    return text;
}

/// Without blanks at the ends and doubled ones inside, which stand where a placeholder had nothing to say.
std::string closed_up(const std::string& text) {
    std::string out;
    for (const char c : text)
        if (c != ' ' || (!out.empty() && out.back() != ' ')) out += c;
    while (!out.empty() && out.back() == ' ') out.pop_back();
    return out;
}

Vec3 middle_of(const Document& document, PartId part) {
    const Bounds bounds = branch_bounds(document, {part});
    return bounds.empty() ? world_from_rest(document, part).translation : bounds.middle();
}

std::string filled(const Document& document, const Part& part, std::string_view mark, const Vec3& middle,
                   const Bounds& whole) {
    if (mark == "name") return part.name;
    if (mark == "base") return base_name(part.name);
    if (mark == "side") return side_words(middle, whole);
    if (mark == "number") return std::string(number_mark);
    return part.parent ? document.parts.find(part.parent)->name : std::string();
}

Result<std::string> without_number(const Document& document, const Part& part, const std::string& pattern,
                                   const Vec3& middle, const Bounds& whole) {
    constexpr std::string_view known[] = {"name", "base", "side", "number", "carrier"};
    std::string out;
    for (std::size_t at = 0; at < pattern.size(); ++at) {
        if (pattern[at] != '<') {
            out += pattern[at];
            continue;
        }
        const std::size_t end = pattern.find('>', at);
        const std::string mark = pattern.substr(at + 1, end == std::string::npos ? end : end - at - 1);
        if (end == std::string::npos ||
            std::find(std::begin(known), std::end(known), mark) == std::end(known))
            return Error{
                "name.pattern",
                fmt::format("'<{}' is nothing that can be filled in; there are <name>, <base>, <side>, "
                            "<number> and <carrier>",
                            pattern.substr(at + 1)),
                "pattern"};
        out += filled(document, part, mark, middle, whole);
        at = end;
    }
    return closed_up(out);
}

/// How far along the order a place stands.
double standing(SeriesOrder order, const Vec3& middle) {
    switch (order) {
        case SeriesOrder::Picked:
            return 0;
        case SeriesOrder::FrontToRear:
            return -middle.x();
        case SeriesOrder::LeftToRight:
            return -middle.y();
        case SeriesOrder::BottomToTop:
            return middle.z();
    }
    return 0;
}

}  // namespace

std::string base_name(std::string_view name) {
    std::vector<NameWord> words = split_name(name);
    std::erase_if(words, [](const NameWord& word) { return is_side_word(word.text); });
    while (words.size() > 1 && words.back().text.find_first_not_of("0123456789") == std::string::npos)
        words.pop_back();
    return words.empty() ? std::string(name) : joined_name(words);
}

Result<std::vector<std::string>> names_by_pattern(const Document& document, const std::vector<PartId>& parts,
                                                  const NamePattern& pattern) {
    const Bounds whole = document_bounds(document);
    std::vector<std::string> names;
    std::vector<Vec3> middles;
    std::map<std::string, std::vector<std::size_t>> series;
    for (const PartId id : parts) {
        middles.push_back(middle_of(document, id));
        PIVRAK_TRY(name,
                   without_number(document, *document.parts.find(id), pattern.text, middles.back(), whole));
        series[name].push_back(names.size());
        names.push_back(std::move(name));
    }
    for (auto& [name, members] : series) {
        std::stable_sort(members.begin(), members.end(), [&](std::size_t a, std::size_t b) {
            return standing(pattern.order, middles[a]) < standing(pattern.order, middles[b]);
        });
        const std::size_t width = std::to_string(pattern.first + members.size() - 1).size();
        for (std::size_t i = 0; i < members.size(); ++i)
            names[members[i]] =
                replaced_all(name, number_mark, fmt::format("{:0{}}", pattern.first + i, width));
    }
    return names;
}

}  // namespace pivrak
