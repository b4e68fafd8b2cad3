#include "core/base/words.h"

#include <fmt/format.h>

#include <string>

namespace pivrak {

std::string counted(std::size_t count, std::string_view one, std::string_view many) {
    if (count == 1) return fmt::format("1 {}", one);
    const std::string plain = std::to_string(count);
    std::string digits;
    for (std::size_t i = 0; i < plain.size(); ++i) {
        if (i > 0 && (plain.size() - i) % 3 == 0) digits += ',';
        digits += plain[i];
    }
    return many.empty() ? fmt::format("{} {}s", digits, one) : fmt::format("{} {}", digits, many);
}

std::string lower_case(std::string_view text) {
    std::string out(text);
    for (char& c : out) {
        if (c >= 'A' && c <= 'Z') c = static_cast<char>(c - 'A' + 'a');
    }
    return out;
}

}  // namespace pivrak
