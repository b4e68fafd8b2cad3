#include "core/geometry/fits/ring_fit.h"

#include <gtest/gtest.h>

#include <Eigen/Dense>
#include <unsupported/Eigen/NonLinearOptimization>
#include <unsupported/Eigen/NumericalDiff>

#include "core/geometry/fits/round_axis.h"
#include "core/geometry/mesh/weld.h"
#include "tests/support/shapes.h"

namespace pivrak {
namespace {

/// A turned shape about z, and which of its corners belong together: known from before it was shaken.
struct Turned {
    const char* name;
    Mesh mesh;
};

std::vector<Turned> turned_shapes() {
    return {{"tyre",
             test::to_mesh(revolve(
                 {{180, -80}, {225, -95}, {243, -80}, {250, -40}, {250, 40}, {243, 80}, {225, 95}, {180, 80}},
                 48, true))},
            {"torus", test::to_mesh(revolve(
                          {{190, -60}, {240, -40}, {250, 0}, {240, 40}, {190, 60}, {170, 0}}, 40, true))},
            {"drum", test::to_mesh(shaft(250, -100, 100, 10, 48))},
            {"wheel with lugs", test::to_mesh(wheel({250, 180, 150, 30, 20, 20, 6}))}};
}

/// Corners once each, with the ring of each: radius and place in the shape as it was made.
struct Known {
    std::vector<Vec3> places;
    std::vector<std::size_t> ring;
    std::size_t rings = 0;
};

Known shaken_corners(const Mesh& made, const Mesh& shaken) {
    Known known;
    std::map<std::pair<long, long>, std::size_t> number;
    const WeldedPoints welded = weld_points(made.positions);
    std::vector<bool> seen(welded.count(), false);
    for (std::size_t v = 0; v < made.positions.size(); ++v) {
        if (seen[welded.of_vertex[v]]) continue;
        seen[welded.of_vertex[v]] = true;
        const Vec3 p = made.positions[v].cast<double>();
        const auto key = std::pair(std::lround(p.z() * 1e5), std::lround(p.head<2>().norm() * 1e5));
        known.ring.push_back(number.try_emplace(key, number.size()).first->second);
        known.places.push_back(shaken.positions[v].cast<double>());
    }
    known.rings = number.size();
    return known;
}

/// Least squares with all rings known. Source: MINPACK-1 (1980), as ported by Eigen; derivatives by
/// differences.
Vec2 known_centre(const Known& known) {
    struct Off {
        using Scalar = double;
        using InputType = Eigen::VectorXd;
        using ValueType = Eigen::VectorXd;
        using JacobianType = Eigen::MatrixXd;
        enum { InputsAtCompileTime = Eigen::Dynamic, ValuesAtCompileTime = Eigen::Dynamic };
        const Known& known;
        int inputs() const { return 4; }
        int values() const { return 2 * static_cast<int>(known.places.size()); }
        int operator()(const InputType& x, ValueType& out) const {
            const Vec3 point(x[0], x[1], 0), along = Vec3(x[2], x[3], 1).normalized();
            std::vector<Vec2> seen, mean(known.rings, Vec2(0, 0));
            std::vector<double> count(known.rings, 0);
            for (std::size_t i = 0; i < known.places.size(); ++i) {
                const Vec3 from = known.places[i] - point;
                seen.push_back({(from - from.dot(along) * along).norm(), from.dot(along)});
                mean[known.ring[i]] += seen.back();
                ++count[known.ring[i]];
            }
            for (std::size_t i = 0; i < seen.size(); ++i)
                out.segment<2>(2 * static_cast<int>(i)) =
                    seen[i] - mean[known.ring[i]] / count[known.ring[i]];
            return 0;
        }
    };
    Off off{known};
    Eigen::NumericalDiff<Off, Eigen::Central> differences(off);
    Eigen::LevenbergMarquardt<Eigen::NumericalDiff<Off, Eigen::Central>> solver(differences);
    solver.parameters.maxfev = 400;
    Eigen::VectorXd x = Eigen::VectorXd::Zero(4);
    solver.minimize(x);
    return x.head<2>();
}

Mesh off_by(const Mesh& mesh, double noise_m, unsigned seed) {
    return test::shaken(mesh, std::normal_distribution<float>(0, static_cast<float>(noise_m)), seed);
}

/// Where an axis passes z = 0.
Vec2 at_zero(const RoundAxis& axis) {
    return (axis.point - axis.direction * (axis.point.z() / axis.direction.z())).head<2>();
}

/// Up to a hundredth of the diameter; the mean over some chances, since each alone may be lucky.
TEST(RoundAxis, NoiseMovesItNoMoreThanTwiceWhatLeastSquaresMust) {
    for (const Turned& shape : turned_shapes())
        for (const double noise : {0.001, 0.003, 0.006, 0.01}) {
            double own = 0, least = 0;
            for (unsigned seed = 1; seed <= 8; ++seed) {
                const Mesh mesh = off_by(shape.mesh, noise * 0.5, seed);
                const auto axis = round_axis(mesh);
                ASSERT_TRUE(axis.ok()) << shape.name << " " << noise << ": " << axis.error().message;
                own += at_zero(*axis).norm();
                least += known_centre(shaken_corners(shape.mesh, mesh)).norm();
            }
            EXPECT_LE(own, 2 * least)
                << shape.name << " " << noise << ": " << 1e3 * own / 8 << " mm against " << 1e3 * least / 8;
        }
}

TEST(RoundAxis, WithoutNoiseItIsExact) {
    for (const Turned& shape : turned_shapes())
        for (const Frame& pose : test::world_poses()) {
            const auto axis = round_axis(transformed(shape.mesh, pose));
            ASSERT_TRUE(axis.ok()) << shape.name;
            EXPECT_LT(axis->direction.cross(pose.axis(2)).norm(), 1e-5) << shape.name;
            EXPECT_LT((axis->point - pose.translation).cross(axis->direction).norm(), 1e-5) << shape.name;
        }
}

TEST(FindRings, ChamferedBlocksHaveNone) {
    EXPECT_FALSE(round_axis(test::to_mesh(extrude(rectangle(80, 80, 8), {}, 0, 60))).ok());
    EXPECT_FALSE(find_rings(test::box({0, 0, 0}, {1, 1, 1}), {12, 40 * rad_per_deg, 0.8}).has_value());
    EXPECT_FALSE(find_rings(Mesh{}, {}).has_value());
}

}  // namespace
}  // namespace pivrak
