#pragma once

#include <string>
#include <string_view>
#include <vector>

namespace pivrak {

/// A word of a name and what stands behind it: blanks, underscores, hyphens or nothing.
struct NameWord {
    std::string text;
    std::string behind;
};

/// A name cut at blanks, underscores and hyphens. Together the words are the name again.
std::vector<NameWord> split_name(std::string_view name);
/// The words as a name; what stands behind the last one is left out.
std::string joined_name(const std::vector<NameWord>& words);

/// Whether a word tells a side: front, rear, back, left, right, upper, lower, top or bottom in any case; a
/// capital L or R alone; FL, FR, BL, BR.
bool is_side_word(std::string_view word);
/// The capital for a side word (`left` gives `L`), empty for others and for upper and lower, which have none.
/// F and B stand only before L or R: alone they are as likely a part's letter.
std::string side_letter(std::string_view word);
/// The words for side letters (`BL` gives `rear left`), empty for anything else.
std::vector<std::string> words_of_letters(std::string_view letters);

}  // namespace pivrak
