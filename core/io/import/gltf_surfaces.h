#pragma once

#include <tiny_gltf.h>

#include <filesystem>
#include <string>

#include "core/base/result.h"

namespace pivrak {

/// What a glTF file says of surfaces, which the general reader does not pass on whole. That one reads a copy
/// in which each material has its number for a name.
struct GltfSurfaces {
    tinygltf::Model model;  ///< what surfaces take, nothing else; pictures as they are encoded
    std::string numbered;   ///< the whole file, its materials named "0", "1" ...

    /// Whether the file has no material: then it can be read as it is.
    bool empty() const { return model.materials.empty(); }
};

/// Pre: the file passed `check_model_file`. Errors: `file.*`, `gltf.read`.
Result<GltfSurfaces> read_gltf_surfaces(const std::filesystem::path& path);

}  // namespace pivrak
