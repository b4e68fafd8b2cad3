#include "core/io/import/obj_check.h"

#include <fmt/format.h>

#include <algorithm>
#include <charconv>
#include <cstdint>
#include <cstring>

namespace pivrak {
namespace {

bool is_space(char c) {
    return c == ' ' || c == '\t' || c == '\r';
}

/// One pass over the text, a line at a time; only lines of vertices and faces are looked into.
class ObjChecker {
public:
    ObjChecker(std::string_view text, const std::string& file) : text_(text), file_(file) {}

    Result<void> run() {
        while (at_ < text_.size()) {
            ++line_number_;
            const char* first = text_.data() + at_;
            const auto* end = static_cast<const char*>(std::memchr(first, '\n', text_.size() - at_));
            const std::size_t length = end ? static_cast<std::size_t>(end - first) : text_.size() - at_;
            PIVRAK_CHECK(line({first, length}));
            at_ += length + 1;
        }
        if (positions_ == 0)
            return Error{"obj.no_vertices",
                         fmt::format("'{}' holds no vertex: it is not an OBJ model", file_), file_};
        if (faces_ == 0)
            return Error{"import.nothing", fmt::format("'{}' holds no triangle, only points or lines", file_),
                         file_};
        return {};
    }

private:
    Result<void> line(std::string_view text) {
        while (!text.empty() && is_space(text.front())) text.remove_prefix(1);
        if (text.size() < 2 || (text[0] != 'v' && text[0] != 'f')) return {};
        if (text[0] == 'f' && is_space(text[1])) {
            ++faces_;
            return face(text.substr(2));
        }
        if (text[0] != 'v') return {};
        if (is_space(text[1])) {
            ++positions_;
            return coordinates(text.substr(2));
        }
        if (text[1] == 't') ++uvs_;
        if (text[1] == 'n') ++normals_;
        return {};
    }

    /// Letters inside a coordinate mean `nan` or `inf`; an exponent's e is the only one allowed.
    Result<void> coordinates(std::string_view text) const {
        for (const char c : text)
            if ((c >= 'a' && c <= 'z' && c != 'e') || (c >= 'A' && c <= 'Z' && c != 'E')) {
                while (!text.empty() && is_space(text.back())) text.remove_suffix(1);
                return Error{
                    "obj.not_finite",
                    fmt::format("'{}', line {}: '{}' is not a finite place", file_, line_number_, text),
                    file_};
            }
        return {};
    }

    Result<void> face(std::string_view text) const {
        const std::int64_t counts[3] = {positions_, uvs_, normals_};
        const char *c = text.data(), *end = c + text.size();
        int field = 0;
        while (c < end && *c != '#') {
            if (is_space(*c)) {
                field = 0;
                ++c;
            } else if (*c == '/') {
                ++field;
                ++c;
            } else {
                std::int64_t index = 0;
                const auto [rest, problem] = std::from_chars(c, end, index);
                if (problem != std::errc() || field > 2) return bad_face(text, "cannot be read");
                c = rest;
                const std::int64_t count = counts[field];
                if (index == 0 || index > count || -index > count)
                    return bad_face(
                        text, fmt::format("index {} points to none of the {} {} before it", index, count,
                                          field == 0   ? "vertices"
                                          : field == 1 ? "texture points"
                                                       : "normals"));
            }
        }
        return {};
    }

    Error bad_face(std::string_view text, const std::string& what) const {
        return {"obj.index", fmt::format("'{}', line {}: face '{}': {}", file_, line_number_, text, what),
                file_};
    }

    std::string_view text_;
    const std::string& file_;
    std::size_t at_ = 0, line_number_ = 0;
    std::int64_t faces_ = 0, positions_ = 0, uvs_ = 0, normals_ = 0;
};

}  // namespace

Result<void> check_obj_text(std::string_view text, const std::string& file) {
    return ObjChecker(text, file).run();
}

}  // namespace pivrak
