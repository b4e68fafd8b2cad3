// Sources: covariance of normals as the Gauss image of a surface of revolution (a great circle and its
// poles); iteratively reweighted least squares with the weight of Geman and McClure; Gauss-Newton on
// orthogonal distances.
#include "core/geometry/fits/cylinder_fit.h"

#include <fmt/format.h>

#include <Eigen/Dense>
#include <algorithm>
#include <array>
#include <cmath>
#include <numeric>
#include <optional>
#include <vector>

#include "core/geometry/direction.h"
#include "core/geometry/fits/middle_line.h"

namespace pivrak {
namespace {

constexpr double beside_axis = 0.03;      ///< a face is beside the axis when |normal . axis| is below this
constexpr double line_miss_share = 0.01;  ///< its normal must pass the axis within this share of the radius
constexpr double widest_facet_rad = 1.1;  ///< a six-sided bar still counts as round, a square one does not
constexpr double same_radius_share = 0.004;
constexpr std::size_t most_cylinders = 12;

struct FitFace {
    Vec3 centroid, normal;
    double area;
    std::size_t triangle;
};

struct TriedAxis {
    Vec3 point, direction;
};

/// Two directions that make a right-handed system with the axis.
struct FoundPlane {
    Vec3 u, v;
    explicit FoundPlane(const Vec3& axis) : u(any_perpendicular(axis)), v(axis.cross(u)) {}
    Vec2 project(const Vec3& p) const { return {u.dot(p), v.dot(p)}; }
    Vec3 lift(const Vec2& p) const { return p.x() * u + p.y() * v; }
};

std::vector<FitFace> faces_of(const Mesh& mesh) {
    std::vector<FitFace> faces;
    faces.reserve(mesh.triangle_count());
    for (std::size_t t = 0; t < mesh.triangle_count(); ++t) {
        const Vec3 a = mesh.corner(t, 0), b = mesh.corner(t, 1), c = mesh.corner(t, 2);
        const Vec3 cross = (b - a).cross(c - a);
        const double twice = cross.norm();
        if (twice > 0) faces.push_back({(a + b + c) / 3.0, cross / twice, 0.5 * twice, t});
    }
    return faces;
}

template <class Keep>
Mat3 normal_covariance(const std::vector<FitFace>& faces, Keep keep) {
    Mat3 sum = Mat3::Zero();
    for (const FitFace& f : faces)
        if (keep(f)) sum += f.area * f.normal * f.normal.transpose();
    return sum;
}

/// The direction most nearly at a right angle to the normals beside a first guess.
Vec3 straightened(const std::vector<FitFace>& faces, Vec3 axis) {
    for (int pass = 0; pass < 2; ++pass) {
        const Mat3 sum =
            normal_covariance(faces, [&](const FitFace& f) { return std::abs(f.normal.dot(axis)) < 0.1; });
        const Eigen::SelfAdjointEigenSolver<Mat3> eigen(sum);
        // Only when normals go round: a single flat side would leave the direction undecided.
        if (eigen.eigenvalues()[1] < 1e-3 * eigen.eigenvalues()[2]) break;
        const Vec3 better = eigen.eigenvectors().col(0);
        axis = better.dot(axis) < 0 ? Vec3(-better) : better;
    }
    return axis;
}

/// Where the normals of the side faces meet, seen along the axis. Wide acceptance first, then ever narrower,
/// so that the many lines which pass through one point win over teeth and flats.
Vec2 meeting_point(const Mesh& mesh, const std::vector<FitFace>& sides, const FoundPlane& plane,
                   double size) {
    std::vector<MiddleLine> lines;
    lines.reserve(sides.size());
    for (const FitFace& f : sides) lines.push_back(middle_line(mesh, f.triangle, f.normal, plane));
    double area = 0;
    Vec2 centre(0, 0);
    for (const FitFace& f : sides) {
        centre += f.area * plane.project(f.centroid);
        area += f.area;
    }
    centre /= area;
    for (double scale = size; scale > 1e-5 * size; scale *= 0.7) {
        Eigen::Matrix2d a = Eigen::Matrix2d::Zero();
        Vec2 b(0, 0);
        for (std::size_t i = 0; i < sides.size(); ++i) {
            const auto& [across, offset] = lines[i];
            const double miss = (across.dot(centre) - offset) / scale;
            const double weight = sides[i].area / ((1 + miss * miss) * (1 + miss * miss));
            a += weight * across * across.transpose();
            b += weight * offset * across;
        }
        if (a.determinant() <= 1e-12 * a.trace() * a.trace()) break;
        centre = a.ldlt().solve(b);
    }
    return centre;
}

/// Round faces sorted into cylinders of equal radius about a common axis.
struct Round {
    struct Sample {
        Vec3 point;
        std::size_t cylinder;
    };
    std::vector<Sample> samples;
    std::vector<double> radii, areas;
    double area = 0;
    double coverage_rad = 0;
};

struct RadialFace {
    double radius, area, angle;
    std::size_t triangle;
};

std::vector<RadialFace> radial_faces(const Mesh& mesh, const std::vector<FitFace>& sides,
                                     const FoundPlane& plane, const Vec2& centre, double size) {
    std::vector<RadialFace> found;
    for (const FitFace& f : sides) {
        RadialFace face{0, f.area, 0, f.triangle};
        const Vec2 from_centre = plane.project(f.centroid) - centre;
        face.angle = std::atan2(from_centre.y(), from_centre.x());
        double low = 1e300, high = 0, widest = 0;
        for (int k = 0; k < 3; ++k) {
            const Vec2 corner = plane.project(mesh.corner(f.triangle, k)) - centre;
            const double radius = corner.norm();
            low = std::min(low, radius);
            high = std::max(high, radius);
            face.radius += radius / 3.0;
            widest = std::max(
                widest, std::abs(std::remainder(std::atan2(corner.y(), corner.x()) - face.angle, 2 * pi)));
        }
        const auto [across, offset] = middle_line(mesh, f.triangle, f.normal, plane);
        const bool one_radius = high - low <= line_miss_share * high && high > 1e-4 * size;
        if (one_radius && 1.5 * widest <= widest_facet_rad &&
            std::abs(across.dot(centre) - offset) <= line_miss_share * high)
            found.push_back(face);
    }
    std::sort(found.begin(), found.end(), [](const RadialFace& a, const RadialFace& b) {
        return a.radius != b.radius ? a.radius < b.radius : a.triangle < b.triangle;
    });
    return found;
}

/// How far round the axis the faces reach, in steps of five degrees; corners count, so that a facet wider
/// than a step still covers all it spans.
double coverage(const Mesh& mesh, const std::vector<RadialFace>& faces, const FoundPlane& plane,
                const Vec2& centre) {
    constexpr int sectors = 72;
    std::array<bool, sectors> hit{};
    for (const RadialFace& f : faces) {
        double low = 0, high = 0;
        for (int k = 0; k < 3; ++k) {
            const Vec2 p = plane.project(mesh.corner(f.triangle, k)) - centre;
            const double turn = std::remainder(std::atan2(p.y(), p.x()) - f.angle, 2 * pi);
            low = std::min(low, turn);
            high = std::max(high, turn);
        }
        for (double t = f.angle + low; t <= f.angle + high; t += 0.02) {
            const double wrapped = t - 2 * pi * std::floor(t / (2 * pi));
            hit[std::min<std::size_t>(sectors - 1, static_cast<std::size_t>(wrapped / (2 * pi) * sectors))] =
                true;
        }
    }
    return 2 * pi * static_cast<double>(std::count(hit.begin(), hit.end(), true)) / sectors;
}

Round gather_round(const Mesh& mesh, const std::vector<FitFace>& sides, const FoundPlane& plane,
                   const Vec2& centre, double size) {
    const std::vector<RadialFace> faces = radial_faces(mesh, sides, plane, centre, size);
    Round round;
    round.coverage_rad = coverage(mesh, faces, plane, centre);
    for (std::size_t i = 0; i < faces.size();) {
        std::size_t end = i;
        double area = 0;
        while (end < faces.size() && faces[end].radius <= faces[i].radius * (1 + same_radius_share))
            area += faces[end++].area;
        if (round.radii.size() < most_cylinders) {
            for (std::size_t k = i; k < end; ++k)
                for (int c = 0; c < 3; ++c)
                    round.samples.push_back({mesh.corner(faces[k].triangle, c), round.radii.size()});
            round.radii.push_back(faces[i].radius);
            round.areas.push_back(area);
        }
        round.area += area;
        i = end;
    }
    return round;
}

/// One Gauss-Newton step on tilt (2), shift (2) and the radii; answers how far it moved, relative to size.
double refine_once(TriedAxis& axis, Round& round, double size) {
    const FoundPlane plane(axis.direction);
    const Eigen::Index unknowns = 4 + static_cast<Eigen::Index>(round.radii.size());
    Eigen::MatrixXd a = Eigen::MatrixXd::Zero(unknowns, unknowns);
    Eigen::VectorXd b = Eigen::VectorXd::Zero(unknowns);
    for (const Round::Sample& s : round.samples) {
        const Vec3 from = s.point - axis.point;
        const double along = from.dot(axis.direction) / size;
        const Vec2 flat = plane.project(from);
        const double distance = flat.norm();
        if (distance <= 0) continue;
        const Vec2 out = flat / distance;
        const Eigen::Index k = 4 + static_cast<Eigen::Index>(s.cylinder);
        const Eigen::Vector4d row(-out.x() * along, -out.y() * along, -out.x(), -out.y());
        const double residual = distance - round.radii[s.cylinder];
        a.topLeftCorner<4, 4>() += row * row.transpose();
        a.block<4, 1>(0, k) -= row;
        a.block<1, 4>(k, 0) -= row.transpose();
        a(k, k) += 1;
        b.head<4>() -= row * residual;
        b(k) += residual;
    }
    // A faint pull to the present direction: a ring of no width says nothing about its tilt.
    a.diagonal().array() += 1e-12 * a.diagonal().maxCoeff();
    const Eigen::VectorXd step = a.ldlt().solve(b);
    if (!step.allFinite()) return 0;
    axis.direction = (axis.direction + plane.lift(step.head<2>()) / size).normalized();
    axis.point += plane.lift(step.segment<2>(2));
    for (std::size_t k = 0; k < round.radii.size(); ++k)
        round.radii[k] += step(4 + static_cast<Eigen::Index>(k));
    return step.norm() / size;
}

double residual_rms(const TriedAxis& axis, const Round& round) {
    double sum = 0;
    for (const Round::Sample& s : round.samples) {
        const Vec3 from = s.point - axis.point;
        const double distance = (from - from.dot(axis.direction) * axis.direction).norm();
        sum += (distance - round.radii[s.cylinder]) * (distance - round.radii[s.cylinder]);
    }
    return round.samples.empty() ? 0 : std::sqrt(sum / static_cast<double>(round.samples.size()));
}

struct Candidate {
    TriedAxis axis;
    Round round;
    std::vector<FitFace> sides;
    double support = 0;
};

/// The corners of every side face that lies along one of the cylinders, whichever way noise tilts it: those
/// first taken are the ones that happen to look at the axis, and alone they would tell too small a residual.
/// Answers whether there are more of them than before.
bool gather_again(const Mesh& mesh, Candidate& c, double size) {
    constexpr double rms_kept = 4;  // noise seldom reaches farther
    const double band = rms_kept * residual_rms(c.axis, c.round) + 1e-7 * size;
    const FoundPlane plane(c.axis.direction);
    std::vector<Round::Sample> samples;
    for (const FitFace& f : c.sides) {
        std::array<Vec2, 3> corner;
        for (int k = 0; k < 3; ++k)
            corner[static_cast<std::size_t>(k)] = plane.project(mesh.corner(f.triangle, k) - c.axis.point);
        const double first = corner[0].norm();
        const auto nearest =
            std::min_element(c.round.radii.begin(), c.round.radii.end(),
                             [&](double a, double b) { return std::abs(a - first) < std::abs(b - first); });
        const bool along = std::all_of(corner.begin(), corner.end(), [&](const Vec2& p) {
            return std::abs(p.norm() - *nearest) <= band &&
                   std::abs(std::atan2(p.x() * corner[0].y() - p.y() * corner[0].x(), p.dot(corner[0]))) <=
                       2 * widest_facet_rad / 1.5;
        });
        if (!along) continue;
        for (int k = 0; k < 3; ++k)
            samples.push_back(
                {mesh.corner(f.triangle, k), static_cast<std::size_t>(nearest - c.round.radii.begin())});
    }
    const bool more = samples.size() > c.round.samples.size();
    if (more) c.round.samples = std::move(samples);
    return more;
}

std::optional<Candidate> try_direction(const Mesh& mesh, const std::vector<FitFace>& faces, const Vec3& guess,
                                       double size) {
    const Vec3 direction = straightened(faces, guess);
    std::vector<FitFace> sides;
    double side_area = 0;
    for (const FitFace& f : faces)
        if (std::abs(f.normal.dot(direction)) < beside_axis) {
            sides.push_back(f);
            side_area += f.area;
        }
    if (sides.size() < 6) return std::nullopt;
    const FoundPlane plane(direction);
    const Vec2 centre = meeting_point(mesh, sides, plane, size);
    Candidate c{{plane.lift(centre), direction}, gather_round(mesh, sides, plane, centre, size), sides, 0};
    c.support = c.round.area / side_area;
    return c;
}

void refine(Candidate& c, double size) {
    for (int step = 0; step < 10; ++step)
        if (refine_once(c.axis, c.round, size) < 1e-13) break;
}

CylinderFit finish(const Mesh& mesh, Candidate& best, double size) {
    refine(best, size);
    // Radii are told apart once more from the better axis: noise puts the first one so far off that one
    // radius may show as two.
    const FoundPlane plane(best.axis.direction);
    best.round = gather_round(mesh, best.sides, plane, plane.project(best.axis.point), size);
    refine(best, size);
    for (int pass = 0; pass < 4 && gather_again(mesh, best, size); ++pass) refine(best, size);
    best.axis.direction = mostly_positive(best.axis.direction);
    CylinderFit fit;
    fit.axis_direction = best.axis.direction;
    const auto widest =
        std::max_element(best.round.areas.begin(), best.round.areas.end()) - best.round.areas.begin();
    fit.radius_m = best.round.radii[static_cast<std::size_t>(widest)];
    fit.residual_m = residual_rms(best.axis, best.round);
    fit.support = best.support;
    double low = 1e300, high = -1e300, round_low = 1e300, round_high = -1e300;
    for (const Vec3f& p : mesh.positions) {
        const Vec3 from = p.cast<double>() - best.axis.point;
        const double along = from.dot(fit.axis_direction);
        low = std::min(low, along);
        high = std::max(high, along);
        fit.outer_radius_m = std::max(fit.outer_radius_m, (from - along * fit.axis_direction).norm());
    }
    for (const Round::Sample& s : best.round.samples) {
        const double along = (s.point - best.axis.point).dot(fit.axis_direction);
        round_low = std::min(round_low, along);
        round_high = std::max(round_high, along);
    }
    fit.length_m = high - low;
    fit.axis_point = best.axis.point + 0.5 * (round_low + round_high) * fit.axis_direction;
    return fit;
}

}  // namespace

Result<CylinderFit> fit_cylinder(const Mesh& mesh, const CylinderFitOptions& options) {
    const std::vector<FitFace> faces = faces_of(mesh);
    if (faces.empty()) return Error{"fit.empty", "the shape has no surface to fit a cylinder to", ""};
    const double size = mesh_bounds(mesh).longest();
    const Eigen::SelfAdjointEigenSolver<Mat3> eigen(
        normal_covariance(faces, [](const FitFace&) { return true; }));
    std::optional<Candidate> best;
    for (int k = 0; k < 3; ++k) {
        auto candidate = try_direction(mesh, faces, eigen.eigenvectors().col(k), size);
        if (!candidate) continue;
        const double merit = candidate->support * candidate->round.coverage_rad * candidate->round.area;
        if (!best || merit > best->support * best->round.coverage_rad * best->round.area)
            best = std::move(candidate);
    }
    if (!best || best->support < options.least_support ||
        best->round.coverage_rad < options.least_coverage_rad)
        return Error{
            "fit.not_round",
            fmt::format("not round: {:.0f} % of its side surface lies on cylinders about one axis and covers "
                        "{:.0f}° (needs {:.0f} % and {:.0f}°)",
                        100 * (best ? best->support : 0), deg_per_rad * (best ? best->round.coverage_rad : 0),
                        100 * options.least_support, deg_per_rad * options.least_coverage_rad),
            ""};
    return finish(mesh, *best, size);
}

}  // namespace pivrak
