#pragma once

#include <assimp/mesh.h>

#include <string>

#include "core/base/result.h"
#include "core/geometry/mesh/mesh.h"

namespace pivrak {

/// Vertices of a mesh that was read, with their normals, texture places and colours, behind those of another.
/// `name` is what the mesh is called in errors; `stretch` takes its places to the shape's frame.
/// Errors: `import.not_finite`.
Result<void> append_vertices(const aiMesh& source, const std::string& name, const Mat3& stretch,
                             bool linear_colors, Mesh& mesh);

}  // namespace pivrak
