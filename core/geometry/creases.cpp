#include "core/geometry/creases.h"

#include <algorithm>
#include <bit>
#include <cmath>
#include <numeric>
#include <unordered_map>

namespace pivrak {
namespace {

struct PositionHash {
    std::size_t operator()(const Vec3f& p) const {
        std::uint64_t h = 1469598103934665603ull;
        for (int k = 0; k < 3; ++k)
            h = (h ^ std::bit_cast<std::uint32_t>(p[k] + 0.0f)) * 0x9E3779B97F4A7C15ull;
        return static_cast<std::size_t>(h ^ (h >> 31));
    }
};

/// For every vertex the first vertex at exactly the same position.
std::vector<std::uint32_t> same_position(const std::vector<Vec3f>& positions) {
    std::unordered_map<Vec3f, std::uint32_t, PositionHash> first;
    first.reserve(positions.size());
    std::vector<std::uint32_t> owner(positions.size());
    for (std::uint32_t v = 0; v < positions.size(); ++v)
        owner[v] = first.try_emplace(positions[v], v).first->second;
    return owner;
}

Vec3 face_normal(const Mesh& mesh, std::size_t t) {
    const Vec3 cross = (mesh.corner(t, 1) - mesh.corner(t, 0)).cross(mesh.corner(t, 2) - mesh.corner(t, 0));
    const double length = cross.norm();
    return length > 0 ? Vec3(cross / length) : Vec3(0, 0, 0);
}

struct HalfEdge {
    std::uint64_t key;
    std::uint32_t triangle, from, to;
};

std::vector<HalfEdge> sorted_half_edges(const Mesh& mesh) {
    const std::vector<std::uint32_t> owner = same_position(mesh.positions);
    std::vector<HalfEdge> edges;
    edges.reserve(mesh.indices.size());
    for (std::uint32_t t = 0; t < mesh.triangle_count(); ++t)
        for (std::uint32_t k = 0; k < 3; ++k) {
            const std::uint32_t from = mesh.indices[3 * t + k], to = mesh.indices[3 * t + (k + 1) % 3];
            const std::uint64_t low = std::min(owner[from], owner[to]),
                                high = std::max(owner[from], owner[to]);
            if (low != high) edges.push_back({low << 32 | high, t, from, to});
        }
    std::sort(edges.begin(), edges.end(), [](const HalfEdge& a, const HalfEdge& b) {
        return a.key != b.key ? a.key < b.key : a.triangle < b.triangle;
    });
    return edges;
}

}  // namespace

std::vector<std::uint32_t> crease_edges(const Mesh& mesh, double angle_rad) {
    const std::vector<HalfEdge> edges = sorted_half_edges(mesh);
    const double least_cosine = std::cos(angle_rad);
    std::vector<std::uint32_t> lines;
    for (std::size_t i = 0; i < edges.size();) {
        std::size_t end = i;
        while (end < edges.size() && edges[end].key == edges[i].key) ++end;
        const bool smooth =
            end - i == 2 &&
            face_normal(mesh, edges[i].triangle).dot(face_normal(mesh, edges[i + 1].triangle)) >=
                least_cosine;
        if (!smooth) lines.insert(lines.end(), {edges[i].from, edges[i].to});
        i = end;
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
    const std::vector<std::uint32_t> owner = same_position(mesh.positions);
    std::vector<Corner> corners;
    corners.reserve(mesh.indices.size());
    for (std::uint32_t i = 0; i < mesh.indices.size(); ++i)
        corners.push_back(
            {owner[mesh.indices[i]], i / 3, i, corner_angle(mesh, i / 3, static_cast<int>(i % 3))});
    std::stable_sort(corners.begin(), corners.end(),
                     [](const Corner& a, const Corner& b) { return a.position < b.position; });
    return corners;
}

}  // namespace

Mesh with_normals(const Mesh& mesh, double angle_rad) {
    const std::vector<Corner> corners = corners_by_position(mesh);
    const double least_cosine = std::cos(angle_rad);
    std::vector<Vec3> normals(mesh.triangle_count());
    for (std::size_t t = 0; t < normals.size(); ++t) normals[t] = face_normal(mesh, t);

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
            while (v < out.positions.size() &&
                   !(out.normals[v] == normal && (mesh.uvs.empty() || out.uvs[v] == mesh.uvs[source])))
                ++v;
            if (v == out.positions.size()) {
                out.positions.push_back(mesh.positions[source]);
                out.normals.push_back(normal);
                if (!mesh.uvs.empty()) out.uvs.push_back(mesh.uvs[source]);
            }
            out.indices[corners[c].index] = static_cast<std::uint32_t>(v);
        }
        i = end;
    }
    return out;
}

}  // namespace pivrak
