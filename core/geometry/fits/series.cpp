#include "core/geometry/fits/series.h"

#include <Eigen/Dense>
#include <algorithm>
#include <cmath>
#include <numeric>

#include "core/geometry/direction.h"

namespace pivrak {
namespace {

constexpr double off_share = 0.01;

/// The common difference of sorted values, or 0.
double even_step(const std::vector<double>& sorted) {
    const double step = (sorted.back() - sorted.front()) / static_cast<double>(sorted.size() - 1);
    for (std::size_t i = 1; i < sorted.size(); ++i)
        if (std::abs(sorted[i] - sorted[i - 1] - step) > off_share * std::abs(step)) return 0;
    return step;
}

std::vector<std::size_t> sorted_by(const std::vector<double>& keys) {
    std::vector<std::size_t> order(keys.size());
    std::iota(order.begin(), order.end(), 0);
    std::stable_sort(order.begin(), order.end(),
                     [&](std::size_t a, std::size_t b) { return keys[a] < keys[b]; });
    return order;
}

bool as_line(const std::vector<Vec3>& places, const Vec3& middle, const Vec3& main, Series& series) {
    const Vec3 direction = mostly_positive(main);
    std::vector<double> along;
    double off = 0;
    for (const Vec3& p : places) {
        along.push_back(direction.dot(p - middle));
        off = std::max(off, (p - middle - along.back() * direction).norm());
    }
    const auto [low, high] = std::minmax_element(along.begin(), along.end());
    if (off > off_share * (*high - *low)) return false;
    series.kind = Series::Kind::Line;
    series.direction = direction;
    series.centre = middle;
    series.order = sorted_by(along);
    std::sort(along.begin(), along.end());
    series.step = even_step(along);
    return true;
}

bool as_circle(const std::vector<Vec3>& places, const Vec3& middle, const Vec3& normal, Series& series) {
    if (places.size() < 3) return false;
    const Vec3 axis = mostly_positive(normal);
    // Angles run from forward, or from up where the axis itself points forward.
    Vec3 start = Vec3::UnitX() - axis.x() * axis;
    if (start.norm() < 0.1) start = Vec3::UnitZ() - axis.z() * axis;
    start.normalize();
    const Vec3 side = axis.cross(start);
    // Algebraic circle: |p|² = 2 c.p + k.
    Mat3 a = Mat3::Zero();
    Vec3 b(0, 0, 0);
    double off = 0, reach = 0;
    for (const Vec3& p : places) {
        const Vec3 from = p - middle, row(start.dot(from), side.dot(from), 1);
        a += row * row.transpose();
        b += row * row.head<2>().squaredNorm();
        off = std::max(off, std::abs(axis.dot(from)));
        reach = std::max(reach, from.norm());
    }
    if (std::abs(a.determinant()) < 1e-12 * std::pow(a.trace(), 3)) return false;
    const Vec3 solved = a.ldlt().solve(b);
    const Vec2 centre = 0.5 * solved.head<2>();
    const double radius = std::sqrt(std::max(0.0, solved.z() + centre.squaredNorm()));
    std::vector<double> angles;
    for (const Vec3& p : places) {
        const Vec2 from = Vec2(start.dot(p - middle), side.dot(p - middle)) - centre;
        off = std::max(off, std::abs(from.norm() - radius));
        double angle = std::atan2(from.y(), from.x());
        if (angle < -1e-6) angle += 2 * pi;
        angles.push_back(angle);
    }
    if (radius > 4 * reach || off > off_share * radius) return false;
    series.kind = Series::Kind::Round;
    series.direction = axis;
    series.centre = middle + centre.x() * start + centre.y() * side;
    series.order = sorted_by(angles);
    std::sort(angles.begin(), angles.end());
    series.step = even_step(angles);
    return true;
}

}  // namespace

Series order_series(const std::vector<Vec3>& places) {
    Series series;
    series.order.resize(places.size());
    std::iota(series.order.begin(), series.order.end(), 0);
    if (places.size() < 2) return series;
    Vec3 middle(0, 0, 0);
    for (const Vec3& p : places) middle += p;
    middle /= static_cast<double>(places.size());
    Mat3 spread = Mat3::Zero();
    for (const Vec3& p : places) spread += (p - middle) * (p - middle).transpose();
    if (spread.trace() <= 0) return series;
    const Eigen::SelfAdjointEigenSolver<Mat3> eigen(spread);
    if (as_line(places, middle, eigen.eigenvectors().col(2), series)) return series;
    if (as_circle(places, middle, eigen.eigenvectors().col(0), series)) return series;
    std::stable_sort(series.order.begin(), series.order.end(), [&](std::size_t i, std::size_t j) {
        const Vec3 &p = places[i], &q = places[j];
        if (std::abs(p.x() - q.x()) > 1e-3) return p.x() > q.x();
        return std::abs(p.y() - q.y()) > 1e-3 ? p.y() > q.y() : p.z() < q.z();
    });
    return series;
}

}  // namespace pivrak
