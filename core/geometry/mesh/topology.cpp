#include "core/geometry/mesh/topology.h"

#include <algorithm>

namespace pivrak {

MeshTopology mesh_topology(const Mesh& mesh, double weld_m) {
    MeshTopology t;
    t.points = weld_points(mesh.positions, weld_m);
    struct Keyed {
        std::uint64_t key;
        std::uint32_t side;
    };
    std::vector<Keyed> keyed;
    keyed.reserve(mesh.indices.size());
    for (std::uint32_t side = 0; side < mesh.indices.size(); ++side) {
        const std::uint64_t a = t.point(mesh, side), b = t.point(mesh, next_side(side));
        if (a != b) keyed.push_back({std::min(a, b) << 32 | std::max(a, b), side});
    }
    std::sort(keyed.begin(), keyed.end(), [](const Keyed& a, const Keyed& b) {
        return a.key != b.key ? a.key < b.key : a.side < b.side;
    });
    t.edge_of_side.assign(mesh.indices.size(), MeshTopology::no_edge);
    t.sides_by_edge.reserve(keyed.size());
    for (std::size_t i = 0; i < keyed.size();) {
        MeshTopology::Edge edge{static_cast<std::uint32_t>(keyed[i].key >> 32),
                                static_cast<std::uint32_t>(keyed[i].key),
                                static_cast<std::uint32_t>(t.sides_by_edge.size()), 0};
        const std::uint64_t key = keyed[i].key;
        for (; i < keyed.size() && keyed[i].key == key; ++i, ++edge.count) {
            t.edge_of_side[keyed[i].side] = static_cast<std::uint32_t>(t.edges.size());
            t.sides_by_edge.push_back(keyed[i].side);
        }
        t.edges.push_back(edge);
    }
    return t;
}

std::vector<Vec3> face_normals(const Mesh& mesh) {
    std::vector<Vec3> normals(mesh.triangle_count());
    for (std::size_t t = 0; t < normals.size(); ++t) {
        const Vec3 a = mesh.corner(t, 0), cross = (mesh.corner(t, 1) - a).cross(mesh.corner(t, 2) - a);
        const double length = cross.norm();
        normals[t] = length > 0 ? Vec3(cross / length) : Vec3(0, 0, 0);
    }
    return normals;
}

double triangle_area(const Mesh& mesh, std::size_t t) {
    const Vec3 a = mesh.corner(t, 0);
    return 0.5 * (mesh.corner(t, 1) - a).cross(mesh.corner(t, 2) - a).norm();
}

}  // namespace pivrak
