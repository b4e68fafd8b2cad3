#include "core/geometry/mesh/creases.h"

#include <algorithm>
#include <cmath>

#include "core/geometry/mesh/mesh_edit.h"
#include "core/geometry/mesh/topology.h"

namespace pivrak {

std::vector<std::uint32_t> crease_edges(const Mesh& mesh, double angle_rad) {
    const MeshTopology topology = mesh_topology(mesh);
    const std::vector<Vec3> normals = face_normals(mesh);
    const double least_cosine = std::cos(angle_rad);
    std::vector<std::uint32_t> lines;
    for (const MeshTopology::Edge& edge : topology.edges) {
        const std::uint32_t* sides = topology.begin(edge);
        const bool smooth =
            edge.count == 2 && normals[sides[0] / 3].dot(normals[sides[1] / 3]) >= least_cosine;
        if (!smooth) lines.insert(lines.end(), {mesh.indices[sides[0]], mesh.indices[next_side(sides[0])]});
    }
    return lines;
}

namespace {

struct Corner {
    std::uint32_t position;
    std::uint32_t triangle;
    std::uint32_t index;
    double weight;
};

double corner_angle(const Mesh& mesh, std::size_t t, int k) {
    const Vec3 a = mesh.corner(t, k), to_b = mesh.corner(t, (k + 1) % 3) - a,
               to_c = mesh.corner(t, (k + 2) % 3) - a;
    return std::atan2(to_b.cross(to_c).norm(), to_b.dot(to_c));
}

std::vector<Corner> corners_by_position(const Mesh& mesh) {
    const WeldedPoints points = weld_points(mesh.positions);
    std::vector<Corner> corners;
    corners.reserve(mesh.indices.size());
    for (std::uint32_t i = 0; i < mesh.indices.size(); ++i)
        corners.push_back({points.of_vertex[mesh.indices[i]], i / 3, i,
                           corner_angle(mesh, i / 3, static_cast<int>(i % 3))});
    std::stable_sort(corners.begin(), corners.end(),
                     [](const Corner& a, const Corner& b) { return a.position < b.position; });
    return corners;
}

/// All but normals and tangents: those are made anew.
bool is_like(const Mesh& a, std::size_t v, const Mesh& b, std::size_t w) {
    const auto same = [&](auto attribute) {
        return (b.*attribute).empty() || (a.*attribute)[v] == (b.*attribute)[w];
    };
    return same(&Mesh::uvs) && same(&Mesh::second_uvs) && same(&Mesh::colors);
}

}  // namespace

Mesh with_normals(const Mesh& mesh, double angle_rad) {
    const std::vector<Corner> corners = corners_by_position(mesh);
    const double least_cosine = std::cos(angle_rad);
    const std::vector<Vec3> normals = face_normals(mesh);

    Mesh out;
    out.submeshes = mesh.submeshes;
    out.indices.resize(mesh.indices.size());
    for (std::size_t i = 0; i < corners.size();) {
        std::size_t end = i;
        while (end < corners.size() && corners[end].position == corners[i].position) ++end;
        const std::size_t first_new = out.positions.size();
        for (std::size_t c = i; c < end; ++c) {
            Vec3 sum(0, 0, 0);
            for (std::size_t o = i; o < end; ++o)
                if (normals[corners[o].triangle].dot(normals[corners[c].triangle]) >= least_cosine)
                    sum += corners[o].weight * normals[corners[o].triangle];
            const Vec3f normal =
                sum.squaredNorm() > 0 ? Vec3f(sum.normalized().cast<float>()) : Vec3f(0, 0, 1);
            const std::uint32_t source = mesh.indices[corners[c].index];
            std::size_t v = first_new;
            while (v < out.positions.size() && !(out.normals[v] == normal && is_like(out, v, mesh, source)))
                ++v;
            if (v == out.positions.size()) {
                copy_vertex(mesh, source, out);
                out.normals.resize(out.positions.size());
                out.normals.back() = normal;
            }
            out.indices[corners[c].index] = static_cast<std::uint32_t>(v);
        }
        i = end;
    }
    out.tangents.clear();
    return out;
}

}  // namespace pivrak
