#include "core/geometry/fits/primitive_fits.h"

#include <gtest/gtest.h>

#include <random>

#include "tests/support/minpack_cylinder.h"
#include "tests/support/shapes.h"

namespace pivrak {
namespace {

std::vector<Vec3> circle_points(const Frame& pose, double radius, double from, double to, int count,
                                double noise = 0) {
    std::mt19937 random(5);
    std::normal_distribution<double> error(0, 1);
    std::vector<Vec3> points;
    for (int i = 0; i < count; ++i) {
        const double a = from + (to - from) * i / count, r = radius + noise * error(random);
        points.push_back(pose.point({r * std::cos(a), r * std::sin(a), noise * error(random)}));
    }
    return points;
}

TEST(FitCircle, ExactPointsGiveTheExactCircleInAnyPose) {
    for (const Frame& pose : test::world_poses())
        for (const double to : {2 * pi, 1.0, 0.2}) {
            const auto fit = fit_circle(circle_points(pose, 0.35, 0, to, 24));
            ASSERT_TRUE(fit.ok()) << fit.error().message;
            const double slack = to < 0.5 ? 1e-8 : 1e-11;
            EXPECT_LT((fit->centre - pose.translation).norm(), slack);
            EXPECT_NEAR(fit->radius_m, 0.35, slack);
            EXPECT_LT(fit->normal.cross(pose.axis(2)).norm(), slack);
            EXPECT_LT(fit->residual_m, 1e-12);
        }
}

/// Independent of the fit: of n points with noise s round a full circle the centre scatters by s * sqrt(2/n)
/// in each direction, and the residual in plane and height is near s * sqrt(2).
/// Source: least squares of a circle, variance of the estimates for even coverage (Chan 1965).
TEST(FitCircle, KnownNoiseGivesTheResidualAndErrorItMust) {
    const double noise = 2e-4;
    const int count = 400;
    for (const Frame& pose : test::world_poses()) {
        const auto fit = fit_circle(circle_points(pose, 0.35, 0, 2 * pi, count, noise));
        ASSERT_TRUE(fit.ok());
        EXPECT_NEAR(fit->residual_m, noise * std::sqrt(2), 0.15 * noise);
        EXPECT_LT((fit->centre - pose.translation).norm(), 4 * noise * std::sqrt(2.0 / count));
        EXPECT_NEAR(fit->radius_m, 0.35, 4 * noise / std::sqrt(count));
    }
}

TEST(FitCircle, RefusesWhatHasNoCircle) {
    const std::vector<Vec3> two{{0, 0, 0}, {1, 0, 0}}, line{{0, 0, 0}, {1, 1, 1}, {2, 2, 2}, {5, 5, 5}},
        same{{1, 1, 1}, {1, 1, 1}, {1, 1, 1}};
    EXPECT_EQ(fit_circle(two).error().code, "fit.few");
    EXPECT_EQ(fit_circle(line).error().code, "fit.straight");
    EXPECT_EQ(fit_circle(same).error().code, "fit.straight");
    EXPECT_EQ(fit_plane(line).error().code, "fit.straight");
}

TEST(RimCircle, AHoleOfAFlangeGivesItsCentre) {
    // A flange of radius 60 mm with a bore of 12 and five holes of 7 on a circle of 40: the places are known.
    const std::vector<Loop> holes = hole_ring(5, 40, 7, 32);
    std::vector<Loop> openings = holes;
    openings.push_back(circle(12, 40));
    const Mesh mesh = test::to_mesh(extrude(circle(60, 96), openings, -10, 10));
    const MeshTopology topology = mesh_topology(mesh);
    std::size_t outer = 0, bore = 0, hole = 0;
    for (const MeshTopology::Edge& edge : topology.edges) {
        const std::uint32_t low = topology.points.first_vertex[edge.low],
                            high = topology.points.first_vertex[edge.high];
        const Vec3f a = mesh.positions[low], b = mesh.positions[high];
        if (a.z() != b.z()) continue;  // along a wall
        const double reach = 0.5 * (a + b).head<2>().norm();
        const auto circle = rim_circle(mesh, topology, low, high);
        if (!circle) continue;
        EXPECT_NEAR(std::abs(circle->normal.z()), 1, 1e-9);
        EXPECT_NEAR(circle->centre.z(), a.z(), 1e-9);
        const Vec2 centre = circle->centre.head<2>();
        if (circle->radius_m > 0.05) {
            ++outer;
            EXPECT_NEAR(circle->radius_m, 0.060, 1e-6);
            EXPECT_LT(centre.norm(), 1e-6);
        } else if (reach < 0.02) {
            ++bore;
            EXPECT_NEAR(circle->radius_m, 0.012, 1e-6);
            EXPECT_LT(centre.norm(), 1e-6);
        } else {
            ++hole;
            EXPECT_NEAR(circle->radius_m, 0.007, 1e-6);
            double nearest = 1;
            for (int k = 0; k < 5; ++k) {
                const double angle = 2 * pi * k / 5;
                nearest = std::min(nearest, (centre - 0.040 * Vec2(std::cos(angle), std::sin(angle))).norm());
            }
            EXPECT_LT(nearest, 1e-6);
        }
    }
    EXPECT_GE(outer, 2u * 96);
    EXPECT_GE(bore, 2u * 40);
    EXPECT_GE(hole, 2u * 5 * 32);
}

TEST(RimCircle, NoRimWhereTheEdgesMakeASquare) {
    const Mesh mesh = test::box({0, 0, 0}, {1, 1, 1});
    EXPECT_FALSE(rim_circle(mesh, mesh_topology(mesh), 0, 1).has_value());
}

Mesh tube_side(double radius, double length, int around, double from, double to, double noise = 0) {
    std::mt19937 random(11);
    std::normal_distribution<double> error(0, 1);
    Mesh mesh;
    constexpr int along = 6;
    for (int i = 0; i <= around; ++i)
        for (int j = 0; j <= along; ++j) {
            const double a = from + (to - from) * i / around, r = radius + noise * error(random);
            mesh.positions.push_back(
                Vec3(r * std::cos(a), r * std::sin(a), length * j / along - length / 2).cast<float>());
        }
    const auto at = [&](int i, int j) { return static_cast<std::uint32_t>(i * (along + 1) + j); };
    for (int i = 0; i < around; ++i)
        for (int j = 0; j < along; ++j)
            mesh.indices.insert(mesh.indices.end(), {at(i, j), at(i + 1, j), at(i + 1, j + 1), at(i, j),
                                                     at(i + 1, j + 1), at(i, j + 1)});
    mesh.submeshes = {{MaterialId{}, 0, static_cast<std::uint32_t>(mesh.indices.size()), {}}};
    return mesh;
}

TEST(FitRoundFaces, APartOfASideIsEnoughInAnyPose) {
    for (const Frame& pose : test::world_poses())
        for (const double to : {2 * pi, pi, 0.6}) {
            const Mesh mesh = transformed(tube_side(0.2, 0.5, 24, 0, to), pose);
            const auto fit = fit_round_faces(mesh, std::vector<bool>(mesh.triangle_count(), true));
            ASSERT_TRUE(fit.ok()) << fit.error().message;
            EXPECT_NEAR(fit->radius_m, 0.2, 2e-5);
            EXPECT_LT(fit->axis_direction.cross(pose.axis(2)).norm(), 1e-4);
            EXPECT_LT((fit->axis_point - pose.translation).norm(), 3e-5) << "half way along";
            EXPECT_NEAR(fit->agreeing, 1, 1e-9);
        }
}

TEST(FitRoundFaces, FacesThatDoNotBelongLoseTheirSay) {
    const Mesh side = tube_side(0.2, 0.5, 48, 0, pi), bolt = test::box({0.15, 0.1, -0.1}, {0.3, 0.2, 0.1});
    const Mesh mesh = test::joined(side, bolt);
    const auto fit = fit_round_faces(mesh, std::vector<bool>(mesh.triangle_count(), true));
    ASSERT_TRUE(fit.ok()) << fit.error().message;
    EXPECT_NEAR(fit->radius_m, 0.2, 1e-6);
    EXPECT_LT(fit->axis_direction.cross(Vec3::UnitZ()).norm(), 1e-6);
    EXPECT_LT(fit->agreeing, 1);
}

/// Source: least squares; with n independent radial errors of s the residual is near s and the centre within
/// a few s / sqrt(n).
TEST(FitRoundFaces, KnownNoiseGivesTheResidualItMust) {
    const double noise = 1e-4;
    const Mesh mesh = tube_side(0.2, 0.5, 96, 0, 2 * pi, noise);
    const auto fit = fit_round_faces(mesh, std::vector<bool>(mesh.triangle_count(), true));
    ASSERT_TRUE(fit.ok()) << fit.error().message;
    EXPECT_NEAR(fit->residual_m, noise, 0.2 * noise);
    EXPECT_LT(fit->axis_point.head<2>().norm(), noise);
    EXPECT_NEAR(fit->radius_m, 0.2, noise);
}

TEST(FitRoundFaces, AgreesWithAnothersLeastSquares) {
    for (const Frame& pose : test::world_poses())
        for (const auto& [to, noise] : {std::pair{2 * pi, 3e-4}, std::pair{pi, 2e-4}, std::pair{1.2, 1e-4}}) {
            SCOPED_TRACE(to);
            const Mesh mesh = transformed(tube_side(0.2, 0.5, 48, 0, to, noise), pose);
            const auto fit = fit_round_faces(mesh, std::vector<bool>(mesh.triangle_count(), true));
            ASSERT_TRUE(fit.ok()) << fit.error().message;
            ASSERT_NEAR(fit->agreeing, 1, 1e-9) << "every corner counts";
            std::vector<Vec3> places;
            for (const std::uint32_t i : mesh.indices) places.push_back(mesh.positions[i].cast<double>());
            const auto theirs = test::minpack_cylinder(places, pose.point(Vec3(0.02, -0.01, 0)),
                                                       pose.rotation * Vec3(0.05, 0.03, 1), 0.19);
            EXPECT_NEAR(fit->radius_m, theirs.radius_m, 1e-7);
            EXPECT_NEAR(fit->residual_m, theirs.residual_m, 1e-7);
            EXPECT_LT(fit->axis_direction.cross(theirs.direction).norm(), 1e-6);
            EXPECT_LT((fit->axis_point - theirs.point).cross(theirs.direction).norm(), 1e-7);
        }
}

TEST(FitRoundFaces, RefusesPlanesAndSingleEdges) {
    const Mesh box = test::box({0, 0, 0}, {1, 1, 1});
    std::vector<bool> picked(box.triangle_count(), false);
    EXPECT_EQ(fit_round_faces(box, picked).error().code, "fit.empty");
    picked[0] = picked[1] = true;
    EXPECT_EQ(fit_round_faces(box, picked).error().code, "fit.flat");
    picked[4] = picked[5] = true;
    EXPECT_EQ(fit_round_faces(box, picked).error().code, "fit.flat") << "two planes meet at an edge";
}

}  // namespace
}  // namespace pivrak
