#include "core/model/edits/join.h"

#include <fmt/format.h>

#include "core/geometry/mesh/mesh_edit.h"
#include "core/model/origin.h"

namespace pivrak {
namespace {

/// Frame of a part's shape in the world.
Frame world_from_shape(const Document& document, const Part& part) {
    return world_from_rest(document, part.id) * part.part_from_shape;
}

}  // namespace

Result<Removal> join_parts(Document& document, const std::vector<PartId>& parts, PartId into) {
    for (const PartId part : parts)
        if (part != into && is_below(document, into, part))
            return Error{"join.carried",
                         fmt::format("'{}' is carried by '{}', which is to be joined to it; release it first",
                                     document.parts.find(into)->name, document.parts.find(part)->name),
                         document.parts.find(into)->name};
    Part target = *document.parts.find(into);
    const Shape* own = document.shapes.find(target.shape);
    Mesh mesh;
    std::string name = target.name;
    if (own) {
        mesh = *own->mesh;
        name = own->name;
    } else {
        target.part_from_shape = {};
    }
    std::vector<Origin> origins;
    if (own) origins = origins_of(target.origin);
    const Frame shape_from_world = world_from_shape(document, target).inverse();
    for (const PartId id : parts) {
        if (id == into) continue;
        const Part& part = *document.parts.find(id);
        const Shape* shape = document.shapes.find(part.shape);
        if (!shape) continue;
        const Frame target_from_shape = shape_from_world * world_from_shape(document, part);
        append_mesh(mesh, *shape->mesh, target_from_shape);
        for (Origin origin : origins_of(part.origin)) {
            rehang_origin(origin, target_from_shape.inverse());
            origins.push_back(std::move(origin));
        }
    }
    if (!mesh.indices.empty()) {
        target.origin = joined_origin(std::move(origins));
        target.shape = document.new_id<ShapeId>();
        document.shapes.set(make_shape(target.shape, name, std::move(mesh)));
    }
    document.parts.set(target);
    Removal removal;
    for (const PartId id : parts) {
        if (id == into || !document.parts.contains(id)) continue;
        const Tree tree(document);
        for (const PartId child : tree.children(id))
            if (child != into) PIVRAK_CHECK(reparent(document, child, into));
        const Removal one = remove_branch(document, id);
        removal.parts += one.parts;
        removal.couplings += one.couplings;
        removal.tracks += one.tracks;
    }
    drop_unused_shapes(document);
    return removal;
}

}  // namespace pivrak
