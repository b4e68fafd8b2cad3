#include "core/io/atomic_file.h"

#include <fcntl.h>
#include <fmt/format.h>
#include <unistd.h>

#include <cerrno>
#include <cstring>
#include <fstream>

namespace pivrak {
namespace {

Error write_problem(const std::filesystem::path& path, int reason) {
    return {"file.write", fmt::format("'{}' cannot be written: {}", path.string(), std::strerror(reason)),
            path.string()};
}

/// Answers 0, or the reason why not all bytes are safely on the disk.
int write_and_flush(int file, std::string_view bytes) {
    while (!bytes.empty()) {
        const ssize_t written = ::write(file, bytes.data(), bytes.size());
        if (written < 0 && errno == EINTR) continue;
        if (written < 0) return errno;
        bytes.remove_prefix(static_cast<std::size_t>(written));
    }
    return ::fsync(file) == 0 ? 0 : errno;
}

}  // namespace

Result<void> write_file_atomically(const std::filesystem::path& path, std::string_view bytes) {
    const std::string beside = path.string() + fmt::format(".{}.part", ::getpid());
    const int file = ::open(beside.c_str(), O_WRONLY | O_CREAT | O_TRUNC | O_CLOEXEC, 0644);
    if (file < 0) return write_problem(path, errno);
    int reason = write_and_flush(file, bytes);
    if (::close(file) != 0 && reason == 0) reason = errno;
    if (reason == 0 && ::rename(beside.c_str(), path.c_str()) != 0) reason = errno;
    if (reason == 0) return {};
    ::unlink(beside.c_str());
    return write_problem(path, reason);
}

Result<std::string> read_file(const std::filesystem::path& path) {
    std::error_code problem;
    if (std::filesystem::is_directory(path, problem))
        return Error{"file.read", fmt::format("'{}' is a folder, not a file", path.string()), path.string()};
    std::ifstream stream(path, std::ios::binary | std::ios::ate);
    if (!stream)
        return Error{"file.read",
                     fmt::format("'{}' cannot be opened: {}", path.string(), std::strerror(errno)),
                     path.string()};
    std::string bytes(static_cast<std::size_t>(stream.tellg()), '\0');
    stream.seekg(0);
    if (!stream.read(bytes.data(), static_cast<std::streamsize>(bytes.size())))
        return Error{"file.read", fmt::format("'{}' cannot be read to its end", path.string()),
                     path.string()};
    if (bytes.empty())
        return Error{"file.empty", fmt::format("'{}' is empty: it has 0 bytes", path.string()),
                     path.string()};
    return bytes;
}

}  // namespace pivrak
