#pragma once

#include <random>

#include "core/geometry/mesh/creases.h"
#include "core/geometry/mesh/mesh.h"
#include "core/geometry/mesh/weld.h"
#include "core/geometry/teeth/gear_shapes.h"

namespace pivrak::test {

/// A solid in millimetres as a mesh in metres, with normals.
inline Mesh to_mesh(const Solid& solid, double scale = 1e-3) {
    return solid_mesh(solid, scale);
}

/// A box by its corners, 12 triangles on 8 shared vertices, no normals.
inline Mesh box(const Vec3& low, const Vec3& high) {
    Mesh mesh;
    for (int i = 0; i < 8; ++i)
        mesh.positions.push_back(
            Vec3(i & 1 ? high.x() : low.x(), i & 2 ? high.y() : low.y(), i & 4 ? high.z() : low.z())
                .cast<float>());
    mesh.indices = {0, 2, 3, 0, 3, 1, 4, 5, 7, 4, 7, 6, 0, 1, 5, 0, 5, 4,
                    2, 6, 7, 2, 7, 3, 0, 4, 6, 0, 6, 2, 1, 3, 7, 1, 7, 5};
    mesh.submeshes.push_back({MaterialId{}, 0, 36, {}});
    return mesh;
}

/// Both meshes as one, no vertex shared.
inline Mesh joined(const Mesh& a, const Mesh& b) {
    Mesh out = a;
    const auto first = static_cast<std::uint32_t>(a.positions.size());
    out.positions.insert(out.positions.end(), b.positions.begin(), b.positions.end());
    if (!a.normals.empty()) out.normals.insert(out.normals.end(), b.normals.begin(), b.normals.end());
    for (const std::uint32_t i : b.indices) out.indices.push_back(first + i);
    out.submeshes = {{MaterialId{}, 0, static_cast<std::uint32_t>(out.indices.size()), {}}};
    return out;
}

/// Every triangle with corners of its own, as files with hard edges have them.
inline Mesh unshared(const Mesh& mesh) {
    Mesh out;
    for (const std::uint32_t i : mesh.indices) {
        out.indices.push_back(static_cast<std::uint32_t>(out.positions.size()));
        out.positions.push_back(mesh.positions[i]);
    }
    out.submeshes = mesh.submeshes;
    return out;
}

/// Each place moved by chance along all axes [m]; what is drawn at one place for several vertices stays
/// together.
template <class Distribution>
Mesh shaken(Mesh mesh, Distribution by, unsigned seed) {
    std::mt19937 random(seed);
    const WeldedPoints points = weld_points(mesh.positions);
    std::vector<Vec3f> shift(points.count());
    for (Vec3f& s : shift)
        for (int k = 0; k < 3; ++k) s[k] = by(random);
    for (std::size_t v = 0; v < mesh.positions.size(); ++v) mesh.positions[v] += shift[points.of_vertex[v]];
    mesh.normals.clear();
    return mesh;
}

/// Poses that no symmetry favours, for tests that must hold anywhere.
inline std::vector<Frame> world_poses() {
    const auto pose = [](double angle, Vec3 axis, Vec3 at) {
        return Frame{Quat(Eigen::AngleAxisd(angle, axis.normalized())), at};
    };
    return {Frame{}, pose(0.7, {1, 2, 3}, {1.5, -0.4, 2}), pose(2.9, {-3, 1, 0.2}, {-20, 7, 0.1}),
            pose(pi / 2, {0, 1, 0}, {0, 0, 5})};
}

}  // namespace pivrak::test
