#include "core/io/gltf/glb_container.h"

#include <fmt/format.h>

#include <cctype>
#include <cstdint>
#include <cstring>

namespace pivrak {
namespace {

std::uint32_t word(std::string_view bytes, std::size_t at) {
    std::uint32_t value = 0;
    std::memcpy(&value, bytes.data() + at, 4);
    return value;
}

std::string printable(std::string_view bytes) {
    std::string text;
    for (const char c : bytes) text += std::isprint(static_cast<unsigned char>(c)) ? c : '.';
    return text;
}

constexpr std::uint32_t json_chunk = 0x4E4F534A;
constexpr std::size_t container_head = 12, chunk_head = 8;

/// Every chunk ends inside the container. (The reader behind forgets the second chunk's head when it
/// compares.)
Result<void> check_chunks(std::string_view container, const std::string& file) {
    for (std::size_t at = container_head, number = 1; at + chunk_head <= container.size(); ++number) {
        const std::size_t there = container.size() - at - chunk_head, said = word(container, at);
        if (said > there)
            return Error{"glb.truncated",
                         fmt::format("'{}' is cut off: its chunk {} says {} bytes, {} are left of it", file,
                                     number, said, there),
                         file};
        at += chunk_head + said;
    }
    return {};
}

}  // namespace

Result<void> check_glb_container(std::string_view bytes, const std::string& file) {
    if (bytes.size() < 4 || bytes.substr(0, 4) != "glTF")
        return Error{"glb.not_glb",
                     fmt::format("'{}' is not a binary glTF file: it begins with '{}' instead of 'glTF'",
                                 file, printable(bytes.substr(0, 4))),
                     file};
    if (bytes.size() < 20)
        return Error{
            "glb.truncated",
            fmt::format("'{}' is cut off: {} bytes, but the header alone takes 20", file, bytes.size()),
            file};
    if (word(bytes, 4) != 2)
        return Error{
            "glb.version",
            fmt::format("'{}' is glTF container version {}; only version 2 is read", file, word(bytes, 4)),
            file};
    if (word(bytes, 8) > bytes.size())
        return Error{"glb.truncated",
                     fmt::format("'{}' is cut off: its header says {} bytes, the file has {}", file,
                                 word(bytes, 8), bytes.size()),
                     file};
    if (word(bytes, 16) != json_chunk || std::size_t{20} + word(bytes, 12) > bytes.size())
        return Error{"glb.truncated",
                     fmt::format("'{}' is damaged: its first chunk is no complete JSON chunk", file), file};
    return check_chunks(bytes.substr(0, word(bytes, 8)), file);
}

}  // namespace pivrak
