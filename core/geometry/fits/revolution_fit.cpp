#include "core/geometry/fits/revolution_fit.h"

#include <Eigen/Dense>
#include <cmath>

#include "core/geometry/direction.h"

namespace pivrak {
namespace {

using Vec6 = Eigen::Matrix<double, 6, 1>;
using Mat6 = Eigen::Matrix<double, 6, 6>;

/// Of the faces that are no flat ends, as many at least: a thin plate is all ends, and these know of no
/// middle.
constexpr double least_of_sides = 0.25;

struct TurnedFace {
    Vec3 middle, normal;  ///< about the middle of the mesh, in units of its size
    double area;
};

struct TurningAxis {
    Vec3 direction, point;
};

std::vector<TurnedFace> faces_of(const Mesh& mesh, const Vec3& middle, double size) {
    std::vector<TurnedFace> faces;
    for (std::size_t t = 0; t < mesh.triangle_count(); ++t) {
        const Vec3 a = mesh.corner(t, 0), b = mesh.corner(t, 1), c = mesh.corner(t, 2);
        const Vec3 cross = (b - a).cross(c - a);
        const double twice = cross.norm();
        if (twice > 0) faces.push_back({((a + b + c) / 3.0 - middle) / size, cross / twice, 0.5 * twice});
    }
    return faces;
}

/// Distance-like miss of a normal and an axis: the volume spanned, in units of the size.
double miss(const TurnedFace& f, const TurningAxis& axis) {
    return axis.direction.dot((f.middle - axis.point).cross(f.normal));
}

/// Sine of the angle by which a normal turns out of the plane through the axis (at the origin) and a place.
double twist(const Vec3& place, const Vec3& normal, const Vec3& direction) {
    const Vec3 out = place - direction.dot(place) * direction;
    const double radius = out.norm();
    return radius > 1e-12 ? normal.dot(direction.cross(out / radius)) : 0;
}

/// The axis of least squares under weights. Solved for the direction; the moment follows from it.
std::optional<TurningAxis> solve(const std::vector<TurnedFace>& faces, const std::vector<double>& weights) {
    Mat6 m = Mat6::Zero();
    for (std::size_t i = 0; i < faces.size(); ++i) {
        Vec6 row;
        row << faces[i].middle.cross(faces[i].normal), faces[i].normal;
        m += weights[i] * row * row.transpose();
    }
    const Mat3 c = m.bottomRightCorner<3, 3>();
    const Eigen::SelfAdjointEigenSolver<Mat3> inner(c);
    if (inner.eigenvalues()[2] <= 0) return std::nullopt;
    // Where normals leave the moment open (along the axis of a cylinder) the smallest one is taken.
    Vec3 inverse = inner.eigenvalues();
    for (int k = 0; k < 3; ++k) inverse[k] = inverse[k] > 1e-9 * inner.eigenvalues()[2] ? 1 / inverse[k] : 0;
    const Mat3 c_inverse = inner.eigenvectors() * inverse.asDiagonal() * inner.eigenvectors().transpose();
    const Mat3 b = m.topRightCorner<3, 3>();
    const Eigen::SelfAdjointEigenSolver<Mat3> outer(
        Mat3(m.topLeftCorner<3, 3>() - b * c_inverse * b.transpose()));
    if (outer.eigenvalues()[1] < 1e-7 * outer.eigenvalues()[2]) return std::nullopt;
    TurningAxis axis;
    axis.direction = outer.eigenvectors().col(0);
    const Vec3 moment = -(c_inverse * b.transpose() * axis.direction);
    // A row reads d . (m x n) + moment . n = 0 with moment = point x d up to its part along d (a screw's
    // pitch).
    axis.point = axis.direction.cross(moment);
    return axis;
}

/// How much of a surface is turned about an axis.
struct RevolvedArea {
    double sides = 0;     ///< faces that are no flat ends
    double agreeing = 0;  ///< those of them whose normals meet the axis
    double ends = 0;      ///< square to the axis: they agree with any axis beside it as well
    double share() const {
        const double all = sides + ends;
        return all > 0 ? (agreeing + ends) / all : 0;
    }
};

RevolvedArea revolved_area(const Mesh& mesh, const Vec3& point, const Vec3& direction, double least_radius) {
    const double limit = std::sin(2 * rad_per_deg), widest = std::sin(32 * rad_per_deg);
    RevolvedArea area;
    for (std::size_t t = 0; t < mesh.triangle_count(); ++t) {
        const Vec3 corners[3] = {mesh.corner(t, 0) - point, mesh.corner(t, 1) - point,
                                 mesh.corner(t, 2) - point};
        const Vec3 cross = (corners[1] - corners[0]).cross(corners[2] - corners[0]);
        const double twice = cross.norm();
        const Vec3 middle = (corners[0] + corners[1] + corners[2]) / 3.0;
        if (twice <= 0 || (middle - direction.dot(middle) * direction).norm() < least_radius) continue;
        const Vec3 normal = cross / twice;
        if (std::abs(normal.dot(direction)) > 0.9995) {
            area.ends += 0.5 * twice;
            continue;
        }
        area.sides += 0.5 * twice;
        // A facet stands square to the axis somewhere within its width, not at its corners.
        double low = 1, high = -1;
        for (const Vec3& corner : corners) {
            const double turned = twist(corner, normal, direction);
            low = std::min(low, turned);
            high = std::max(high, turned);
        }
        if (low <= limit && high >= -limit && low >= -widest && high <= widest) area.agreeing += 0.5 * twice;
    }
    return area;
}

}  // namespace

std::optional<RevolutionFit> fit_revolution(const Mesh& mesh, double least_support) {
    const Bounds bounds = mesh_bounds(mesh);
    if (bounds.empty() || bounds.longest() <= 0) return std::nullopt;
    const double size = bounds.longest();
    const std::vector<TurnedFace> faces = faces_of(mesh, bounds.middle(), size);
    if (faces.size() < 6) return std::nullopt;
    std::vector<double> weights;
    for (const TurnedFace& f : faces) weights.push_back(f.area);
    std::optional<TurningAxis> axis;
    for (double scale = 0.5; scale > 0.002; scale *= 0.6) {
        const auto better = solve(faces, weights);
        if (!better) break;
        axis = better;
        for (std::size_t i = 0; i < faces.size(); ++i) {
            const double off = miss(faces[i], *axis) / scale;
            weights[i] = faces[i].area / ((1 + off * off) * (1 + off * off));
        }
    }
    if (!axis) return std::nullopt;
    RevolutionFit fit;
    fit.axis_direction = mostly_positive(axis->direction.normalized());
    fit.axis_point = bounds.middle() + size * axis->point;
    const RevolvedArea area = revolved_area(mesh, fit.axis_point, fit.axis_direction, 0);
    fit.support = area.share();
    if (fit.support < least_support || area.agreeing < least_of_sides * area.sides) return std::nullopt;
    double low = 1e300, high = -1e300;
    for (const Vec3f& p : mesh.positions) {
        const Vec3 from = p.cast<double>() - fit.axis_point;
        const double along = fit.axis_direction.dot(from);
        low = std::min(low, along);
        high = std::max(high, along);
        fit.outer_radius_m = std::max(fit.outer_radius_m, (from - along * fit.axis_direction).norm());
    }
    fit.length_m = high - low;
    fit.axis_point += 0.5 * (low + high) * fit.axis_direction;
    return fit;
}

double revolved_share(const Mesh& mesh, const Vec3& point, const Vec3& direction, double least_radius) {
    return revolved_area(mesh, point, direction, least_radius).share();
}

}  // namespace pivrak
