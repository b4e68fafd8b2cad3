#pragma once

#include <memory>
#include <string>

#include "core/geometry/mesh/mesh.h"
#include "core/model/material.h"

namespace pivrak {

/// Geometry that one or several parts show. The mesh is shared and never changed.
struct Shape {
    ShapeId id;
    std::string name;
    std::shared_ptr<const Mesh> mesh;
    Bounds bounds;  ///< of the mesh in its own frame

    bool operator==(const Shape& other) const {
        return id == other.id && name == other.name && (mesh == other.mesh || *mesh == *other.mesh);
    }
};

inline Shape make_shape(ShapeId id, std::string name, Mesh mesh) {
    const Bounds bounds = mesh_bounds(mesh);
    return {id, std::move(name), std::make_shared<const Mesh>(std::move(mesh)), bounds};
}

}  // namespace pivrak
