#pragma once

#include <assimp/matrix4x4.h>

#include <string>

#include "core/geometry/frame.h"

namespace pivrak {

/// A node's whole transform, divided into a rigid frame and what is left to go into the vertices.
struct RigidSplit {
    Frame frame;
    Mat3 stretch;  ///< frame-from-mesh, 3x3
};

/// Polar decomposition: the rotation nearest to the matrix. A mirrored matrix keeps its mirror in the
/// stretch.
RigidSplit split_rigid(const Mat4& world);

/// A text of the file in UTF-8: what is not valid UTF-8 is taken for ISO 8859-1, as older files have it.
std::string text_of(const char* bytes);

Mat4 matrix_of(const aiMatrix4x4& matrix);

/// How the file's axes and unit become ours: `core_from_file * M * file_from_core` is a node's transform
/// here.
struct FileAxes {
    Mat4 core_from_file, file_from_core;
};

}  // namespace pivrak
