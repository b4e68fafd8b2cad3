#include "app/view/merged_meshes.h"

#include <algorithm>
#include <cmath>

#include "core/geometry/mesh/creases.h"

namespace pivrak {
namespace {

/// Further apart than this two shapes do not lie alike [m, radians].
constexpr double alike_within = 1e-9;

bool lies_alike(const Frame& a, const Frame& b) {
    return (a.translation - b.translation).cwiseAbs().maxCoeff() < alike_within &&
           angle_between(a.rotation, b.rotation) < alike_within && std::abs(a.size - b.size) < alike_within;
}

bool is_alike(const MergedShape& a, const MergedShape& b) {
    return a.mesh == b.mesh && a.paint->colors == b.paint->colors &&
           lies_alike(a.merged_from_mesh, b.merged_from_mesh);
}

std::size_t hash_of(const std::vector<MergedShape>& shapes) {
    std::size_t hash = shapes.size();
    for (const MergedShape& shape : shapes) hash = hash * 31 + std::hash<const void*>()(shape.mesh.get());
    return hash;
}

/// A colour as a screen shows it, in the measure in which meshes keep theirs.
Vec4f as_mesh_color(const QColor& c) {
    const auto linear = [](float v) { return std::pow(v, 2.2f); };
    return {linear(c.redF()), linear(c.greenF()), linear(c.blueF()), 1};
}

/// Vertices of one shape in the mesh of several. Those of its own mesh come first, in their order; one that
/// two colours share comes again for the second.
class Appending {
public:
    Appending(const MergedShape& shape, Mesh& to)
        : shape_(shape), to_(to), first_(to.positions.size()), run_of_(shape.mesh->positions.size(), none) {
        for (std::size_t v = 0; v < run_of_.size(); ++v) add(v);
    }
    void paint(const Submesh& run, std::size_t number, const QColor& color) {
        const Vec4f shown = as_mesh_color(color);
        std::unordered_map<std::uint32_t, std::size_t> again;
        for (std::uint32_t i = 0; i < run.index_count; ++i) {
            const std::uint32_t v = shape_.mesh->indices[run.first_index + i];
            std::size_t at = first_ + v;
            if (run_of_[v] == none) {
                run_of_[v] = number;
                to_.colors[at] = to_.colors[at].cwiseProduct(shown);
            } else if (run_of_[v] != number) {
                const auto [known, is_new] = again.try_emplace(v, to_.positions.size());
                at = known->second;
                if (is_new) {
                    add(v);
                    to_.colors[at] = to_.colors[at].cwiseProduct(shown);
                }
            }
            to_.indices.push_back(static_cast<std::uint32_t>(at));
        }
    }

private:
    static constexpr std::size_t none = ~std::size_t{0};
    void add(std::size_t v) {
        const Mesh& mesh = *shape_.mesh;
        const Frame& at = shape_.merged_from_mesh;
        const Vec3 normal = mesh.normals.empty() ? Vec3(Vec3::UnitZ()) : mesh.normals[v].cast<double>();
        to_.positions.push_back(at.point(mesh.positions[v].cast<double>()).cast<float>());
        to_.normals.push_back(at.direction(normal).cast<float>());
        to_.colors.push_back(mesh.colors.empty() ? Vec4f(1, 1, 1, 1) : mesh.colors[v]);
    }

    const MergedShape& shape_;
    Mesh& to_;
    std::size_t first_;
    std::vector<std::size_t> run_of_;
};

void append(const MergedShape& shape, Mesh& to) {
    Appending appending(shape, to);
    const std::vector<QColor>& colors = shape.paint->colors;
    const std::vector<Submesh>& runs = shape.mesh->submeshes;
    if (colors.size() == 1 || runs.empty()) {
        const auto all = static_cast<std::uint32_t>(shape.mesh->indices.size());
        return appending.paint({{}, 0, all, {}}, 0, colors.front());
    }
    for (std::size_t s = 0; s < runs.size(); ++s)
        appending.paint(runs[s], s, colors[std::min(s, colors.size() - 1)]);
}

}  // namespace

void MergedMeshes::begin() {
    for (auto& [hash, known] : known_) known.asked = false;
    for (auto& [mesh, edges] : edges_) edges.asked = false;
}

MergedMesh MergedMeshes::of(const std::vector<MergedShape>& shapes) {
    const std::size_t hash = hash_of(shapes);
    const auto [from, to] = known_.equal_range(hash);
    for (auto at = from; at != to; ++at)
        if (std::ranges::equal(at->second.shapes, shapes, is_alike)) {
            at->second.asked = true;
            for (const MergedShape& shape : shapes) edgesOf(shape.mesh);
            return at->second.merged;
        }
    return known_.emplace(hash, Known{shapes, make(shapes)})->second.merged;
}

MergedMesh MergedMeshes::make(const std::vector<MergedShape>& shapes) {
    auto mesh = std::make_shared<Mesh>();
    auto edges = std::make_shared<std::vector<std::uint32_t>>();
    for (const MergedShape& shape : shapes) {
        const auto first = static_cast<std::uint32_t>(mesh->positions.size());
        append(shape, *mesh);
        for (const std::uint32_t index : edgesOf(shape.mesh)) edges->push_back(first + index);
    }
    return {mesh, edges};
}

const std::vector<std::uint32_t>& MergedMeshes::edgesOf(const std::shared_ptr<const Mesh>& mesh) {
    Edges& known = edges_[mesh.get()];
    if (!known.mesh) known = {mesh, crease_edges(*mesh)};
    known.asked = true;
    return known.indices;
}

void MergedMeshes::forget_others() {
    std::erase_if(known_, [](const auto& entry) { return !entry.second.asked; });
    std::erase_if(edges_, [](const auto& entry) { return !entry.second.asked; });
}

}  // namespace pivrak
