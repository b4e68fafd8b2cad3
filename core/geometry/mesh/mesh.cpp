#include "core/geometry/mesh/mesh.h"

#include <limits>

#include "core/geometry/mesh/mesh_edit.h"

namespace pivrak {

bool has_whole_attributes(const Mesh& mesh) {
    bool whole = true;
    each_attribute([&](auto attribute, const auto&) {
        whole &= (mesh.*attribute).empty() || (mesh.*attribute).size() == mesh.positions.size();
    });
    return whole;
}

Bounds mesh_bounds(const Mesh& mesh, const Frame& target_from_mesh) {
    Bounds bounds;
    for (const Vec3f& p : mesh.positions) bounds.add(target_from_mesh.point(p.cast<double>()));
    return bounds;
}

Mesh transformed(const Mesh& mesh, const Frame& target_from_mesh) {
    Mesh out = mesh;
    for (Vec3f& p : out.positions) p = target_from_mesh.point(p.cast<double>()).cast<float>();
    for (Vec3f& n : out.normals) n = target_from_mesh.direction(n.cast<double>()).cast<float>();
    for (Vec4f& t : out.tangents) t = turned_tangent(t, target_from_mesh);
    return out;
}

namespace {

constexpr std::uint32_t unused = std::numeric_limits<std::uint32_t>::max();

/// Triangle indices sorted by label, and where each label's run starts (counting sort, stable).
struct Buckets {
    std::vector<std::uint32_t> start;
    std::vector<std::uint32_t> triangles;
};

Buckets bucket_by_label(const std::vector<std::uint32_t>& labels, std::uint32_t count) {
    Buckets b;
    b.start.assign(count + 1, 0);
    for (const std::uint32_t label : labels) ++b.start[label + 1];
    for (std::uint32_t i = 0; i < count; ++i) b.start[i + 1] += b.start[i];
    b.triangles.resize(labels.size());
    std::vector<std::uint32_t> next(b.start.begin(), b.start.end() - 1);
    for (std::uint32_t t = 0; t < labels.size(); ++t) b.triangles[next[labels[t]]++] = t;
    return b;
}

std::vector<std::uint32_t> submesh_of_triangles(const Mesh& mesh) {
    std::vector<std::uint32_t> owner(mesh.triangle_count(), 0);
    for (std::uint32_t s = 0; s < mesh.submeshes.size(); ++s) {
        const Submesh& sub = mesh.submeshes[s];
        for (std::uint32_t t = sub.first_index / 3; t < (sub.first_index + sub.index_count) / 3; ++t)
            owner[t] = s;
    }
    return owner;
}

/// Appends vertices and triangles of one source to one piece, renumbering as it goes.
class PieceBuilder {
public:
    PieceBuilder(const Mesh& source, std::vector<std::uint32_t>& renumbered)
        : source_(source), renumbered_(renumbered) {}

    void add_triangle(std::uint32_t triangle, const Submesh& run) {
        if (piece_.submeshes.empty() || piece_.submeshes.back().material != run.material ||
            piece_.submeshes.back().group != run.group)
            piece_.submeshes.push_back(
                {run.material, static_cast<std::uint32_t>(piece_.indices.size()), 0, run.group});
        for (int k = 0; k < 3; ++k)
            piece_.indices.push_back(
                vertex(source_.indices[3 * std::size_t{triangle} + static_cast<std::size_t>(k)]));
        piece_.submeshes.back().index_count += 3;
    }

    Mesh finish() {
        for (const std::uint32_t v : used_) renumbered_[v] = unused;
        return std::move(piece_);
    }

private:
    std::uint32_t vertex(std::uint32_t v) {
        if (renumbered_[v] == unused) {
            renumbered_[v] = static_cast<std::uint32_t>(piece_.positions.size());
            used_.push_back(v);
            copy_vertex(source_, v, piece_);
        }
        return renumbered_[v];
    }

    const Mesh& source_;
    std::vector<std::uint32_t>& renumbered_;
    std::vector<std::uint32_t> used_;
    Mesh piece_;
};

}  // namespace

std::vector<Mesh> extract_labelled(const Mesh& mesh, const std::vector<std::uint32_t>& label_of_triangle,
                                   std::uint32_t label_count) {
    const Buckets buckets = bucket_by_label(label_of_triangle, label_count);
    const std::vector<std::uint32_t> submesh = submesh_of_triangles(mesh);
    std::vector<std::uint32_t> renumbered(mesh.positions.size(), unused);
    std::vector<Mesh> pieces;
    pieces.reserve(label_count);
    for (std::uint32_t label = 0; label < label_count; ++label) {
        PieceBuilder builder(mesh, renumbered);
        for (std::uint32_t i = buckets.start[label]; i < buckets.start[label + 1]; ++i) {
            const std::uint32_t t = buckets.triangles[i];
            builder.add_triangle(t, mesh.submeshes.empty() ? Submesh{} : mesh.submeshes[submesh[t]]);
        }
        pieces.push_back(builder.finish());
    }
    return pieces;
}

}  // namespace pivrak
