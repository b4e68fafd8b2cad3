#pragma once

#include <unordered_map>

#include "core/io/import/import_model.h"
#include "core/io/import/import_scene.h"

struct aiNode;
struct aiScene;

namespace pivrak {

/// Turns the node animations of a scene into clips, and the joints of the nodes they move into hinges or free
/// joints. Errors: `import.cancelled`.
Result<void> read_animations(const aiScene& scene, const FileAxes& axes,
                             const std::unordered_map<const aiNode*, PartId>& part_of, ImportOutcome& out,
                             const Progress& progress);

}  // namespace pivrak
