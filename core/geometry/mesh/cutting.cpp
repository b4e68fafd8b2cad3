#include "core/geometry/mesh/cutting.h"

#include <algorithm>
#include <map>
#include <unordered_map>

#include "core/geometry/mesh/mesh_edit.h"
#include "core/geometry/mesh/topology.h"
#include "core/geometry/mesh/triangulate.h"

namespace pivrak {
namespace {

enum class Side : std::int8_t { Below = -1, On = 0, Above = 1 };

/// One half under construction. Vertices of the source are copied when first used; cut vertices are shared
/// along each edge.
class Half {
public:
    explicit Half(const Mesh& source) : source_(source), renumbered_(source.positions.size(), unused) {}

    struct Corner {
        std::uint32_t from, to;  ///< source vertices; equal for a vertex that was there before
        double share;            ///< way from `from` to `to`
        bool on_plane;
    };

    void add(const std::vector<Corner>& polygon, const Submesh& run) {
        std::vector<std::uint32_t> corners;
        for (const Corner& c : polygon) corners.push_back(vertex(c));
        for (std::size_t k = 1; k + 1 < corners.size(); ++k)
            add_triangle({corners[0], corners[k], corners[k + 1]}, run);
        for (std::size_t k = 0; k < polygon.size(); ++k) {
            const std::size_t next = (k + 1) % polygon.size();
            if (polygon[k].on_plane && polygon[next].on_plane)
                borders_.push_back({corners[k], corners[next], run.material});
        }
    }

    struct Border {
        std::uint32_t from, to;
        MaterialId material;
    };
    const std::vector<Border>& borders() const { return borders_; }
    Mesh& mesh() { return mesh_; }

    void add_triangle(const std::array<std::uint32_t, 3>& corners, const Submesh& run) {
        if (mesh_.submeshes.empty() || mesh_.submeshes.back().material != run.material ||
            mesh_.submeshes.back().group != run.group)
            mesh_.submeshes.push_back(
                {run.material, static_cast<std::uint32_t>(mesh_.indices.size()), 0, run.group});
        mesh_.indices.insert(mesh_.indices.end(), corners.begin(), corners.end());
        mesh_.submeshes.back().index_count += 3;
    }

private:
    static constexpr std::uint32_t unused = ~0u;

    std::uint32_t vertex(const Corner& c) {
        if (c.from == c.to) {
            if (renumbered_[c.from] == unused) {
                renumbered_[c.from] = static_cast<std::uint32_t>(mesh_.positions.size());
                copy_vertex(source_, c.from, mesh_);
            }
            return renumbered_[c.from];
        }
        const auto [known, added] =
            cut_.try_emplace({c.from, c.to}, static_cast<std::uint32_t>(mesh_.positions.size()));
        if (added) {
            copy_vertex(source_, c.from, mesh_);
            const auto mix = [&](auto& values, const auto& source) {
                if (source.empty()) return;
                values.back() =
                    source[c.from] + static_cast<float>(c.share) * (source[c.to] - source[c.from]);
            };
            // In double precision: a point between the same ends is the same, whichever triangle asks.
            mesh_.positions.back() =
                (source_.positions[c.from].cast<double>() +
                 c.share * (source_.positions[c.to] - source_.positions[c.from]).cast<double>())
                    .cast<float>();
            mix(mesh_.normals, source_.normals);
            if (!mesh_.normals.empty() && mesh_.normals.back().squaredNorm() > 0)
                mesh_.normals.back().normalize();
            mix(mesh_.uvs, source_.uvs);
            mix(mesh_.second_uvs, source_.second_uvs);
            mix(mesh_.colors, source_.colors);
            mix(mesh_.tangents, source_.tangents);
            if (!mesh_.tangents.empty()) {
                mesh_.tangents.back().head<3>().normalize();
                mesh_.tangents.back().w() = source_.tangents[c.from].w();
            }
        }
        return known->second;
    }

    const Mesh& source_;
    Mesh mesh_;
    std::vector<std::uint32_t> renumbered_;
    std::map<std::pair<std::uint32_t, std::uint32_t>, std::uint32_t> cut_;
    std::vector<Border> borders_;
};

/// Whether one place comes before another; any fixed order will do.
bool before(const Vec3f& a, const Vec3f& b) {
    return std::lexicographical_compare(a.data(), a.data() + 3, b.data(), b.data() + 3);
}

/// Loops that bound one stretch of matter: an outline and the holes in it.
struct LoopRegion {
    std::vector<std::size_t> loops;
    bool inside_out = false;
};

bool contains(const Loop& loop, const Vec2& p) {
    bool inside = false;
    for (std::size_t i = 0, j = loop.size() - 1; i < loop.size(); j = i++)
        if ((loop[i].y() > p.y()) != (loop[j].y() > p.y()) &&
            p.x() < loop[i].x() +
                        (p.y() - loop[i].y()) / (loop[j].y() - loop[i].y()) * (loop[j].x() - loop[i].x()))
            inside = !inside;
    return inside;
}

/// Each loop that runs counter-clockwise bounds matter of its own, even where bodies reach into each other;
/// one that runs the other way is a hole in the smallest of those around it, or, with none around, the
/// outline of a body whose faces look inwards.
std::vector<LoopRegion> loop_regions(const std::vector<Loop>& loops) {
    std::vector<LoopRegion> regions;
    std::vector<double> areas;
    std::map<std::size_t, std::size_t> region_of;
    for (std::size_t i = 0; i < loops.size(); ++i) {
        areas.push_back(doubled_area(loops[i]));
        if (areas[i] > 0) {
            region_of[i] = regions.size();
            regions.push_back({{i}});
        }
    }
    for (std::size_t i = 0; i < loops.size(); ++i) {
        if (areas[i] > 0) continue;
        std::size_t around = loops.size();
        for (std::size_t k = 0; k < loops.size(); ++k) {
            if (areas[k] <= -areas[i] || (around < loops.size() && areas[k] >= areas[around])) continue;
            const auto inside = std::count_if(loops[i].begin(), loops[i].end(),
                                              [&](const Vec2& p) { return contains(loops[k], p); });
            if (2 * static_cast<std::size_t>(inside) > loops[i].size()) around = k;
        }
        if (around < loops.size())
            regions[region_of[around]].loops.push_back(i);
        else
            regions.push_back({{i}, true});
    }
    return regions;
}

class Cutter {
public:
    Cutter(const Mesh& mesh, const Plane& plane, const CutOptions& options)
        : mesh_(mesh), plane_(plane), options_(options), above_(mesh), below_(mesh) {
        height_.reserve(mesh.positions.size());
        for (const Vec3f& p : mesh.positions) {
            const double h = plane.height(p.cast<double>());
            height_.push_back(std::abs(h) <= options.on_plane_m ? 0.0 : h);
        }
    }

    CutHalves run() {
        std::vector<Submesh> runs = mesh_.submeshes;
        if (runs.empty())
            runs.push_back({MaterialId{}, 0, static_cast<std::uint32_t>(mesh_.indices.size()), {}});
        for (const Submesh& run : runs)
            for (std::uint32_t i = run.first_index; i + 2 < run.first_index + run.index_count; i += 3)
                divide(i, run);
        CutHalves out;
        if (options_.cap) {
            cap(below_, plane_.normal, out);
            out.cap_loops = out.open_runs = 0;
            cap(above_, -plane_.normal, out);
        }
        out.above = std::move(above_.mesh());
        out.below = std::move(below_.mesh());
        return out;
    }

private:
    double height(std::uint32_t index) const { return height_[mesh_.indices[index]]; }

    void divide(std::uint32_t first, const Submesh& run) {
        const double h[3] = {height(first), height(first + 1), height(first + 2)};
        const bool any_above = h[0] > 0 || h[1] > 0 || h[2] > 0, any_below = h[0] < 0 || h[1] < 0 || h[2] < 0;
        if (!any_above && !any_below) return lie_in_plane(first, run);
        if (any_above) above_.add(clipped(first, 1), run);
        if (any_below) below_.add(clipped(first, -1), run);
    }

    /// A face in the plane bounds the half that its back looks at.
    void lie_in_plane(std::uint32_t first, const Submesh& run) {
        const std::size_t t = first / 3;
        const Vec3 a = mesh_.corner(t, 0), normal = (mesh_.corner(t, 1) - a).cross(mesh_.corner(t, 2) - a);
        Half& half = normal.dot(plane_.normal) > 0 ? below_ : above_;
        half.add(clipped(first, 0), run);
    }

    /// The part of a triangle on one side (or all of it, for side 0), as a polygon in the same direction.
    std::vector<Half::Corner> clipped(std::uint32_t first, int side) const {
        std::vector<Half::Corner> polygon;
        for (std::uint32_t k = 0; k < 3; ++k) {
            const std::uint32_t a = mesh_.indices[first + k], b = mesh_.indices[first + (k + 1) % 3];
            const double ha = height_[a], hb = height_[b];
            if (side == 0 || side * ha >= 0) polygon.push_back({a, a, 0, ha == 0});
            if (side != 0 && ha * hb < 0) {
                // Always from the same end, so that both triangles beside an edge get the same point.
                const bool forward = before(mesh_.positions[a], mesh_.positions[b]);
                const std::uint32_t from = forward ? a : b, to = forward ? b : a;
                polygon.push_back({from, to, height_[from] / (height_[from] - height_[to]), true});
            }
        }
        return polygon;
    }

    /// Closes a half. Its borders in the plane run with the half's faces, so the cap runs against them.
    void cap(Half& half, const Vec3& outward, CutHalves& report) {
        const WeldedPoints points = weld_points(half.mesh().positions);
        struct Step {
            std::uint32_t to;
            MaterialId material;
        };
        std::map<std::uint32_t, std::vector<Step>> steps;
        std::map<std::pair<std::uint32_t, std::uint32_t>, int> runs;
        for (const Half::Border& b : half.borders()) {
            const std::uint32_t from = points.of_vertex[b.from], to = points.of_vertex[b.to];
            if (from != to) ++runs[{from, to}];
        }
        std::map<MaterialId, std::size_t> beside;
        for (const Half::Border& b : half.borders()) {
            const std::uint32_t from = points.of_vertex[b.from], to = points.of_vertex[b.to];
            // Where two faces of one half meet in the plane there is nothing to close.
            if (from == to || runs.contains({to, from})) continue;
            steps[to].push_back({from, b.material});
            ++beside[b.material];
        }
        std::vector<std::vector<std::uint32_t>> loops;
        while (!steps.empty()) {
            std::vector<std::uint32_t> loop;
            const std::uint32_t start = steps.begin()->first;
            std::uint32_t at = start;
            bool closed = false;
            while (true) {
                const auto found = steps.find(at);
                if (found == steps.end()) break;
                loop.push_back(at);
                at = found->second.back().to;
                found->second.pop_back();
                if (found->second.empty()) steps.erase(found);
                if (at == start) {
                    closed = true;
                    break;
                }
            }
            if (closed && loop.size() > 2)
                loops.push_back(std::move(loop));
            else
                ++report.open_runs;
        }
        report.cap_loops += loops.size();
        MaterialId material = options_.cap_material;
        if (!material && !beside.empty())
            material = std::max_element(beside.begin(), beside.end(), [](const auto& a, const auto& b) {
                           return a.second < b.second;
                       })->first;
        fill(half, loops, points, outward, material);
    }

    void fill(Half& half, const std::vector<std::vector<std::uint32_t>>& loops, const WeldedPoints& points,
              const Vec3& outward, MaterialId material) {
        if (loops.empty()) return;
        const Vec3 u = any_perpendicular(outward), v = outward.cross(u);
        Vec4f tangent;
        tangent << u.cast<float>(), 1;
        Mesh& mesh = half.mesh();
        std::vector<Loop> flat;
        std::vector<std::vector<std::uint32_t>> vertices;
        for (const auto& loop : loops) {
            Loop outline;
            std::vector<std::uint32_t> own;
            for (const std::uint32_t point : loop) {
                const std::uint32_t source = points.first_vertex[point];
                const Vec3 p = mesh.positions[source].cast<double>() - plane_.point;
                outline.emplace_back(u.dot(p), v.dot(p));
                own.push_back(static_cast<std::uint32_t>(mesh.positions.size()));
                Mesh one;
                one.positions = {mesh.positions[source]};
                one.normals = {outward.cast<float>()};
                one.uvs = {outline.back().cast<float>()};
                if (!mesh.tangents.empty()) one.tangents = {tangent};
                copy_vertex(one, 0, mesh);
            }
            flat.push_back(std::move(outline));
            vertices.push_back(std::move(own));
        }
        for (const LoopRegion& region : loop_regions(flat)) {
            std::vector<Loop> outlines;
            std::vector<std::uint32_t> corners;
            for (const std::size_t loop : region.loops) {
                outlines.push_back(flat[loop]);
                corners.insert(corners.end(), vertices[loop].begin(), vertices[loop].end());
            }
            for (auto [a, b, c] : triangulate(outlines)) {
                if (region.inside_out) std::swap(b, c);
                half.add_triangle({corners[a], corners[b], corners[c]}, {material, 0, 0, {}});
            }
        }
    }

    const Mesh& mesh_;
    const Plane& plane_;
    const CutOptions& options_;
    std::vector<double> height_;
    Half above_, below_;
};

}  // namespace

CutHalves cut_mesh(const Mesh& mesh, const Plane& plane, const CutOptions& options) {
    return Cutter(mesh, plane, options).run();
}

}  // namespace pivrak
