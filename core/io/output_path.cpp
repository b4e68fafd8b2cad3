#include "core/io/output_path.h"

#include <fmt/format.h>

namespace pivrak {

Result<void> check_output_path(const Document& document, const std::filesystem::path& path) {
    std::error_code ignored;
    const auto target = std::filesystem::weakly_canonical(path, ignored);
    for (const Source& source : document.sources)
        if (target == std::filesystem::weakly_canonical(source.path, ignored))
            return Error{
                "output.overwrites_source",
                fmt::format("'{}' is the file this model came from; choose another name", path.string()),
                path.string()};
    const auto folder = path.has_parent_path() ? path.parent_path() : std::filesystem::path(".");
    if (!std::filesystem::is_directory(folder, ignored))
        return Error{"output.folder",
                     fmt::format("there is no folder '{}' to write '{}' into", folder.string(),
                                 path.filename().string()),
                     path.string()};
    return {};
}

}  // namespace pivrak
