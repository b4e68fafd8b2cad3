#include "core/geometry/mesh/mesh_edit.h"

#include <algorithm>

#include "core/geometry/mesh/topology.h"

namespace pivrak {

void copy_vertex(const Mesh& from, std::size_t v, Mesh& to) {
    const std::size_t before = to.positions.size();
    to.positions.push_back(from.positions[v]);
    each_attribute([&](auto attribute, const auto& filler) {
        auto& into = to.*attribute;
        const auto& source = from.*attribute;
        if (source.empty() && into.empty()) return;
        into.resize(before, filler);
        into.push_back(source.empty() ? filler : source[v]);
    });
}

Vec4f turned_tangent(const Vec4f& tangent, const Frame& by) {
    Vec4f out = tangent;
    out.head<3>() = by.direction(tangent.head<3>().cast<double>()).cast<float>();
    return out;
}

namespace {

/// Normals of the faces round each vertex, for a mesh that has none.
std::vector<Vec3f> vertex_normals(const Mesh& mesh) {
    std::vector<Vec3> sums(mesh.positions.size(), Vec3(0, 0, 0));
    for (std::size_t t = 0; t < mesh.triangle_count(); ++t) {
        const Vec3 a = mesh.corner(t, 0), cross = (mesh.corner(t, 1) - a).cross(mesh.corner(t, 2) - a);
        for (std::size_t k = 0; k < 3; ++k) sums[mesh.indices[3 * t + k]] += cross;
    }
    std::vector<Vec3f> normals;
    normals.reserve(sums.size());
    for (const Vec3& sum : sums)
        normals.push_back(sum.squaredNorm() > 0 ? Vec3f(sum.normalized().cast<float>()) : Vec3f(0, 0, 1));
    return normals;
}

template <class T>
void append_attribute(std::vector<T>& into, std::size_t before, const std::vector<T>& source,
                      std::size_t count, const T& filler) {
    if (into.empty() && source.empty()) return;
    into.resize(before, filler);
    if (source.empty())
        into.resize(before + count, filler);
    else
        into.insert(into.end(), source.begin(), source.end());
}

/// Where pictures lie on one that has no tangents, those of the other say nothing of it: who shows them
/// makes all.
bool loses_tangents(const Mesh& a, const Mesh& b) {
    const auto lacks = [](const Mesh& mesh) { return mesh.tangents.empty() && !mesh.uvs.empty(); };
    return lacks(a) || lacks(b);
}

void add_run(Mesh& mesh, const Submesh& run) {
    if (run.index_count == 0) return;
    if (!mesh.submeshes.empty() && mesh.submeshes.back().material == run.material &&
        mesh.submeshes.back().group == run.group)
        mesh.submeshes.back().index_count += run.index_count;
    else
        mesh.submeshes.push_back(run);
}

}  // namespace

void append_mesh(Mesh& target, const Mesh& source, const Frame& target_from_source) {
    const auto first = static_cast<std::uint32_t>(target.positions.size());
    const auto first_index = static_cast<std::uint32_t>(target.indices.size());
    const std::size_t count = source.positions.size();
    if (target.normals.empty() && !source.normals.empty() && first > 0)
        target.normals = vertex_normals(target);
    const bool lost = loses_tangents(target, source);
    each_attribute([&](auto attribute, const auto& filler) {
        append_attribute(target.*attribute, first, source.*attribute, count, filler);
    });
    if (source.normals.empty() && !target.normals.empty())
        std::ranges::copy(vertex_normals(source), target.normals.begin() + first);
    for (std::size_t v = first; v < target.normals.size(); ++v)
        target.normals[v] = target_from_source.direction(target.normals[v].cast<double>()).cast<float>();
    for (std::size_t v = first; v < target.tangents.size(); ++v)
        target.tangents[v] = turned_tangent(target.tangents[v], target_from_source);
    if (lost) target.tangents.clear();
    for (const Vec3f& p : source.positions)
        target.positions.push_back(target_from_source.point(p.cast<double>()).cast<float>());
    for (const std::uint32_t i : source.indices) target.indices.push_back(first + i);
    if (source.submeshes.empty())
        add_run(target, {MaterialId{}, first_index, static_cast<std::uint32_t>(source.indices.size()), {}});
    for (Submesh run : source.submeshes) {
        run.first_index += first_index;
        add_run(target, run);
    }
}

Mesh scaled(const Mesh& mesh, double factor) {
    Mesh out = mesh;
    for (Vec3f& p : out.positions) p = (factor * p.cast<double>()).cast<float>();
    return out;
}

Mesh mirrored(const Mesh& mesh, const Vec3& normal) {
    Mesh out = mesh;
    const auto across = [&](Vec3f& v) {
        const Vec3 d = v.cast<double>();
        v = (d - 2 * d.dot(normal) * normal).cast<float>();
    };
    for (Vec3f& p : out.positions) across(p);
    for (Vec3f& n : out.normals) across(n);
    // Seen in a mirror, v lies on the other side of u.
    for (Vec4f& t : out.tangents) {
        Vec3f along = t.head<3>();
        across(along);
        t << along, -t.w();
    }
    for (std::size_t i = 0; i + 2 < out.indices.size(); i += 3)
        std::swap(out.indices[i + 1], out.indices[i + 2]);
    return out;
}

Mesh kept_triangles(const Mesh& mesh, const std::vector<bool>& keep) {
    std::vector<std::uint32_t> labels(mesh.triangle_count());
    for (std::size_t t = 0; t < labels.size(); ++t) labels[t] = keep[t] ? 0 : 1;
    return std::move(extract_labelled(mesh, labels, 2).front());
}

std::vector<MaterialId> triangle_materials(const Mesh& mesh) {
    std::vector<MaterialId> materials(mesh.triangle_count());
    for (const Submesh& run : mesh.submeshes)
        for (std::uint32_t t = run.first_index / 3; t < (run.first_index + run.index_count) / 3; ++t)
            materials[t] = run.material;
    return materials;
}

double enclosed_volume(const Mesh& mesh) {
    double six_times = 0;
    if (mesh.positions.empty()) return 0;
    // About a point of the surface, so that a part far from its origin loses no digits.
    const Vec3 origin = mesh.positions.front().cast<double>();
    for (std::size_t t = 0; t < mesh.triangle_count(); ++t)
        six_times +=
            (mesh.corner(t, 0) - origin).dot((mesh.corner(t, 1) - origin).cross(mesh.corner(t, 2) - origin));
    return six_times / 6;
}

double surface_area(const Mesh& mesh) {
    double area = 0;
    for (std::size_t t = 0; t < mesh.triangle_count(); ++t) area += triangle_area(mesh, t);
    return area;
}

}  // namespace pivrak
