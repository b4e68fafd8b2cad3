#include "core/io/import/import_vertices.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/io/import/import_materials.h"

namespace pivrak {
namespace {

/// The reader turns pictures upside down against glTF, whose v runs downwards from the top.
void append_uvs(const aiMesh& source, unsigned set, std::size_t first, std::size_t count,
                std::vector<Vec2f>& uvs) {
    if (!source.HasTextureCoords(set) && uvs.empty()) return;
    uvs.resize(first + count, Vec2f(0, 0));
    if (!source.HasTextureCoords(set)) return;
    for (std::size_t v = 0; v < count; ++v) {
        const aiVector3D& uv = source.mTextureCoords[set][v];
        if (std::isfinite(uv.x) && std::isfinite(uv.y)) uvs[first + v] = Vec2f(uv.x, 1.f - uv.y);
    }
}

void append_colors(const aiMesh& source, std::size_t first, bool linear_colors, Mesh& mesh) {
    if (!source.HasVertexColors(0) && mesh.colors.empty()) return;
    mesh.colors.resize(mesh.positions.size(), Vec4f(1, 1, 1, 1));
    if (!source.HasVertexColors(0)) return;
    const auto component = [&](float c) {
        const double value = std::isfinite(c) ? std::clamp(static_cast<double>(c), 0.0, 1.0) : 1.0;
        return static_cast<float>(linear_colors ? value : linear_from_screen(value));
    };
    for (std::size_t v = 0; v < source.mNumVertices; ++v) {
        const aiColor4D& c = source.mColors[0][v];
        const float opacity = std::isfinite(c.a) ? std::clamp(c.a, 0.f, 1.f) : 1.f;
        mesh.colors[first + v] = Vec4f(component(c.r), component(c.g), component(c.b), opacity);
    }
}

/// Normals follow the inverse transpose of the stretch (a mirror turns them with the faces).
void append_normals(const aiMesh& source, const Mat3& stretch, std::size_t first, Mesh& mesh) {
    const std::size_t count = source.mNumVertices;
    if (!source.HasNormals() || (first > 0 && mesh.normals.empty())) {
        mesh.normals.clear();
        return;
    }
    // A stretch that flattens a part has no inverse; cofactors still give the right directions.
    Mat3 cofactor;
    cofactor.col(0) = stretch.col(1).cross(stretch.col(2));
    cofactor.col(1) = stretch.col(2).cross(stretch.col(0));
    cofactor.col(2) = stretch.col(0).cross(stretch.col(1));
    const double sign = stretch.determinant() < 0 ? -1 : 1;
    mesh.normals.resize(first + count);
    for (std::size_t v = 0; v < count; ++v) {
        const aiVector3D& n = source.mNormals[v];
        const Vec3 turned = sign * (cofactor * Vec3(n.x, n.y, n.z));
        const double length = turned.norm();
        mesh.normals[first + v] =
            std::isfinite(length) && length > 0 ? Vec3f((turned / length).cast<float>()) : Vec3f(0, 0, 1);
    }
}

/// The reader has two directions where the file has one and a side. Without normals they mean nothing, and
/// where a run of the mesh lacks them, who shows its pictures makes them for all.
void append_tangents(const aiMesh& source, const Mat3& stretch, std::size_t first, Mesh& mesh) {
    const std::size_t count = source.mNumVertices;
    if (!source.HasTangentsAndBitangents() || mesh.normals.empty() || (first > 0 && mesh.tangents.empty())) {
        mesh.tangents.clear();
        return;
    }
    mesh.tangents.resize(first + count);
    const double mirror = stretch.determinant() < 0 ? -1 : 1;
    for (std::size_t v = 0; v < count; ++v) {
        const auto vector = [](const aiVector3D& a) { return Vec3(a.x, a.y, a.z); };
        const Vec3 along = vector(source.mTangents[v]), side = vector(source.mNormals[v]).cross(along),
                   turned = stretch * along;
        const double length = turned.norm();
        Vec4f& out = mesh.tangents[first + v];
        out << (std::isfinite(length) && length > 0 ? Vec3f((turned / length).cast<float>())
                                                    : Vec3f(1, 0, 0)),
            static_cast<float>(side.dot(vector(source.mBitangents[v])) < 0 ? -mirror : mirror);
    }
}

}  // namespace

Result<void> append_vertices(const aiMesh& source, const std::string& name, const Mat3& stretch,
                             bool linear_colors, Mesh& mesh) {
    const std::size_t first = mesh.positions.size(), count = source.mNumVertices;
    mesh.positions.resize(first + count);
    for (std::size_t v = 0; v < count; ++v) {
        const aiVector3D& p = source.mVertices[v];
        const Vec3f placed = (stretch * Vec3(p.x, p.y, p.z)).cast<float>();
        if (!placed.allFinite())
            return Error{"import.not_finite",
                         fmt::format("mesh '{}', vertex {}: ({}, {}, {}) is not a finite place", name, v, p.x,
                                     p.y, p.z),
                         name};
        mesh.positions[first + v] = placed;
    }
    append_normals(source, stretch, first, mesh);
    append_uvs(source, 0, first, count, mesh.uvs);
    append_uvs(source, 1, first, count, mesh.second_uvs);
    append_tangents(source, stretch, first, mesh);
    append_colors(source, first, linear_colors, mesh);
    return {};
}

}  // namespace pivrak
