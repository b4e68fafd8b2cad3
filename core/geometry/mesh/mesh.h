#pragma once

#include <cstdint>
#include <string>
#include <vector>

#include "core/base/id.h"
#include "core/geometry/frame.h"

namespace pivrak {

/// A run of triangles of one material and group inside a mesh.
struct Submesh {
    MaterialId material;
    std::uint32_t first_index = 0;
    std::uint32_t index_count = 0;
    std::string group;  ///< name of the group in the file it came from, if it had one
    bool operator==(const Submesh&) const = default;
};

/// Triangles in the frame of their shape, in metres. `normals`, `uvs`, `second_uvs`, `colors` (linear
/// red, green, blue and opacity, 0 to 1) and `tangents` (unit along u, and the side of v: 1 or -1, as glTF
/// has it) are empty or as long as `positions`; `indices` holds three per triangle, counter-clockwise seen
/// from outside; the submeshes cover the indices in order without gaps. Positions are single precision, as
/// glTF stores them, so a saved project gives back the same bits.
struct Mesh {
    std::vector<Vec3f> positions;
    std::vector<Vec3f> normals;
    std::vector<Vec2f> uvs;
    std::vector<std::uint32_t> indices;
    std::vector<Submesh> submeshes;
    std::vector<Vec4f> colors;
    std::vector<Vec2f> second_uvs;
    std::vector<Vec4f> tangents;

    std::size_t triangle_count() const { return indices.size() / 3; }
    Vec3 corner(std::size_t triangle, int k) const {
        return positions[indices[3 * triangle + static_cast<std::size_t>(k)]].cast<double>();
    }
    bool operator==(const Mesh&) const = default;
};

/// `f(attribute, filler)` for each attribute of vertices that a mesh may lack, with what stands where it is
/// missing.
template <class F>
void each_attribute(F f) {
    f(&Mesh::normals, Vec3f(0, 0, 1));
    f(&Mesh::uvs, Vec2f(0, 0));
    f(&Mesh::second_uvs, Vec2f(0, 0));
    f(&Mesh::colors, Vec4f(1, 1, 1, 1));
    f(&Mesh::tangents, Vec4f(1, 0, 0, 1));
}

/// Whether every attribute is empty or as long as the positions.
bool has_whole_attributes(const Mesh& mesh);

/// An axis-aligned box; empty (min > max) until a point is added.
struct Bounds {
    Vec3 min = Vec3::Constant(1e300);
    Vec3 max = Vec3::Constant(-1e300);

    void add(const Vec3& p) {
        min = min.cwiseMin(p);
        max = max.cwiseMax(p);
    }
    void add(const Bounds& b) {
        if (b.empty()) return;
        add(b.min);
        add(b.max);
    }
    bool empty() const { return min.x() > max.x(); }
    Vec3 middle() const { return 0.5 * (min + max); }
    Vec3 size() const { return empty() ? Vec3(0, 0, 0) : Vec3(max - min); }
    double longest() const { return size().maxCoeff(); }
    bool contains(const Vec3& p) const {
        return (p.array() >= min.array()).all() && (p.array() <= max.array()).all();
    }
};

/// Exact bounds of the mesh seen from another frame: every vertex is looked at.
Bounds mesh_bounds(const Mesh& mesh, const Frame& target_from_mesh = {});

/// The mesh with vertices and normals moved rigidly; rounded once, to single precision.
Mesh transformed(const Mesh& mesh, const Frame& target_from_mesh);

/// Triangles whose label equals `label`, with only the vertices they use, for every label in one pass.
/// Order of triangles and submeshes is kept; labels without a triangle give an empty mesh.
/// Pre: `label_of_triangle.size() == mesh.triangle_count()`, every label < `label_count`.
std::vector<Mesh> extract_labelled(const Mesh& mesh, const std::vector<std::uint32_t>& label_of_triangle,
                                   std::uint32_t label_count);

}  // namespace pivrak
