#pragma once

#include <vector>

#include "core/geometry/mesh/mesh.h"

namespace pivrak {

/// Appends one vertex of `from`, with whatever attributes `to` is to have. Attributes that only one of them
/// has are filled in: a mesh under construction keeps all of one length.
void copy_vertex(const Mesh& from, std::size_t vertex, Mesh& to);

/// A tangent's direction turned; its side stays.
Vec4f turned_tangent(const Vec4f& tangent, const Frame& by);

/// Adds a mesh to another, moved rigidly. Attributes that one of them lacks are filled: normals by its faces,
/// texture coordinates with zero, colours with white; tangents go where one with texture coordinates lacks
/// them. Neighbouring runs of one material become one.
void append_mesh(Mesh& target, const Mesh& source, const Frame& target_from_source = {});

/// The mesh made larger or smaller about its origin. Pre: factor > 0.
Mesh scaled(const Mesh& mesh, double factor);

/// The mesh seen in a mirror across a plane through its origin at a right angle to `normal` (unit). Faces are
/// turned round, so that outside stays outside.
Mesh mirrored(const Mesh& mesh, const Vec3& normal);

/// Only the triangles whose flag is set, with the vertices they use.
Mesh kept_triangles(const Mesh& mesh, const std::vector<bool>& keep);

/// Material of each triangle.
std::vector<MaterialId> triangle_materials(const Mesh& mesh);

/// Volume [m³] that the faces enclose, positive when they look outwards; meaningful for a closed surface.
double enclosed_volume(const Mesh& mesh);

/// Area [m²] of all triangles.
double surface_area(const Mesh& mesh);

}  // namespace pivrak
