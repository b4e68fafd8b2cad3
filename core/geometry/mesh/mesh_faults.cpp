#include "core/geometry/mesh/mesh_faults.h"

#include <algorithm>
#include <array>
#include <set>

#include "core/geometry/mesh/mesh_edit.h"
#include "core/geometry/mesh/regions.h"

namespace pivrak {
namespace {

/// Faces without area and second copies of faces. Those take part in nothing else.
struct Sorted {
    std::vector<bool> zero, doubled;
    std::size_t zero_count = 0, doubled_count = 0;
    bool plain(std::size_t t) const { return !zero[t] && !doubled[t]; }
};

Sorted sort_faces(const Mesh& mesh, const MeshTopology& topology) {
    Sorted sorted{std::vector<bool>(mesh.triangle_count()), std::vector<bool>(mesh.triangle_count())};
    struct Keyed {
        std::array<std::uint32_t, 3> points;
        std::uint32_t triangle;
    };
    std::vector<Keyed> keyed;
    for (std::uint32_t t = 0; t < mesh.triangle_count(); ++t) {
        std::array<std::uint32_t, 3> p{topology.point(mesh, 3 * t), topology.point(mesh, 3 * t + 1),
                                       topology.point(mesh, 3 * t + 2)};
        const Vec3 a = mesh.corner(t, 0), b = mesh.corner(t, 1), c = mesh.corner(t, 2);
        const double longest =
            std::max({(b - a).squaredNorm(), (c - b).squaredNorm(), (a - c).squaredNorm()});
        // Thinner than a ten-millionth of its length is what single precision makes of a line.
        if (p[0] == p[1] || p[1] == p[2] || p[2] == p[0] || (b - a).cross(c - a).norm() <= 1e-7 * longest) {
            sorted.zero[t] = true;
            ++sorted.zero_count;
            continue;
        }
        std::sort(p.begin(), p.end());
        keyed.push_back({p, t});
    }
    std::sort(keyed.begin(), keyed.end(), [](const Keyed& a, const Keyed& b) {
        return a.points != b.points ? a.points < b.points : a.triangle < b.triangle;
    });
    for (std::size_t i = 1; i < keyed.size(); ++i)
        if (keyed[i].points == keyed[i - 1].points) {
            sorted.doubled[keyed[i].triangle] = true;
            ++sorted.doubled_count;
        }
    return sorted;
}

/// Plain sides of an edge.
std::vector<std::uint32_t> plain_sides(const MeshTopology& topology, const MeshTopology::Edge& edge,
                                       const Sorted& sorted) {
    std::vector<std::uint32_t> sides;
    for (const std::uint32_t* side = topology.begin(edge); side != topology.end(edge); ++side)
        if (sorted.plain(*side / 3)) sides.push_back(*side);
    return sides;
}

/// A connected surface: which of its faces run one way and which the other, and whether it is closed.
struct Surface {
    std::vector<std::uint32_t> one_way, other_way;
    bool closed = true, orientable = true;
};

std::vector<Surface> surfaces_of(const Mesh& mesh, const MeshTopology& topology, const Sorted& sorted) {
    enum : std::uint8_t { unseen, kept, turned };
    std::vector<std::uint8_t> state(mesh.triangle_count(), unseen);
    std::vector<Surface> surfaces;
    std::vector<std::uint32_t> pending;
    for (std::uint32_t start = 0; start < state.size(); ++start) {
        if (state[start] != unseen || !sorted.plain(start)) continue;
        Surface surface;
        state[start] = kept;
        pending.push_back(start);
        while (!pending.empty()) {
            const std::uint32_t t = pending.back();
            pending.pop_back();
            (state[t] == kept ? surface.one_way : surface.other_way).push_back(t);
            for (std::uint32_t side = 3 * t; side < 3 * t + 3; ++side) {
                const std::uint32_t e = topology.edge_of_side[side];
                if (e == MeshTopology::no_edge) continue;
                const auto sides = plain_sides(topology, topology.edges[e], sorted);
                if (sides.size() != 2) {
                    surface.closed = false;
                    continue;
                }
                const std::uint32_t other = sides[0] == side ? sides[1] : sides[0];
                // Neighbours that agree run along their edge in opposite directions.
                const bool agree = topology.point(mesh, side) != topology.point(mesh, other);
                const std::uint8_t wanted =
                    agree ? state[t] : static_cast<std::uint8_t>(kept + turned - state[t]);
                if (state[other / 3] == unseen) {
                    state[other / 3] = wanted;
                    pending.push_back(other / 3);
                } else if (state[other / 3] != wanted) {
                    surface.orientable = false;
                }
            }
        }
        if (surface.other_way.size() > surface.one_way.size()) std::swap(surface.one_way, surface.other_way);
        surfaces.push_back(std::move(surface));
    }
    return surfaces;
}

double volume_of(const Mesh& mesh, const Surface& surface) {
    double six_times = 0;
    const Vec3 origin = mesh.corner(surface.one_way.front(), 0);
    const auto add = [&](std::uint32_t t, double sign) {
        six_times +=
            sign *
            (mesh.corner(t, 0) - origin).dot((mesh.corner(t, 1) - origin).cross(mesh.corner(t, 2) - origin));
    };
    for (const std::uint32_t t : surface.one_way) add(t, 1);
    for (const std::uint32_t t : surface.other_way) add(t, -1);
    return six_times / 6;
}

/// A box inside a box is a hollow: its surface rightly looks inwards.
bool lies_in_another(const Mesh& mesh, const std::vector<Surface>& surfaces, std::size_t which) {
    const auto bounds = [&](const Surface& surface) {
        Bounds b;
        for (const auto* list : {&surface.one_way, &surface.other_way})
            for (const std::uint32_t t : *list)
                for (int k = 0; k < 3; ++k) b.add(mesh.corner(t, k));
        return b;
    };
    const Bounds mine = bounds(surfaces[which]);
    for (std::size_t i = 0; i < surfaces.size(); ++i) {
        if (i == which || !surfaces[i].closed) continue;
        const Bounds other = bounds(surfaces[i]);
        if ((other.min.array() < mine.min.array()).all() && (other.max.array() > mine.max.array()).all())
            return true;
    }
    return false;
}

bool looks_inwards(const Mesh& mesh, const std::vector<Surface>& surfaces, std::size_t which) {
    const Surface& s = surfaces[which];
    return s.closed && s.orientable && volume_of(mesh, s) < 0 && !lies_in_another(mesh, surfaces, which);
}

}  // namespace

MeshFaults mesh_faults(const Mesh& mesh) {
    const MeshTopology topology = mesh_topology(mesh);
    const Sorted sorted = sort_faces(mesh, topology);
    MeshFaults faults;
    faults.zero_area_faces = sorted.zero_count;
    faults.doubled_faces = sorted.doubled_count;
    for (const MeshTopology::Edge& edge : topology.edges) {
        const std::size_t sides = plain_sides(topology, edge, sorted).size();
        if (sides > 2) ++faults.crowded_edges;
        if (sides != 1) continue;
        ++faults.open_edges;
        faults.open_length_m += (mesh.positions[topology.points.first_vertex[edge.low]] -
                                 mesh.positions[topology.points.first_vertex[edge.high]])
                                    .cast<double>()
                                    .norm();
    }
    const std::vector<Surface> surfaces = surfaces_of(mesh, topology, sorted);
    for (std::size_t i = 0; i < surfaces.size(); ++i) {
        faults.turned_faces += surfaces[i].orientable ? surfaces[i].other_way.size() : 0;
        faults.inside_out |= looks_inwards(mesh, surfaces, i);
    }
    return faults;
}

Mesh repaired(const Mesh& mesh) {
    const MeshTopology topology = mesh_topology(mesh);
    const Sorted sorted = sort_faces(mesh, topology);
    const std::vector<Surface> surfaces = surfaces_of(mesh, topology, sorted);
    std::vector<bool> turn(mesh.triangle_count(), false);
    for (std::size_t i = 0; i < surfaces.size(); ++i) {
        const bool inwards = looks_inwards(mesh, surfaces, i);
        if (surfaces[i].orientable)
            for (const std::uint32_t t : surfaces[i].other_way) turn[t] = true;
        if (inwards)
            for (const auto* list : {&surfaces[i].one_way, &surfaces[i].other_way})
                for (const std::uint32_t t : *list) turn[t] = !turn[t];
    }
    Mesh out = mesh;
    for (std::size_t t = 0; t < turn.size(); ++t) {
        if (!turn[t]) continue;
        for (std::size_t k = 0; k < 3; ++k) {
            const std::uint32_t v = out.indices[3 * t + k];
            out.indices[3 * t + k] = static_cast<std::uint32_t>(out.positions.size());
            copy_vertex(mesh, v, out);
            if (!out.normals.empty()) out.normals.back() = -out.normals.back();
            if (!out.tangents.empty()) out.tangents.back().w() *= -1;
        }
        std::swap(out.indices[3 * t + 1], out.indices[3 * t + 2]);
    }
    std::vector<bool> keep(mesh.triangle_count());
    for (std::size_t t = 0; t < keep.size(); ++t) keep[t] = sorted.plain(t);
    return kept_triangles(out, keep);
}

}  // namespace pivrak
