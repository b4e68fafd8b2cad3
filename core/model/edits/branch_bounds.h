#pragma once

#include <vector>

#include "core/model/document.h"

namespace pivrak {

/// Bounds, at rest, of parts with all they carry, seen from a frame that the world stands in.
inline Bounds branch_bounds(const Document& document, const Tree& tree, const std::vector<PartId>& tops,
                            const Frame& view_from_world = {}) {
    Bounds bounds;
    for (const PartId top : tops)
        for (const PartId id : tree.branch(top)) {
            const Part& part = *document.parts.find(id);
            if (const Shape* shape = document.shapes.find(part.shape))
                bounds.add(mesh_bounds(
                    *shape->mesh, view_from_world * world_from_rest(document, id) * part.part_from_shape));
        }
    return bounds;
}
inline Bounds branch_bounds(const Document& document, const std::vector<PartId>& tops,
                            const Frame& view_from_world = {}) {
    return branch_bounds(document, Tree(document), tops, view_from_world);
}

}  // namespace pivrak
