#pragma once

#include <tiny_gltf.h>

#include <string>
#include <vector>

#include "core/base/result.h"
#include "core/geometry/mesh/mesh.h"

namespace pivrak {

/// A binary glTF file read by tinygltf after its container was checked; pictures stay encoded.
/// Errors: those of `check_glb_container`, `gltf.read` with the parser's words.
Result<tinygltf::Model> read_glb(const std::string& bytes, const std::string& file);

/// Numbers of a float accessor with `components` numbers each, as the file holds them. Every index, offset
/// and length is checked first. Errors: `gltf.accessor`.
Result<std::vector<float>> read_floats(const tinygltf::Model& model, int accessor, int components);

/// Indices of an unsigned accessor of any width. Errors: `gltf.accessor`.
Result<std::vector<std::uint32_t>> read_indices(const tinygltf::Model& model, int accessor);

/// A mesh in core axes. Materials of the submeshes are the file's index plus one.
/// Errors: `gltf.accessor`, `gltf.mesh` (index out of range, number not finite, primitive without triangles).
Result<Mesh> read_mesh(const tinygltf::Model& model, int mesh);

/// The frame of a node, in core axes. Errors: `gltf.node` for uneven scale, a matrix, or a rotation that is
/// not of unit length within 1e-4.
Result<Frame> read_node_frame(const tinygltf::Model& model, int node);
/// As above, also for any scale.
Result<Frame> read_rigid_frame(const tinygltf::Model& model, int node);

}  // namespace pivrak
