// Wheels that lean, against closed forms and against an outside library's collision test.
#include "core/geometry/ground/leaning_stand.h"

#include <fcl/geometry/bvh/BVH_model.h>
#include <fcl/narrowphase/collision.h>
#include <gtest/gtest.h>

#include <cmath>
#include <memory>
#include <random>

#include "tests/support/shapes.h"

namespace pivrak {
namespace {

GroundWheel wheel_leaning(double lean, double heading, const Vec3& hub) {
    const Quat turn =
        Quat(Eigen::AngleAxisd(heading, Vec3::UnitZ())) * Quat(Eigen::AngleAxisd(lean, Vec3::UnitX()));
    return {hub, turn * Vec3::UnitY(), 0.4, 0.1};
}

GroundMap map_of(const Mesh& mesh) {
    return GroundMap(mesh, {});
}

/// Bumps of a decimetre, two a metre.
Mesh bumps() {
    Mesh mesh;
    constexpr int count = 30;
    for (int i = 0; i <= count; ++i)
        for (int k = 0; k <= count; ++k) {
            const double x = -1.5 + 3.0 * i / count, y = -1.5 + 3.0 * k / count;
            mesh.positions.push_back(Vec3(x, y, 0.1 * std::sin(4 * x + 1) * std::cos(5 * y)).cast<float>());
        }
    for (int i = 0; i < count; ++i)
        for (int k = 0; k < count; ++k) {
            const auto a = static_cast<std::uint32_t>(i * (count + 1) + k), b = a + count + 1;
            mesh.indices.insert(mesh.indices.end(), {a, b, b + 1, a, b + 1, a + 1});
        }
    return mesh;
}

TEST(LeaningStand, OnLevelGroundItIsTheLowestPlaceOfACylinder) {
    const GroundMap ground = map_of(test::box({-5, -5, -1}, {5, 5, 0}));
    for (double lean = -pi / 2; lean <= pi / 2 + 1e-9; lean += pi / 36)
        for (const double heading : {0.0, 0.7, 2.4}) {
            const GroundWheel wheel = wheel_leaning(lean, heading, {0.3, -0.2, 0.55});
            const auto found = ground.stand_leaning(wheel);
            ASSERT_TRUE(found.has_value());
            // By hand: the lower rim's lowest place is r cos + w sin below the hub.
            const double below = 0.4 * std::abs(std::cos(lean)) + 0.1 * std::abs(std::sin(lean));
            EXPECT_NEAR(found->lift_m, below - 0.55, 1e-9) << lean << " " << heading;
            EXPECT_NEAR(found->place.z(), 0, 1e-9);
        }
}

TEST(LeaningStand, OnASlopeItIsTheSupportOfACylinder) {
    // A plane through the origin; a cylinder reaches r |n across| + w |n along| towards it.
    Mesh slope;
    const auto z = [](double x, double y) { return 0.3 * x - 0.2 * y; };
    for (const auto& [x, y] :
         {std::pair(-6.0, -6.0), std::pair(6.0, -6.0), std::pair(6.0, 6.0), std::pair(-6.0, 6.0)})
        slope.positions.push_back(Vec3(x, y, z(x, y)).cast<float>());
    slope.indices = {0, 1, 2, 0, 2, 3};
    const GroundMap ground = map_of(slope);
    const Vec3 normal = Vec3(-0.3, 0.2, 1).normalized();
    for (const double lean : {-1.4, -0.6, 0.0, 0.3, 1.1, 1.57}) {
        const GroundWheel wheel = wheel_leaning(lean, 0.9, {0.2, 0.1, 0.4});
        const double along = normal.dot(wheel.axle),
                     reach = 0.4 * std::sqrt(1 - along * along) + 0.1 * std::abs(along);
        const double lift = (reach - normal.dot(wheel.hub)) / normal.z();
        const auto found = ground.stand_leaning(wheel);
        ASSERT_TRUE(found.has_value());
        EXPECT_NEAR(found->lift_m, lift, 1e-6) << lean << ": vertices are rounded to single precision";
    }
}

/// Whether a cylinder meets a mesh. Source: FCL's collision of a cylinder with a tree of triangles.
class Collider {
public:
    explicit Collider(const Mesh& mesh) {
        std::vector<fcl::Vector3d> vertices;
        std::vector<fcl::Triangle> triangles;
        for (const Vec3f& p : mesh.positions) vertices.push_back(p.cast<double>());
        for (std::size_t i = 0; i + 2 < mesh.indices.size(); i += 3)
            triangles.emplace_back(mesh.indices[i], mesh.indices[i + 1], mesh.indices[i + 2]);
        auto model = std::make_shared<fcl::BVHModel<fcl::OBBRSSd>>();
        model->beginModel();
        model->addSubModel(vertices, triangles);
        model->endModel();
        ground_ = std::make_unique<fcl::CollisionObjectd>(model);
    }
    bool collides(const GroundWheel& wheel, double raised) const {
        fcl::Transform3d pose = fcl::Transform3d::Identity();
        pose.linear() = Quat::FromTwoVectors(Vec3::UnitZ(), wheel.axle).toRotationMatrix();
        pose.translation() = wheel.hub + raised * Vec3::UnitZ();
        const fcl::CollisionObjectd cylinder(
            std::make_shared<fcl::Cylinderd>(wheel.radius_m, 2 * wheel.half_width_m), pose);
        const fcl::CollisionRequestd request;
        fcl::CollisionResultd result;
        return fcl::collide(&cylinder, ground_.get(), request, result) > 0;
    }

private:
    std::unique_ptr<fcl::CollisionObjectd> ground_;
};

TEST(LeaningStand, OnBumpsItTouchesAndCutsNowhere) {
    const Mesh mesh = bumps();
    const GroundMap ground = map_of(mesh);
    const Collider outside(mesh);
    std::mt19937 dice(11);
    std::uniform_real_distribution<double> lean(-pi / 2, pi / 2), heading(-pi, pi), place(-0.7, 0.7);
    for (int i = 0; i < 60; ++i) {
        const GroundWheel wheel =
            wheel_leaning(i % 10 == 0 ? pi / 2 : lean(dice), heading(dice), {place(dice), place(dice), 0.2});
        const auto found = ground.stand_leaning(wheel);
        ASSERT_TRUE(found.has_value());
        EXPECT_FALSE(outside.collides(wheel, found->lift_m + 1e-4)) << i;
        EXPECT_TRUE(outside.collides(wheel, found->lift_m - 1e-4)) << i;
    }
}

TEST(LeaningStand, BesideTheGroundThereIsNone) {
    const GroundMap ground = map_of(test::box({-1, -1, -1}, {1, 1, 0}));
    EXPECT_FALSE(ground.stand_leaning(wheel_leaning(0.4, 0, {3, 0, 1})).has_value());
}

}  // namespace
}  // namespace pivrak
