#include "core/geometry/fits/primitive_fits.h"

#include <fmt/format.h>

#include <Eigen/Dense>
#include <algorithm>
#include <cmath>
#include <map>
#include <random>

#include "core/geometry/direction.h"
#include "core/geometry/fits/middle_line.h"

namespace pivrak {
namespace {

/// Two directions that make a right-handed system with an axis.
struct Across {
    Vec3 u, v;
    explicit Across(const Vec3& axis) : u(any_perpendicular(axis)), v(axis.cross(u)) {}
    Vec2 project(const Vec3& p) const { return {u.dot(p), v.dot(p)}; }
    Vec3 lift(const Vec2& p) const { return p.x() * u + p.y() * v; }
};

Vec3 mean_of(std::span<const Vec3> points) {
    Vec3 sum(0, 0, 0);
    for (const Vec3& p : points) sum += p;
    return sum / static_cast<double>(points.size());
}

constexpr double straight_share = 1e-5;  ///< of the extent: points nearer to a line than this lie on it

Error straight() {
    return {"fit.straight", "the points lie on one straight line: no circle or plane is clear from them", ""};
}

/// Kåsa's circle: linear in centre and radius.
std::optional<Vec3> algebraic_circle(const std::vector<Vec2>& points) {
    Mat3 a = Mat3::Zero();
    Vec3 b(0, 0, 0);
    for (const Vec2& p : points) {
        const Vec3 row(2 * p.x(), 2 * p.y(), 1);
        a += row * row.transpose();
        b += row * p.squaredNorm();
    }
    const Vec3 x = a.fullPivLu().solve(b);
    const double squared = x.z() + x.head<2>().squaredNorm();
    if (!x.allFinite() || !(squared > 0)) return std::nullopt;
    return Vec3(x.x(), x.y(), std::sqrt(squared));
}

}  // namespace

Result<PlaneFit> fit_plane(std::span<const Vec3> points) {
    if (points.size() < 3)
        return Error{"fit.few", fmt::format("{} of the 3 points needed are picked", points.size()), ""};
    PlaneFit fit;
    fit.point = mean_of(points);
    Mat3 spread = Mat3::Zero();
    for (const Vec3& p : points) spread += (p - fit.point) * (p - fit.point).transpose();
    const Eigen::SelfAdjointEigenSolver<Mat3> eigen(spread);
    const Vec3 values = eigen.eigenvalues().cwiseMax(0.0);
    if (!(values[2] > 0) || values[1] < straight_share * straight_share * values[2]) return straight();
    fit.normal = eigen.eigenvectors().col(0);
    fit.residual_m = std::sqrt(values[0] / static_cast<double>(points.size()));
    return fit;
}

Result<CircleFit> fit_circle(std::span<const Vec3> points) {
    PIVRAK_TRY(plane, fit_plane(points));
    const Across across(plane.normal);
    std::vector<Vec2> flat;
    double extent = 0;
    for (const Vec3& p : points) {
        flat.push_back(across.project(p - plane.point));
        extent = std::max(extent, flat.back().norm());
    }
    const auto start = algebraic_circle(flat);
    if (!start || start->z() > 1e4 * extent) return straight();
    Vec3 circle = *start;
    for (int step = 0; step < 50; ++step) {
        Mat3 a = Mat3::Zero();
        Vec3 b(0, 0, 0);
        for (const Vec2& p : flat) {
            const Vec2 out = p - circle.head<2>();
            const double distance = out.norm();
            if (distance <= 0) continue;
            const Vec3 row(-out.x() / distance, -out.y() / distance, -1);
            a += row * row.transpose();
            b -= row * (distance - circle.z());
        }
        const Vec3 move = a.ldlt().solve(b);
        if (!move.allFinite()) return straight();
        circle += move;
        if (move.norm() < 1e-14 * circle.z()) break;
    }
    CircleFit fit{plane.point + across.lift(circle.head<2>()), mostly_positive(plane.normal),
                  std::abs(circle.z()), 0};
    double sum = 0;
    for (const Vec3& p : points) {
        const Vec3 from = p - fit.centre;
        const double height = from.dot(plane.normal),
                     off = (from - height * plane.normal).norm() - fit.radius_m;
        sum += height * height + off * off;
    }
    fit.residual_m = std::sqrt(sum / static_cast<double>(points.size()));
    return fit;
}

// ---- rims

namespace {

constexpr double rim_angle_rad = 25 * rad_per_deg;
constexpr double round_share = 0.01;
constexpr std::size_t longest_rim = 4096;

bool is_sharp(const MeshTopology& topology, const MeshTopology::Edge& edge,
              const std::vector<Vec3>& normals) {
    if (edge.count != 2) return true;
    const auto* sides = topology.begin(edge);
    return normals[sides[0] / 3].dot(normals[sides[1] / 3]) < std::cos(rim_angle_rad);
}

/// Lines of sharp and open edges, walked from point to point.
class RimWalker {
public:
    RimWalker(const Mesh& mesh, const MeshTopology& topology) : mesh_(mesh), topology_(topology) {
        const std::vector<Vec3> normals = face_normals(mesh);
        for (const MeshTopology::Edge& edge : topology.edges)
            if (is_sharp(topology, edge, normals)) {
                next_.emplace(edge.low, edge.high);
                next_.emplace(edge.high, edge.low);
            }
    }

    /// The points of the closed line through an edge, straightest on at forks; empty when it does not close.
    std::vector<Vec3> around(std::uint32_t a, std::uint32_t b) const {
        if (!connects(a, b)) return {};
        std::vector<Vec3> line{place(a)};
        std::uint32_t from = a, at = b;
        while (at != a) {
            line.push_back(place(at));
            if (line.size() > longest_rim) return {};
            const auto onward = straightest(from, at);
            if (!onward) return {};
            from = at;
            at = *onward;
        }
        return line;
    }

private:
    bool connects(std::uint32_t a, std::uint32_t b) const {
        const auto [first, last] = next_.equal_range(a);
        return std::any_of(first, last, [&](const auto& entry) { return entry.second == b; });
    }

    std::optional<std::uint32_t> straightest(std::uint32_t from, std::uint32_t at) const {
        const Vec3 way = (place(at) - place(from)).normalized();
        std::optional<std::uint32_t> best;
        double most = -0.2;
        const auto [first, last] = next_.equal_range(at);
        for (auto entry = first; entry != last; ++entry) {
            if (entry->second == from) continue;
            const double on = way.dot((place(entry->second) - place(at)).normalized());
            if (on > most) {
                most = on;
                best = entry->second;
            }
        }
        return best;
    }

    Vec3 place(std::uint32_t point) const {
        return mesh_.positions[topology_.points.first_vertex[point]].cast<double>();
    }

    const Mesh& mesh_;
    const MeshTopology& topology_;
    std::multimap<std::uint32_t, std::uint32_t> next_;
};

}  // namespace

std::optional<CircleFit> rim_circle(const Mesh& mesh, const MeshTopology& topology, std::uint32_t a,
                                    std::uint32_t b) {
    const std::vector<Vec3> line =
        RimWalker(mesh, topology).around(topology.points.of_vertex[a], topology.points.of_vertex[b]);
    if (line.size() < 6) return std::nullopt;
    const auto fit = fit_circle(line);
    if (!fit || fit->residual_m > round_share * fit->radius_m) return std::nullopt;
    return *fit;
}

bool is_sharp_edge(const Mesh& mesh, const MeshTopology& topology, std::uint32_t a, std::uint32_t b) {
    const auto [low, high] = std::minmax(topology.points.of_vertex[a], topology.points.of_vertex[b]);
    for (const MeshTopology::Edge& edge : topology.edges)
        if (edge.low == low && edge.high == high) return is_sharp(topology, edge, face_normals(mesh));
    return false;
}

// ---- round faces

namespace {

constexpr int samples_drawn = 200;
constexpr double beside_line = 0.05, agree_share = 0.01, least_agreeing = 0.5;
const double least_angle_sin = std::sin(2 * rad_per_deg);

struct RoundFace {
    Vec3 normal;
    double area;
    std::size_t triangle;
};

struct Cylinder {
    Vec3 point, direction;
    double radius = 0;
    double off(const Vec3& p) const {
        const Vec3 from = p - point;
        return (from - from.dot(direction) * direction).norm() - radius;
    }
};

std::optional<Cylinder> through(const Mesh& mesh, const RoundFace& one, const RoundFace& other) {
    const Vec3 cross = one.normal.cross(other.normal);
    if (cross.norm() < least_angle_sin) return std::nullopt;
    Cylinder c;
    c.direction = cross.normalized();
    const Across across(c.direction);
    const auto [a, x] = middle_line(mesh, one.triangle, one.normal, across);
    const auto [b, y] = middle_line(mesh, other.triangle, other.normal, across);
    Eigen::Matrix2d lines;
    lines << a.x(), a.y(), b.x(), b.y();
    if (std::abs(lines.determinant()) < 1e-6) return std::nullopt;
    c.point = across.lift(lines.inverse() * Vec2(x, y));
    double sum = 0;
    for (int k = 0; k < 3; ++k)
        sum += c.off(mesh.corner(one.triangle, k)) + c.off(mesh.corner(other.triangle, k));
    c.radius = sum / 6;
    return c;
}

bool agrees(const Mesh& mesh, const RoundFace& face, const Cylinder& c) {
    if (std::abs(face.normal.dot(c.direction)) > beside_line) return false;
    Vec3 out(0, 0, 0);
    for (int k = 0; k < 3; ++k) {
        if (std::abs(c.off(mesh.corner(face.triangle, k))) > agree_share * c.radius) return false;
        const Vec3 from = mesh.corner(face.triangle, k) - c.point;
        out += from - from.dot(c.direction) * c.direction;
    }
    // Half as wide as a side of a hexagon is still a facet of something round.
    return std::abs(out.normalized().dot(face.normal)) > std::cos(0.55);
}

double agreeing_area(const Mesh& mesh, const std::vector<RoundFace>& faces, const Cylinder& c) {
    double area = 0;
    for (const RoundFace& f : faces)
        if (agrees(mesh, f, c)) area += f.area;
    return area;
}

/// One Gauss-Newton step on tilt, shift and radius; answers how far it went, relative to the radius.
double refine(Cylinder& c, const std::vector<Vec3>& points, double size) {
    using Row = Eigen::Matrix<double, 5, 1>;
    const Across across(c.direction);
    Eigen::Matrix<double, 5, 5> a = Eigen::Matrix<double, 5, 5>::Zero();
    Row b = Row::Zero();
    for (const Vec3& p : points) {
        const Vec3 from = p - c.point;
        const double along = from.dot(c.direction) / size;
        const Vec2 flat = across.project(from);
        const double distance = flat.norm();
        if (distance <= 0) continue;
        const Vec2 out = flat / distance;
        Row row;
        row << -out.x() * along, -out.y() * along, -out.x(), -out.y(), -1;
        a += row * row.transpose();
        b -= row * (distance - c.radius);
    }
    // A faint pull to the present direction: a ring of no width says nothing about its tilt.
    a.diagonal().array() += 1e-12 * a.diagonal().maxCoeff();
    const Row step = a.ldlt().solve(b);
    if (!step.allFinite()) return 0;
    c.direction = (c.direction + across.lift(step.head<2>()) / size).normalized();
    c.point += across.lift(step.segment<2>(2));
    c.radius += step(4);
    return step.norm() / c.radius;
}

std::vector<RoundFace> picked_faces(const Mesh& mesh, const std::vector<bool>& mask) {
    const std::vector<Vec3> normals = face_normals(mesh);
    std::vector<RoundFace> faces;
    for (std::size_t t = 0; t < mesh.triangle_count(); ++t)
        if (mask[t] && normals[t].norm() > 0) faces.push_back({normals[t], triangle_area(mesh, t), t});
    return faces;
}

/// Whether the normals turn about one axis at least twice: two planes that meet at an edge do so once.
bool turn_enough(const std::vector<RoundFace>& faces) {
    std::vector<Vec3> different;
    for (const RoundFace& f : faces) {
        const bool known = std::any_of(different.begin(), different.end(), [&](const Vec3& n) {
            return n.cross(f.normal).norm() < least_angle_sin && n.dot(f.normal) > 0;
        });
        if (!known) different.push_back(f.normal);
        if (different.size() > 2) return true;
    }
    return false;
}

}  // namespace

Result<RoundFit> fit_round_faces(const Mesh& mesh, const std::vector<bool>& mask) {
    const std::vector<RoundFace> faces = picked_faces(mesh, mask);
    if (faces.empty()) return Error{"fit.empty", "the picked faces have no area", ""};
    if (!turn_enough(faces))
        return Error{
            "fit.flat",
            "the picked faces lie in one plane or meet at a single edge: no axis is clear from them; pick "
            "faces that go round",
            ""};
    double area = 0;
    for (const RoundFace& f : faces) area += f.area;
    std::mt19937 random(1);  // the same faces always give the same fit
    std::uniform_int_distribution<std::size_t> any(0, faces.size() - 1);
    Cylinder best;
    double most = 0;
    for (int drawn = 0; drawn < samples_drawn; ++drawn) {
        const auto candidate = through(mesh, faces[any(random)], faces[any(random)]);
        if (!candidate || !(candidate->radius > 0)) continue;
        const double found = agreeing_area(mesh, faces, *candidate);
        if (found > most) {
            most = found;
            best = *candidate;
        }
    }
    std::vector<Vec3> points;
    const double size = mesh_bounds(mesh).longest();
    for (int round = 0; most > 0 && round < 4; ++round) {
        points.clear();
        for (const RoundFace& f : faces)
            if (agrees(mesh, f, best))
                for (int k = 0; k < 3; ++k) points.push_back(mesh.corner(f.triangle, k));
        if (points.size() < 9) break;
        best.point += (mean_of(points) - best.point).dot(best.direction) * best.direction;
        for (int step = 0; step < 20; ++step)
            if (refine(best, points, size) < 1e-14) break;
        most = agreeing_area(mesh, faces, best);
    }
    if (most < least_agreeing * area)
        return Error{
            "fit.not_round",
            fmt::format(
                "only {:.0f} % of the picked faces lie on one cylinder (at least {:.0f} % are needed)",
                100 * most / area, 100 * least_agreeing),
            ""};
    RoundFit fit{best.point, mostly_positive(best.direction), best.radius, 0, most / area};
    double sum = 0, low = 1e300, high = -1e300;
    for (const Vec3& p : points) {
        sum += best.off(p) * best.off(p);
        const double along = (p - best.point).dot(best.direction);
        low = std::min(low, along);
        high = std::max(high, along);
    }
    fit.axis_point += 0.5 * (low + high) * best.direction;
    fit.residual_m = std::sqrt(sum / static_cast<double>(points.size()));
    return fit;
}

}  // namespace pivrak
