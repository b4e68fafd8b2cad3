#pragma once

#include <fcl/geometry/bvh/BVH_model.h>
#include <fcl/geometry/shape/sphere.h>
#include <fcl/math/bv/OBBRSS.h>
#include <fcl/narrowphase/distance.h>

#include <memory>

#include "core/geometry/frame.h"
#include "core/geometry/mesh.h"

namespace pivrak::test {

/// Whether a point lies inside a closed mesh: the solid angle of its surface seen from there is a full
/// sphere. Source: Van Oosterom and Strackee, The solid angle of a plane triangle (1983).
inline bool is_inside(const Mesh& mesh, const Vec3& p) {
    double sum = 0;
    for (std::size_t t = 0; t < mesh.triangle_count(); ++t) {
        const Vec3 a = mesh.corner(t, 0) - p, b = mesh.corner(t, 1) - p, c = mesh.corner(t, 2) - p;
        const double la = a.norm(), lb = b.norm(), lc = c.norm();
        sum +=
            2 * std::atan2(a.dot(b.cross(c)), la * lb * lc + a.dot(b) * lc + b.dot(c) * la + c.dot(a) * lb);
    }
    return sum > 2 * pi;
}

/// A closed mesh that can be asked how deep a point stands in it.
class ClosedBody {
public:
    using Bvh = fcl::BVHModel<fcl::OBBRSSd>;

    explicit ClosedBody(const Mesh& mesh)
        : mesh_(mesh), bounds_(mesh_bounds(mesh)), bvh_(std::make_shared<Bvh>()) {
        bvh_->beginModel();
        for (std::size_t t = 0; t < mesh.triangle_count(); ++t)
            bvh_->addTriangle(mesh.corner(t, 0), mesh.corner(t, 1), mesh.corner(t, 2));
        bvh_->endModel();
    }
    const Mesh& mesh() const { return mesh_; }

    /// By FCL's distance to the surface [m]; 0 for a point outside.
    double depth(const Vec3& p) const {
        if (!bounds_.contains(p) || !is_inside(mesh_, p)) return 0;
        const auto point = std::make_shared<fcl::Sphered>(1e-9);
        fcl::CollisionObjectd body(bvh_), sphere(point, Eigen::Matrix3d::Identity(), p);
        fcl::DistanceRequestd request;
        fcl::DistanceResultd result;
        fcl::distance(&body, &sphere, request, result);
        return result.min_distance;
    }

private:
    const Mesh& mesh_;
    Bounds bounds_;
    std::shared_ptr<Bvh> bvh_;
};

}  // namespace pivrak::test
