#include "core/io/import/obj_objects.h"

#include "core/io/import/import_scene.h"

namespace pivrak {

std::vector<FoundNode> obj_objects(const aiNode& root, const ObjNames& names, std::size_t& empty) {
    std::vector<FoundNode> objects;
    std::vector<FoundNode> groups;
    std::optional<FoundNode> open;  ///< an object that has had no face of its own yet
    const auto close = [&] {
        if (open && groups.size() == 1) {
            groups.front().name = open->name;
        } else if (open && groups.size() > 1) {
            open->below = std::move(groups);
            groups = {*open};
        } else if (open) {
            ++empty;
        }
        objects.insert(objects.end(), groups.begin(), groups.end());
        groups.clear();
        open.reset();
    };
    for (unsigned c = 0; c < root.mNumChildren; ++c) {
        const aiNode* node = root.mChildren[c];
        const ObjNames::Entry* entry = names.find(node->mName.C_Str());
        FoundNode found{node, text_of(entry ? entry->name.c_str() : node->mName.C_Str()), {}};
        const bool is_group = entry && entry->is_group, has_faces = node->mNumMeshes > 0;
        if (!is_group) close();
        if (!is_group && !has_faces) {
            open = std::move(found);
        } else if (!has_faces) {
            // A group that nothing is in, as `g default` before the first face: no part.
            continue;
        } else {
            groups.push_back(std::move(found));
            if (!is_group) close();
        }
    }
    close();
    return objects;
}

}  // namespace pivrak
