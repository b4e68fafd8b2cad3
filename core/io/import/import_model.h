#pragma once

#include <filesystem>
#include <optional>
#include <string>
#include <vector>

#include "core/base/progress.h"
#include "core/model/document.h"

namespace pivrak {

/// How a file's numbers are to be read.
struct ImportOptions {
    /// Metres for one unit of the file; none to go by the format, or to guess where it says nothing.
    std::optional<double> metres_per_unit;
    /// Which axis of the file points up: 'y' (with z to the front, as glTF) or 'z' (with x to the front).
    /// None to go by the format.
    std::optional<char> up;
};

struct ImportOutcome {
    Document document;
    std::vector<PartId> parts;          ///< new ones, parents before children
    std::vector<std::string> messages;  ///< what was decided or is missing, for a person
};

/// Reads a model and adds it to a document: names, tree, materials, texture coordinates and normals are
/// kept. Frames come out rigid: the scale and shear of a node go into its vertices, a mirrored node's faces
/// are turned round, and nothing moves. Nodes that show equal geometry share one shape.
///
/// Formats: those of `model_formats`. Unit and up axis go by the format or the file; where neither says, a
/// longest side over 1000 is read as millimetres and one over 100 as centimetres, which a message tells.
///
/// A file's own animation of nodes comes as one clip each, sampled at every whole frame of the project's
/// rate: nodes that turn about one own axis become hinges, all others free parts. Animated size has no place
/// in rigid frames and is told.
///
/// Errors: `import.format`, `file.*`, `glb.*`, `obj.*`, `import.not_format`, `import.read` (the reader's
/// words), `import.not_finite` and `import.index` (mesh and vertex named), `import.nothing` (no triangle),
/// `import.cancelled`.
Result<ImportOutcome> import_model(const Document& document, const std::filesystem::path& path,
                                   const ImportOptions& options = {}, const Progress& progress = {});

/// Postprocessing asked of assimp; exposed so that its own reading can be measured alike.
extern const unsigned import_flags;

}  // namespace pivrak
