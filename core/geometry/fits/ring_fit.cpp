#include "core/geometry/fits/ring_fit.h"

#include <Eigen/Dense>
#include <algorithm>
#include <cmath>
#include <map>
#include <set>
#include <vector>

#include "core/geometry/fits/angle_gap.h"
#include "core/geometry/mesh/weld.h"

namespace pivrak {
namespace {

constexpr std::size_t most_corners = 20000, least_in_all = 24;
constexpr double nearly = 0.9;
constexpr int widest_ring_cells = 8;  ///< a ring spreads over no more cells, or it is a surface

struct RingCorner {
    double along, radius, angle;
};

/// Corners by number, ring by ring.
using Rings = std::vector<std::vector<std::size_t>>;

std::vector<Vec3> corners_of(const Mesh& mesh) {
    const WeldedPoints welded = weld_points(mesh.positions);
    std::vector<Vec3> all;
    std::vector<bool> seen(welded.count(), false);
    for (std::size_t v = 0; v < mesh.positions.size(); ++v)
        if (const std::size_t point = welded.of_vertex[v]; !seen[point]) {
            seen[point] = true;
            all.push_back(mesh.positions[v].cast<double>());
        }
    if (all.size() <= most_corners) return all;
    std::vector<Vec3> some;
    const double step = static_cast<double>(all.size()) / most_corners;
    for (std::size_t i = 0; i < most_corners; ++i)
        some.push_back(all[static_cast<std::size_t>(step * static_cast<double>(i))]);
    return some;
}

class RingSearch {
public:
    RingSearch(const std::vector<Vec3>& corners, const Vec3& point, const Vec3& direction, double size,
               const RingRules& rules)
        : corners_(corners), point_(point), direction_(direction), size_(size), rules_(rules) {}

    std::optional<RingFit> run() {
        if (corners_.size() < least_in_all) return std::nullopt;
        for (int pass = 0; pass < 4; ++pass) {
            const Rings rings = rings_now();
            if (rings.empty()) return std::nullopt;
            for (int step = 0; step < 6 && step_on(rings) > 1e-13; ++step) {
            }
        }
        const Rings rings = rings_now();
        if (rings.empty()) return std::nullopt;
        const double share = count_of(rings) / static_cast<double>(corners_.size());
        if (share < rules_.least_share) return std::nullopt;
        return RingFit{point_, direction_, residual(rings, seen_along()), share};
    }

private:
    std::vector<RingCorner> seen_along() const {
        const Vec3 u = any_perpendicular(direction_), v = direction_.cross(u);
        std::vector<RingCorner> seen;
        seen.reserve(corners_.size());
        for (const Vec3& corner : corners_) {
            const Vec3 from = corner - point_;
            const Vec2 flat(u.dot(from), v.dot(from));
            seen.push_back({direction_.dot(from), flat.norm(), std::atan2(flat.y(), flat.x())});
        }
        return seen;
    }

    /// The finest rings that hold nearly as many corners as any. Where noise lets neighbouring rings run into
    /// one another, what lies in one cell of the profile counts as a ring: corners at its edge come and go,
    /// but on all sides alike.
    Rings rings_now() {
        const std::vector<RingCorner> seen = seen_along();
        // Once found, their size is kept while the axis gets better.
        const auto all = static_cast<double>(seen.size()), enough = rules_.least_share * all;
        if (cell_ > 0) {
            Rings same = in_cells_ ? cells_of(seen, cell_) : rings_of(seen, cell_);
            if (count_of(same) >= enough) return same;
        }
        std::vector<std::pair<double, Rings>> tried;
        double most = 0;
        for (double cell = 1e-6 * size_; cell < 0.02 * size_; cell *= 2) {
            tried.emplace_back(cell, rings_of(seen, cell));
            most = std::max(most, count_of(tried.back().second));
            if (most >= nearly * all) break;
        }
        if (most < enough) {
            in_cells_ = true;
            for (const double share : {0.04, 0.07}) {
                cell_ = share * size_;
                Rings cells = cells_of(seen, cell_);
                if (count_of(cells) >= enough) return cells;
            }
            return {};
        }
        in_cells_ = false;
        for (auto& [cell, rings] : tried)
            if (count_of(rings) >= nearly * most) {
                cell_ = cell;
                return std::move(rings);
            }
        return {};
    }

    static double count_of(const Rings& rings) {
        std::size_t inside = 0;
        for (const auto& ring : rings) inside += ring.size();
        return static_cast<double>(inside);
    }

    Rings cells_of(const std::vector<RingCorner>& seen, double cell) const {
        std::map<std::pair<std::int64_t, std::int64_t>, std::vector<std::size_t>> cells;
        for (std::size_t i = 0; i < seen.size(); ++i)
            cells[{std::llround(seen[i].along / cell), std::llround(seen[i].radius / cell)}].push_back(i);
        Rings rings;
        for (auto& [at, corners] : cells)
            if (goes_round_in(seen, corners)) rings.push_back(std::move(corners));
        return rings;
    }

    /// Corners whose cells, seen as a profile, touch.
    Rings rings_of(const std::vector<RingCorner>& seen, double cell) const {
        using Cell = std::pair<std::int64_t, std::int64_t>;
        std::map<Cell, std::vector<std::size_t>> cells;
        for (std::size_t i = 0; i < seen.size(); ++i)
            cells[{std::llround(seen[i].along / cell), std::llround(seen[i].radius / cell)}].push_back(i);
        Rings rings;
        std::set<Cell> taken;
        for (const auto& [start, unused] : cells) {
            if (!taken.insert(start).second) continue;
            std::vector<Cell> waiting{start};
            std::vector<std::size_t> ring;
            Cell low = start, high = start;
            while (!waiting.empty()) {
                const Cell at = waiting.back();
                waiting.pop_back();
                const auto& here = cells.at(at);
                ring.insert(ring.end(), here.begin(), here.end());
                low = {std::min(low.first, at.first), std::min(low.second, at.second)};
                high = {std::max(high.first, at.first), std::max(high.second, at.second)};
                for (std::int64_t i = -1; i <= 1; ++i)
                    for (std::int64_t k = -1; k <= 1; ++k) {
                        const Cell beside{at.first + i, at.second + k};
                        if (cells.contains(beside) && taken.insert(beside).second) waiting.push_back(beside);
                    }
            }
            if (high.first - low.first < widest_ring_cells && high.second - low.second < widest_ring_cells &&
                goes_round_in(seen, ring))
                rings.push_back(std::move(ring));
        }
        return rings;
    }

    bool goes_round_in(const std::vector<RingCorner>& seen, const std::vector<std::size_t>& ring) const {
        if (ring.size() < rules_.least_corners) return false;
        std::vector<double> angles;
        for (const std::size_t i : ring) angles.push_back(seen[i].angle);
        return widest_angle_gap(std::move(angles)) <= rules_.widest_gap_rad;
    }

    /// One Gauss-Newton step on shift (2) and tilt (2); each ring's own radius and place are its means. How
    /// far it went, relative to the size.
    double step_on(const Rings& rings) {
        const Vec3 u = any_perpendicular(direction_), v = direction_.cross(u);
        Eigen::Matrix4d a = Eigen::Matrix4d::Zero();
        Eigen::Vector4d b = Eigen::Vector4d::Zero();
        for (const auto& ring : rings) {
            std::vector<std::array<Eigen::Vector4d, 2>> rows;
            std::vector<Vec2> values;
            std::array<Eigen::Vector4d, 2> mean{Eigen::Vector4d::Zero(), Eigen::Vector4d::Zero()};
            Vec2 middle(0, 0);
            for (const std::size_t i : ring) {
                const Vec3 from = corners_[i] - point_;
                const Vec2 flat(u.dot(from), v.dot(from));
                const double along = direction_.dot(from), radius = std::max(flat.norm(), 1e-12);
                const Vec2 out = flat / radius;
                rows.push_back({Eigen::Vector4d(-out.x(), -out.y(), -out.x() * along, -out.y() * along),
                                Eigen::Vector4d(0, 0, flat.x(), flat.y())});
                values.push_back({radius, along});
                middle += values.back() / static_cast<double>(ring.size());
                for (int k : {0, 1})
                    mean[static_cast<std::size_t>(k)] +=
                        rows.back()[static_cast<std::size_t>(k)] / static_cast<double>(ring.size());
            }
            for (std::size_t n = 0; n < rows.size(); ++n)
                for (const std::size_t k : {std::size_t{0}, std::size_t{1}}) {
                    const Eigen::Vector4d row = rows[n][k] - mean[k];
                    a += row * row.transpose();
                    b -= row *
                         (values[n][static_cast<Eigen::Index>(k)] - middle[static_cast<Eigen::Index>(k)]);
                }
        }
        a.diagonal().array() += 1e-12 * a.diagonal().maxCoeff();
        const Eigen::Vector4d step = a.ldlt().solve(b);
        if (!step.allFinite()) return 0;
        point_ += step[0] * u + step[1] * v;
        direction_ = (direction_ + step[2] * u + step[3] * v).normalized();
        return std::max(step.head<2>().norm() / size_, step.tail<2>().norm());
    }

    static double residual(const Rings& rings, const std::vector<RingCorner>& seen) {
        double sum = 0, count = 0;
        for (const auto& ring : rings) {
            double radius = 0, along = 0;
            for (const std::size_t i : ring) {
                radius += seen[i].radius / static_cast<double>(ring.size());
                along += seen[i].along / static_cast<double>(ring.size());
            }
            for (const std::size_t i : ring)
                sum += (seen[i].radius - radius) * (seen[i].radius - radius) +
                       (seen[i].along - along) * (seen[i].along - along);
            count += static_cast<double>(ring.size());
        }
        return count > 0 ? std::sqrt(sum / count) : 0;
    }

    const std::vector<Vec3>& corners_;
    Vec3 point_, direction_;
    double size_;
    const RingRules& rules_;
    double cell_ = 0;  ///< of the profile, by which corners are one ring; 0 until it is chosen
    bool in_cells_ = false;
};

}  // namespace

std::optional<RingFit> fit_rings(const Mesh& mesh, const Vec3& point, const Vec3& direction,
                                 const RingRules& rules) {
    const double size = mesh_bounds(mesh).longest();
    if (!(size > 0)) return std::nullopt;
    const std::vector<Vec3> corners = corners_of(mesh);
    return RingSearch(corners, point, direction, size, rules).run();
}

std::optional<RingFit> find_rings(const Mesh& mesh, const RingRules& rules) {
    const double size = mesh_bounds(mesh).longest();
    if (!(size > 0)) return std::nullopt;
    const std::vector<Vec3> corners = corners_of(mesh);
    Vec3 middle(0, 0, 0);
    for (const Vec3& corner : corners) middle += corner / static_cast<double>(corners.size());
    Mat3 spread = Mat3::Zero();
    for (const Vec3& corner : corners) spread += (corner - middle) * (corner - middle).transpose();
    const Eigen::SelfAdjointEigenSolver<Mat3> eigen(spread);
    std::optional<RingFit> best;
    for (int k = 0; k < 3; ++k) {
        const auto fit = RingSearch(corners, middle, eigen.eigenvectors().col(k), size, rules).run();
        if (fit && (!best || fit->residual_m < best->residual_m)) best = fit;
    }
    return best;
}

}  // namespace pivrak
