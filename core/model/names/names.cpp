#include "core/model/names/names.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cctype>

#include "core/base/words.h"

namespace pivrak {

std::string series_name(const std::string& base, std::size_t number, std::size_t count) {
    return fmt::format("{} {:0{}}", base, number, std::to_string(count).size());
}

FreeNames::FreeNames(const Document& document) {
    for (const Part& part : document.parts) used_.insert(part.name);
}

std::string FreeNames::take(const std::string& wanted) {
    std::string name = wanted;
    if (used_.contains(name)) {
        std::size_t end = wanted.find_last_not_of("0123456789");
        const bool numbered = end != std::string::npos && end + 1 < wanted.size() && wanted[end] == ' ' &&
                              wanted.size() - end < 9;
        const std::string base = numbered ? wanted.substr(0, end) : wanted;
        std::size_t number = numbered ? std::stoul(wanted.substr(end + 1)) : 1;
        const int digits = numbered ? static_cast<int>(wanted.size() - end - 1) : 1;
        const auto [run, fresh] = runs_.try_emplace(fmt::format("{} {}", base, digits), Run{number, number});
        if (!fresh && (number < run->second.first || number > run->second.last))
            run->second = {number, number};
        number = run->second.last;
        do name = fmt::format("{} {:0{}}", base, ++number, digits);
        while (used_.contains(name));
        run->second.last = number;
    }
    used_.insert(name);
    return name;
}

namespace {

using Pair = std::pair<std::string_view, std::string_view>;

std::vector<Pair> pairs_of(SideAxis axis) {
    switch (axis) {
        case SideAxis::LeftRight:
            return {{"left", "right"}, {"l", "r"}, {"lh", "rh"}, {"fl", "fr"}, {"rl", "rr"}, {"bl", "br"}};
        case SideAxis::FrontRear:
            return {{"front", "rear"}, {"fore", "aft"}, {"forward", "backward"},
                    {"f", "b"},        {"fl", "rl"},    {"fr", "rr"}};
        case SideAxis::UpperLower:
            return {{"upper", "lower"}, {"top", "bottom"}, {"high", "low"}};
    }
    return {};
}

/// Where two words stand for one side, the second of them.
bool is_another_for(std::string_view word, std::string_view side) {
    return (word == "back" && side == "rear") || (word == "bl" && side == "rl") ||
           (word == "br" && side == "rr");
}

/// What belongs to a word: letters, and the bytes of all that is not ASCII, for other alphabets have letters
/// too.
bool is_of_word(char c) {
    const auto byte = static_cast<unsigned char>(c);
    return byte >= 0x80 || std::isalpha(byte) != 0;
}

std::string in_case_of(std::string_view pattern, std::string_view word) {
    std::string out(word);
    const bool first = std::isupper(static_cast<unsigned char>(pattern.front())) != 0;
    const bool all =
        pattern.size() > 1 ? std::isupper(static_cast<unsigned char>(pattern.back())) != 0 : first;
    for (std::size_t i = 0; i < out.size(); ++i)
        if (all || (first && i == 0))
            out[i] = static_cast<char>(std::toupper(static_cast<unsigned char>(out[i])));
    return out;
}

}  // namespace

std::string swap_sides(std::string_view name, SideAxis axis) {
    std::string out;
    const auto pairs = pairs_of(axis);
    std::size_t at = 0;
    while (at < name.size()) {
        if (!is_of_word(name[at])) {
            out += name[at++];
            continue;
        }
        std::size_t end = at;
        while (end < name.size() && is_of_word(name[end])) ++end;
        const std::string_view word = name.substr(at, end - at);
        const std::string plain = lower_case(word);
        std::string swapped(word);
        for (const auto& [one, other] : pairs) {
            if (plain == one) swapped = in_case_of(word, other);
            if (plain == other || is_another_for(plain, other)) swapped = in_case_of(word, one);
        }
        out += swapped;
        at = end;
    }
    return out;
}

std::string side_words(const Vec3& place, const Bounds& whole) {
    const Vec3 from = place - whole.middle(), size = whole.size();
    std::string words;
    const auto add = [&](double value, double extent, std::string_view positive, std::string_view negative) {
        if (std::abs(value) <= 0.05 * extent) return;
        if (!words.empty()) words += ' ';
        words += value > 0 ? positive : negative;
    };
    add(from.x(), size.x(), "front", "rear");
    add(from.y(), size.y(), "left", "right");
    return words;
}

}  // namespace pivrak
