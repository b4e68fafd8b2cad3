// Sources: rigid alignment of matched points by singular values (Umeyama 1991).
#include "core/geometry/fits/repeats.h"

#include <Eigen/Dense>
#include <algorithm>
#include <array>
#include <cmath>
#include <map>
#include <numeric>
#include <unordered_map>
#include <unordered_set>

#include "core/geometry/mesh/mesh_edit.h"
#include "core/geometry/mesh/topology.h"

namespace pivrak {
namespace {

/// Finds points near a place: points sorted by the key of their cell, so that a cell is one run.
class PointGrid {
public:
    PointGrid(const std::vector<Vec3>& points, double reach)
        : points_(points), cell_(std::max(2 * reach, spacing(points))), reach_(reach) {
        entries_.reserve(points.size());
        for (std::uint32_t i = 0; i < points.size(); ++i) entries_.push_back({key(home(points[i])), i});
        std::sort(entries_.begin(), entries_.end());
    }
    /// The nearest point within reach, or none.
    std::optional<std::uint32_t> near(const Vec3& p) const {
        std::optional<std::uint32_t> best;
        double nearest = reach_ * reach_;
        const Cell low = home(p - Vec3::Constant(reach_)), high = home(p + Vec3::Constant(reach_));
        for (std::int64_t x = low[0]; x <= high[0]; ++x)
            for (std::int64_t y = low[1]; y <= high[1]; ++y)
                for (std::int64_t z = low[2]; z <= high[2]; ++z) look(key({x, y, z}), p, nearest, best);
        return best;
    }

private:
    using Cell = std::array<std::int64_t, 3>;
    /// Cells much wider than the reach are seldom crossed; about one point a cell keeps runs short.
    static double spacing(const std::vector<Vec3>& points) {
        double reach = 0;
        for (const Vec3& p : points) reach = std::max(reach, p.cwiseAbs().maxCoeff());
        return 2 * reach / std::max(1.0, std::sqrt(static_cast<double>(points.size())));
    }
    void look(std::uint64_t cell, const Vec3& p, double& nearest, std::optional<std::uint32_t>& best) const {
        auto at = std::lower_bound(entries_.begin(), entries_.end(), std::pair(cell, std::uint32_t{0}));
        for (; at != entries_.end() && at->first == cell; ++at) {
            const double squared = (points_[at->second] - p).squaredNorm();
            if (squared > nearest) continue;
            nearest = squared;
            best = at->second;
        }
    }
    Cell home(const Vec3& p) const {
        return {static_cast<std::int64_t>(std::floor(p.x() / cell_)),
                static_cast<std::int64_t>(std::floor(p.y() / cell_)),
                static_cast<std::int64_t>(std::floor(p.z() / cell_))};
    }
    static std::uint64_t key(const Cell& c) {
        return static_cast<std::uint64_t>(c[0]) * 0x9E3779B97F4A7C15ull ^
               static_cast<std::uint64_t>(c[1]) * 0xC2B2AE3D27D4EB4Full ^
               static_cast<std::uint64_t>(c[2]) * 0x165667B19E3779F9ull;
    }
    const std::vector<Vec3>& points_;
    double cell_, reach_;
    std::vector<std::pair<std::uint64_t, std::uint32_t>> entries_;
};

/// A triangle by its points, turned so that the smallest stands first; direction kept.
using Face = std::array<std::uint32_t, 3>;
Face rotated(Face f) {
    const auto smallest = std::min_element(f.begin(), f.end());
    std::rotate(f.begin(), smallest, f.end());
    return f;
}
struct FaceHash {
    std::size_t operator()(const Face& f) const {
        return (f[0] * 0x9E3779B97F4A7C15ull) ^ (f[1] * 0xC2B2AE3D27D4EB4Full) ^
               (f[2] * 0x165667B19E3779F9ull);
    }
};

/// A mesh as what no rigid motion changes: points about their centroid, their distances from it, triangles.
struct Body {
    const Mesh* mesh;
    WeldedPoints welded;
    Vec3 centroid{0, 0, 0};
    std::vector<Vec3> points;   ///< from the centroid
    std::vector<double> radii;  ///< of each point
    std::vector<double> sorted_radii;
    double area = 0, volume = 0, reach = 0;
    std::vector<std::size_t> material_counts;
    std::vector<MaterialId> materials;  ///< of each triangle

    explicit Body(const Mesh& m)
        : mesh(&m), welded(weld_points(m.positions)), materials(triangle_materials(m)) {
        for (const std::uint32_t v : welded.first_vertex) points.push_back(m.positions[v].cast<double>());
        for (const Vec3& p : points) centroid += p;
        if (!points.empty()) centroid /= static_cast<double>(points.size());
        for (Vec3& p : points) p -= centroid;
        for (const Vec3& p : points) radii.push_back(p.norm());
        sorted_radii = radii;
        std::sort(sorted_radii.begin(), sorted_radii.end());
        reach = sorted_radii.empty() ? 0 : sorted_radii.back();
        area = surface_area(m);
        volume = std::abs(enclosed_volume(m));
        std::map<MaterialId, std::size_t> counts;
        for (const MaterialId id : materials) ++counts[id];
        for (const auto& [id, count] : counts) {
            material_counts.push_back(id.value);
            material_counts.push_back(count);
        }
    }
    std::uint32_t point(std::size_t corner) const { return welded.of_vertex[mesh->indices[corner]]; }
    bool may_equal(const Body& other, double tolerance) const {
        if (points.size() != other.points.size() || mesh->indices.size() != other.mesh->indices.size())
            return false;
        if (material_counts != other.material_counts) return false;
        const double slack = 8 * tolerance * (reach + tolerance);
        if (std::abs(area - other.area) > slack + 1e-4 * area) return false;
        for (std::size_t i = 0; i < sorted_radii.size(); ++i)
            if (std::abs(sorted_radii[i] - other.sorted_radii[i]) > 2 * tolerance) return false;
        return true;
    }
};

/// Looks for the motion that takes one body onto another.
class Aligner {
public:
    Aligner(const Body& source, const Body& target, const RepeatOptions& options)
        : a_(source), b_(target), options_(options) {}

    std::optional<Alignment> run() {
        if (a_.points.size() < 3 || !choose_anchors()) return std::nullopt;
        if (auto found = in_order()) return found;
        // Copies mostly keep their order: that guess first, then all others.
        for (const bool mirror : {false, true}) {
            if (auto found = try_pair(first_, second_, mirror)) return found;
            for (std::uint32_t i = 0; i < b_.points.size(); ++i) {
                if (std::abs(b_.radii[i] - a_.radii[first_]) > 2 * options_.tolerance_m) continue;
                for (std::uint32_t j = 0; j < b_.points.size(); ++j)
                    if (auto found = try_pair(i, j, mirror)) return found;
            }
        }
        return std::nullopt;
    }

private:
    /// Baked copies of one mesh keep every number: then all points at once give the motion.
    std::optional<Alignment> in_order() const {
        if (a_.mesh->indices != b_.mesh->indices || a_.welded.of_vertex != b_.welded.of_vertex ||
            a_.materials != b_.materials ||
            (options_.compare_uvs &&
             (a_.mesh->uvs != b_.mesh->uvs || a_.mesh->second_uvs != b_.mesh->second_uvs)))
            return std::nullopt;
        std::vector<std::uint32_t> match(a_.points.size());
        std::iota(match.begin(), match.end(), 0);
        Mat3 turn = Mat3::Identity();
        Vec3 shift(0, 0, 0);
        fit(match, turn, shift, false);
        const Alignment found = finished(match, turn, shift, false);
        return found.deviation_m <= options_.tolerance_m ? std::optional(found) : std::nullopt;
    }

    /// Two points that fix a direction and a turn: from the rarest distances, well apart from each other.
    bool choose_anchors() {
        const double tolerance = options_.tolerance_m;
        const auto alike = [&](double radius) {
            const auto low =
                std::lower_bound(a_.sorted_radii.begin(), a_.sorted_radii.end(), radius - 2 * tolerance);
            const auto high = std::upper_bound(low, a_.sorted_radii.end(), radius + 2 * tolerance);
            return high - low;
        };
        std::vector<std::ptrdiff_t> rarity(a_.points.size());
        for (std::size_t i = 0; i < rarity.size(); ++i) rarity[i] = alike(a_.radii[i]);
        const auto pick = [&](auto fits) -> std::optional<std::uint32_t> {
            std::optional<std::uint32_t> best;
            for (std::uint32_t i = 0; i < rarity.size(); ++i)
                if (fits(i) && (!best || rarity[i] < rarity[*best])) best = i;
            return best;
        };
        for (const double apart : {0.3, 0.05, 1e-3}) {
            const auto first = pick([&](std::uint32_t i) { return a_.radii[i] > apart * a_.reach; });
            if (!first) continue;
            const Vec3& p = a_.points[*first];
            const auto second = pick(
                [&](std::uint32_t i) { return p.cross(a_.points[i]).norm() > apart * p.norm() * a_.reach; });
            if (!second) continue;
            first_ = *first;
            second_ = *second;
            return true;
        }
        return false;
    }

    /// Axes along one point, across to the other, and at a right angle to both.
    static Mat3 axes(const Vec3& p, const Vec3& q) {
        Mat3 m;
        m.col(0) = p.normalized();
        m.col(2) = p.cross(q).normalized();
        m.col(1) = m.col(2).cross(m.col(0));
        return m;
    }

    std::optional<Alignment> try_pair(std::uint32_t i, std::uint32_t j, bool mirror) {
        const double tolerance = options_.tolerance_m;
        if (i >= b_.points.size() || j >= b_.points.size() || i == j) return std::nullopt;
        if (std::abs(b_.radii[i] - a_.radii[first_]) > 2 * tolerance ||
            std::abs(b_.radii[j] - a_.radii[second_]) > 2 * tolerance ||
            std::abs((b_.points[i] - b_.points[j]).norm() - (a_.points[first_] - a_.points[second_]).norm()) >
                4 * tolerance)
            return std::nullopt;
        Mat3 target = axes(b_.points[i], b_.points[j]);
        if (mirror) target.col(2) = -target.col(2);
        Mat3 turn = target * axes(a_.points[first_], a_.points[second_]).transpose();
        Vec3 shift(0, 0, 0);
        std::vector<std::uint32_t> match;
        // Two anchors place far points roughly; all of them together place each well.
        const double rough = std::max(4.0, 4.0 * a_.reach / std::max(a_.radii[first_], 1e-12)) * tolerance;
        if (!matched(turn, shift, rough, match)) return std::nullopt;
        fit(match, turn, shift, mirror);
        if (!matched(turn, shift, tolerance, match) || !same_faces(match, mirror)) return std::nullopt;
        return finished(match, turn, shift, mirror);
    }

    bool matched(const Mat3& turn, const Vec3& shift, double tolerance, std::vector<std::uint32_t>& match) {
        match.assign(a_.points.size(), 0);
        std::vector<bool> used(b_.points.size(), false);
        // The rough tolerance is the same for every try, so one wide grid serves them all.
        const bool rough = tolerance > 4 * options_.tolerance_m;
        std::optional<PointGrid>& grid = rough ? wide_ : near_;
        if (!grid) grid.emplace(b_.points, rough ? tolerance : 4 * options_.tolerance_m);
        for (std::size_t k = 0; k < a_.points.size(); ++k) {
            const Vec3 placed = turn * a_.points[k] + shift;
            const auto near = grid->near(placed);
            if (!near || used[*near] || (b_.points[*near] - placed).norm() > tolerance) return false;
            used[*near] = true;
            match[k] = *near;
        }
        return true;
    }

    void fit(const std::vector<std::uint32_t>& match, Mat3& turn, Vec3& shift, bool mirror) const {
        Mat3 covariance = Mat3::Zero();
        for (std::size_t k = 0; k < match.size(); ++k)
            covariance += b_.points[match[k]] * a_.points[k].transpose();
        const Eigen::JacobiSVD<Mat3> svd(covariance, Eigen::ComputeFullU | Eigen::ComputeFullV);
        Mat3 sign = Mat3::Identity();
        const double wanted = mirror ? -1 : 1;
        if ((svd.matrixU() * svd.matrixV().transpose()).determinant() * wanted < 0) sign(2, 2) = -1;
        turn = svd.matrixU() * sign * svd.matrixV().transpose();
        shift = Vec3(0, 0, 0);  // both are about their centroids
    }

    bool same_faces(const std::vector<std::uint32_t>& match, bool mirror) const {
        struct Target {
            MaterialId material;
            std::size_t first_corner;
        };
        std::unordered_map<Face, Target, FaceHash> faces;
        faces.reserve(b_.mesh->triangle_count());
        for (std::size_t t = 0; t < b_.mesh->triangle_count(); ++t)
            faces.try_emplace(rotated({b_.point(3 * t), b_.point(3 * t + 1), b_.point(3 * t + 2)}),
                              Target{b_.materials[t], 3 * t});
        for (std::size_t t = 0; t < a_.mesh->triangle_count(); ++t) {
            std::array<std::size_t, 3> corners{3 * t, 3 * t + 1, 3 * t + 2};
            if (mirror) std::swap(corners[1], corners[2]);
            const Face mapped{match[a_.point(corners[0])], match[a_.point(corners[1])],
                              match[a_.point(corners[2])]};
            const auto found = faces.find(rotated(mapped));
            if (found == faces.end() || found->second.material != a_.materials[t]) return false;
            if (options_.compare_uvs)
                for (const auto set : {&Mesh::uvs, &Mesh::second_uvs})
                    if (!same_uvs(set, corners, mapped, found->second.first_corner)) return false;
        }
        return true;
    }

    bool same_uvs(std::vector<Vec2f> Mesh::*set, const std::array<std::size_t, 3>& corners,
                  const Face& mapped, std::size_t first) const {
        const std::vector<Vec2f>&own = a_.mesh->*set, &other = b_.mesh->*set;
        if (own.empty() || other.empty()) return true;
        for (std::size_t k = 0; k < 3; ++k)
            for (std::size_t c = first; c < first + 3; ++c)
                if (b_.point(c) == mapped[k] &&
                    (own[a_.mesh->indices[corners[k]]] - other[b_.mesh->indices[c]]).norm() > 1e-4f)
                    return false;
        return true;
    }

    Alignment finished(const std::vector<std::uint32_t>& match, const Mat3& turn, const Vec3& shift,
                       bool mirror) const {
        Alignment out;
        out.mirrored = mirror;
        // A mirror across the yz-plane first, so that what is left is a rigid frame.
        Mat3 flip = Mat3::Identity();
        if (mirror) flip(0, 0) = -1;
        out.target_from_source.rotation = Quat(Mat3(turn * flip)).normalized();
        out.target_from_source.translation = b_.centroid + shift - turn * a_.centroid;
        for (std::size_t k = 0; k < match.size(); ++k)
            out.deviation_m =
                std::max(out.deviation_m, (turn * a_.points[k] + shift - b_.points[match[k]]).norm());
        return out;
    }

    const Body &a_, &b_;
    const RepeatOptions& options_;
    std::optional<PointGrid> near_, wide_;
    std::uint32_t first_ = 0, second_ = 0;
};

}  // namespace

std::optional<Alignment> align_meshes(const Mesh& source, const Mesh& target, const RepeatOptions& options) {
    const Body a(source), b(target);
    if (!a.may_equal(b, options.tolerance_m)) return std::nullopt;
    return Aligner(a, b, options).run();
}

std::vector<RepeatGroup> find_repeats(std::span<const Mesh* const> meshes, const RepeatOptions& options) {
    std::vector<RepeatGroup> groups;
    std::vector<Body> patterns;
    std::map<std::pair<std::size_t, std::size_t>, std::vector<std::size_t>> by_count;
    std::unordered_map<const Mesh*, std::pair<std::size_t, RepeatMember>> known;
    for (std::size_t m = 0; m < meshes.size(); ++m) {
        // One mesh shown several times is its own copy.
        if (const auto same = known.find(meshes[m]); same != known.end()) {
            RepeatMember member = same->second.second;
            member.mesh = m;
            groups[same->second.first].members.push_back(member);
            continue;
        }
        Body body(*meshes[m]);
        auto& candidates = by_count[{body.points.size(), meshes[m]->indices.size()}];
        std::optional<Alignment> found;
        std::size_t group = groups.size();
        for (const std::size_t g : candidates) {
            if (!patterns[g].may_equal(body, options.tolerance_m)) continue;
            found = Aligner(patterns[g], body, options).run();
            if (!found) continue;
            group = g;
            break;
        }
        RepeatMember member{m, false, {}, 0};
        if (found) {
            member = {m, found->mirrored, found->target_from_source, found->deviation_m};
            groups[group].members.push_back(member);
        } else {
            candidates.push_back(group);
            groups.push_back({{member}});
            patterns.push_back(std::move(body));
        }
        known[meshes[m]] = {group, member};
    }
    return groups;
}

}  // namespace pivrak
