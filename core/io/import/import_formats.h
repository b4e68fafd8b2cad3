#pragma once

#include <filesystem>
#include <optional>
#include <span>
#include <string>
#include <string_view>

#include "core/base/result.h"

namespace pivrak {

/// An open format that models are read from, and what its specification says of units and axes.
struct ModelFormat {
    std::string_view ending;  ///< with the dot, in lower case
    std::string_view title;
    std::optional<double> metres_per_unit;  ///< none where the format gives no unit
    char up;                                ///< 'y' with z to the front, or 'z' with x to the front
    bool linear_colors;  ///< colours are stored as light adds up, not as a screen shows them
};

/// glTF, OBJ, COLLADA, X3D, STL, PLY, OFF, 3MF and AMF.
std::span<const ModelFormat> model_formats();

/// The format of a file by its ending. Errors: `import.format`, which lists the formats read here.
Result<ModelFormat> model_format(const std::filesystem::path& path);

/// Looks a file through before the reader sees it: what readers pass over or say little about. Answers the
/// unit that the file itself states, where its format leaves that to the file (3MF, AMF).
/// Errors: `file.*`, `glb.*`, `obj.*`, `import.empty_format` with what the file seems to be instead.
Result<std::optional<double>> check_model_file(const std::filesystem::path& path, const ModelFormat& format);

}  // namespace pivrak
