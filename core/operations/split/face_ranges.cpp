#include "core/operations/split/face_ranges.h"

#include <fmt/format.h>

#include <algorithm>
#include <charconv>

namespace pivrak {

std::string face_ranges(const std::vector<std::uint32_t>& faces) {
    std::string text;
    for (std::size_t i = 0; i < faces.size();) {
        std::size_t end = i + 1;
        while (end < faces.size() && faces[end] == faces[end - 1] + 1) ++end;
        if (!text.empty()) text += ' ';
        text += end - i == 1 ? fmt::format("{}", faces[i]) : fmt::format("{}-{}", faces[i], faces[end - 1]);
        i = end;
    }
    return text;
}

Result<std::vector<std::uint32_t>> faces_from_ranges(std::string_view text, std::size_t count) {
    std::vector<std::uint32_t> faces;
    const char *at = text.data(), *end = text.data() + text.size();
    const auto syntax = [&] {
        return Error{"faces.syntax",
                     fmt::format("'{}' is no list of faces; write it as '0-11 15'", text.substr(0, 60)),
                     "faces"};
    };
    while (at < end) {
        if (*at == ' ' || *at == ',') {
            ++at;
            continue;
        }
        std::uint32_t first = 0, last = 0;
        auto read = std::from_chars(at, end, first);
        if (read.ec != std::errc()) return syntax();
        last = first;
        if (read.ptr < end && *read.ptr == '-') {
            read = std::from_chars(read.ptr + 1, end, last);
            if (read.ec != std::errc() || last < first) return syntax();
        }
        if (last >= count)
            return Error{"faces.range", fmt::format("there is no face {}; the part has {}", last, count),
                         "faces"};
        for (std::uint32_t f = first; f <= last; ++f) faces.push_back(f);
        at = read.ptr;
    }
    std::sort(faces.begin(), faces.end());
    faces.erase(std::unique(faces.begin(), faces.end()), faces.end());
    return faces;
}

}  // namespace pivrak
