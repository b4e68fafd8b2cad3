#pragma once

#include <Eigen/Dense>
#include <unsupported/Eigen/NonLinearOptimization>
#include <unsupported/Eigen/NumericalDiff>
#include <vector>

#include "core/geometry/frame.h"

namespace pivrak::test {

/// A cylinder by another's solver: least squares of the distances of places from its side.
struct MinpackCylinder {
    Vec3 point, direction;
    double radius_m = 0, residual_m = 0;
};

/// Source: J. J. Moré, B. S. Garbow, K. E. Hillstrom, MINPACK-1 (1980), as ported by Eigen; derivatives by
/// differences. \param point, direction where it starts: near the answer, by a tenth or so.
inline MinpackCylinder minpack_cylinder(const std::vector<Vec3>& places, const Vec3& point,
                                        const Vec3& direction, double radius_m) {
    struct Distances {
        using Scalar = double;
        using InputType = Eigen::VectorXd;
        using ValueType = Eigen::VectorXd;
        using JacobianType = Eigen::MatrixXd;
        enum { InputsAtCompileTime = Eigen::Dynamic, ValuesAtCompileTime = Eigen::Dynamic };
        const std::vector<Vec3>& places;
        Vec3 point, e, f, g;  // moves and tilts along e and f, about a line along g
        int inputs() const { return 5; }
        int values() const { return static_cast<int>(places.size()); }
        Vec3 through(const InputType& x) const { return point + x[0] * e + x[1] * f; }
        Vec3 along(const InputType& x) const { return (g + x[2] * e + x[3] * f).normalized(); }
        int operator()(const InputType& x, ValueType& out) const {
            const Vec3 p = through(x), d = along(x);
            for (int i = 0; i < values(); ++i) {
                const Vec3 from = places[static_cast<std::size_t>(i)] - p;
                out[i] = (from - from.dot(d) * d).norm() - x[4];
            }
            return 0;
        }
    };
    const Vec3 g = direction.normalized(), e = g.unitOrthogonal();
    Distances distances{places, point, e, g.cross(e), g};
    Eigen::NumericalDiff<Distances, Eigen::Central> differences(distances);
    Eigen::LevenbergMarquardt<Eigen::NumericalDiff<Distances, Eigen::Central>> solver(differences);
    solver.parameters.xtol = solver.parameters.ftol = 1e-15;
    solver.parameters.maxfev = 4000;
    Eigen::VectorXd x(5), off(distances.values());
    x << 0, 0, 0, 0, radius_m;
    solver.minimize(x);
    distances(x, off);
    return {distances.through(x), distances.along(x), x[4],
            std::sqrt(off.squaredNorm() / distances.values())};
}

}  // namespace pivrak::test
