#include "core/model/names/name_words.h"

#include <algorithm>
#include <array>
#include <cctype>

#include "core/base/words.h"

namespace pivrak {
namespace {

constexpr std::string_view dividers = " _-";

}  // namespace

std::vector<NameWord> split_name(std::string_view name) {
    std::vector<NameWord> words;
    for (std::size_t at = 0; at < name.size();) {
        const std::size_t end = std::min(name.find_first_of(dividers, at), name.size());
        const std::size_t next = std::min(name.find_first_not_of(dividers, end), name.size());
        words.push_back({std::string(name.substr(at, end - at)), std::string(name.substr(end, next - end))});
        at = next;
    }
    return words;
}

std::string joined_name(const std::vector<NameWord>& words) {
    std::string out;
    for (std::size_t i = 0; i < words.size(); ++i)
        out += words[i].text + (i + 1 < words.size() ? words[i].behind : std::string());
    return out;
}

bool is_side_word(std::string_view word) {
    constexpr std::array<std::string_view, 9> words{"front", "rear",  "back", "left",  "right",
                                                    "upper", "lower", "top",  "bottom"};
    const std::string plain = lower_case(word);
    return std::find(words.begin(), words.end(), plain) != words.end() || !words_of_letters(word).empty();
}

std::string side_letter(std::string_view word) {
    const std::string plain = lower_case(word);
    if (plain == "left") return "L";
    if (plain == "right") return "R";
    if (plain == "front") return "F";
    if (plain == "rear" || plain == "back") return "B";
    return {};
}

std::vector<std::string> words_of_letters(std::string_view letters) {
    const auto word = [](char c) -> std::string {
        return c == 'L' ? "left" : c == 'R' ? "right" : c == 'F' ? "front" : c == 'B' ? "rear" : "";
    };
    if (letters == "L" || letters == "R") return {word(letters[0])};
    const bool pair = letters.size() == 2 && (letters[0] == 'F' || letters[0] == 'B') &&
                      (letters[1] == 'L' || letters[1] == 'R');
    return pair ? std::vector{word(letters[0]), word(letters[1])} : std::vector<std::string>{};
}

}  // namespace pivrak
