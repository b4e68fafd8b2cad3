#include "core/io/import/obj_names.h"

#include <algorithm>
#include <cctype>

#include "core/io/atomic_file.h"

namespace pivrak {
namespace {

bool is_blank(char c) {
    return c == ' ' || c == '\t';
}

/// The text of a line behind its keyword, without blanks about it.
std::string_view trimmed(std::string_view text) {
    while (!text.empty() && (is_blank(text.front()) || text.front() == '\r')) text.remove_prefix(1);
    while (!text.empty() && (is_blank(text.back()) || text.back() == '\r')) text.remove_suffix(1);
    return text;
}

}  // namespace

Result<ObjNames> ObjNames::read(const std::filesystem::path& path) {
    PIVRAK_TRY(bytes, read_file(path));
    ObjNames out;
    std::size_t copied = 0;
    for (std::size_t line = 0; line < bytes.size();) {
        const std::size_t found = bytes.find('\n', line), end = std::min(found, bytes.size());
        std::size_t at = line;
        while (at < end && is_blank(bytes[at])) ++at;
        if (at + 1 < end && (bytes[at] == 'o' || bytes[at] == 'g') && is_blank(bytes[at + 1])) {
            const bool is_group = bytes[at] == 'g';
            const std::string_view name = trimmed(std::string_view(bytes).substr(at + 1, end - at - 1));
            if (!name.empty()) {
                // A group named again goes on.
                const bool goes_on = is_group && !out.entries_.empty() && out.entries_.back().is_group &&
                                     out.entries_.back().name == name;
                if (!goes_on) out.entries_.push_back({is_group, std::string(name)});
                out.numbered_.append(bytes, copied, at + 2 - copied);
                out.numbered_ += std::to_string(out.entries_.size() - 1);
                copied = end;
            }
        }
        line = end + 1;
    }
    if (!out.empty()) out.numbered_.append(bytes, copied);
    return out;
}

const ObjNames::Entry* ObjNames::find(const std::string& number) const {
    const bool is_number = !number.empty() && number.size() < 10 &&
                           std::ranges::all_of(number, [](unsigned char c) { return std::isdigit(c); });
    const std::size_t at = is_number ? std::stoul(number) : entries_.size();
    return at < entries_.size() ? &entries_[at] : nullptr;
}

}  // namespace pivrak
