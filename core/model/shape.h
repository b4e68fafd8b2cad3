#pragma once

#include <array>
#include <memory>
#include <string>
#include <vector>

#include "core/geometry/mesh/mesh.h"

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

/// A picture as found in the source file, not decoded. Empty bytes: the file it names was not found.
struct Image {
    ImageId id;
    std::string name;
    std::string mime_type;
    std::shared_ptr<const std::vector<unsigned char>> bytes;

    bool missing() const { return !bytes || bytes->empty(); }
    bool operator==(const Image& other) const {
        return id == other.id && name == other.name && mime_type == other.mime_type &&
               (bytes == other.bytes || (bytes && other.bytes && *bytes == *other.bytes));
    }
};

/// Surface as glTF 2.0 describes it (metallic-roughness).
struct Material {
    MaterialId id;
    std::string name;
    std::array<double, 4> base_color{0.8, 0.8, 0.8, 1.0};  ///< linear red, green, blue, and opacity
    double metallic = 0;
    double roughness = 0.6;
    ImageId base_color_image;
    bool double_sided = false;
    bool operator==(const Material&) const = default;
};

}  // namespace pivrak
