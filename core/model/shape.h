#pragma once

#include <memory>
#include <nlohmann/json.hpp>
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
    /// Of a stand-in: its kind and the measures it was made of; nothing once its mesh is another.
    nlohmann::json made_of = {};

    bool operator==(const Shape& other) const {
        return id == other.id && name == other.name && (mesh == other.mesh || *mesh == *other.mesh) &&
               made_of == other.made_of;
    }
};

inline Shape make_shape(ShapeId id, std::string name, Mesh mesh) {
    const Bounds bounds = mesh_bounds(mesh);
    return {id, std::move(name), std::make_shared<const Mesh>(std::move(mesh)), bounds, {}};
}

}  // namespace pivrak
