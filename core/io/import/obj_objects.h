#pragma once

#include <assimp/scene.h>

#include <string>
#include <vector>

#include "core/io/import/obj_names.h"

namespace pivrak {

/// A node with the name that it has in the file, and where that is not told by the reader, with what it
/// carries.
struct FoundNode {
    const aiNode* node;
    std::string name;
    std::vector<FoundNode> below;
};

/// The objects of an OBJ file below the reader's root, which gets a node for each `o` and each `g`: an object
/// that is one group is one part, one of several groups carries them. Objects without a face are only
/// counted.
std::vector<FoundNode> obj_objects(const aiNode& root, const ObjNames& names, std::size_t& empty);
inline std::vector<FoundNode> obj_objects(const aiNode& root, const ObjNames& names) {
    std::size_t empty = 0;
    return obj_objects(root, names, empty);
}

}  // namespace pivrak
