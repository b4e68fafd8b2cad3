#include "core/model/names/convention.h"

#include <cctype>
#include <vector>

#include "core/model/names/name_words.h"

namespace pivrak {
namespace {

std::string divider(NameSeparator separator) {
    return separator == NameSeparator::Space ? " " : separator == NameSeparator::Underscore ? "_" : "-";
}

bool is_plain(char c) {
    return std::isalnum(static_cast<unsigned char>(c)) && static_cast<unsigned char>(c) < 128;
}

void drop_odd_letters(std::vector<NameWord>& words) {
    for (NameWord& word : words) std::erase_if(word.text, [](char c) { return !is_plain(c); });
    std::erase_if(words, [](const NameWord& word) { return word.text.empty(); });
}

/// `front left` becomes `FL`, `left` becomes `L`; front or rear alone stay.
std::vector<NameWord> with_letters(const std::vector<NameWord>& words) {
    std::vector<NameWord> out;
    std::string before;  // the letter of a front or rear just passed
    for (const NameWord& word : words) {
        const std::string letter = side_letter(word.text);
        const bool crossways = letter == "L" || letter == "R";
        if (crossways && !before.empty())
            out.back() = {before + letter, word.behind};
        else
            out.push_back({crossways ? letter : word.text, word.behind});
        before = crossways ? std::string() : letter;
    }
    return out;
}

std::vector<NameWord> with_words(const std::vector<NameWord>& words) {
    std::vector<NameWord> out;
    for (const NameWord& word : words) {
        const auto spelled = words_of_letters(word.text);
        if (spelled.empty()) out.push_back(word);
        for (std::size_t i = 0; i < spelled.size(); ++i)
            out.push_back({spelled[i], i + 1 < spelled.size() ? " " : word.behind});
    }
    return out;
}

void set_first_letters(std::vector<NameWord>& words, NameLetters letters) {
    for (NameWord& word : words) {
        if (word.text.empty() || !words_of_letters(word.text).empty()) continue;
        const auto first = static_cast<unsigned char>(word.text[0]);
        word.text[0] =
            static_cast<char>(letters == NameLetters::Lower ? std::tolower(first) : std::toupper(first));
    }
}

}  // namespace

std::string conformed_name(std::string_view name, const NamingConvention& convention) {
    std::vector<NameWord> words = split_name(name);
    if (convention.sides == SideTags::Letters) words = with_letters(words);
    if (convention.sides == SideTags::Words) words = with_words(words);
    if (convention.plain) drop_odd_letters(words);
    if (convention.letters != NameLetters::Any) set_first_letters(words, convention.letters);
    if (convention.separator != NameSeparator::Any) {
        std::erase_if(words, [](const NameWord& word) { return word.text.empty(); });
        for (NameWord& word : words) word.behind = divider(convention.separator);
    }
    const std::string out = joined_name(words);
    if (!out.empty()) return out;
    return convention.letters == NameLetters::Capital ? "Part" : "part";
}

std::string convention_in_words(const NamingConvention& convention) {
    std::string out;
    const auto add = [&](const std::string& text) { out += (out.empty() ? "" : ", ") + text; };
    if (convention.letters == NameLetters::Lower) add("lower case");
    if (convention.letters == NameLetters::Capital) add("words begin with a capital");
    if (convention.separator == NameSeparator::Space) add("words divided by a space");
    if (convention.separator == NameSeparator::Underscore) add("words divided by _");
    if (convention.separator == NameSeparator::Hyphen) add("words divided by -");
    if (convention.sides == SideTags::Words) add("sides as words");
    if (convention.sides == SideTags::Letters) add("sides as letters");
    if (convention.plain) add("only a-z, A-Z and 0-9");
    return out;
}

}  // namespace pivrak
