#pragma once

#include <fcl/geometry/bvh/BVH_model.h>
#include <fcl/geometry/shape/sphere.h>
#include <fcl/math/bv/OBBRSS.h>
#include <fcl/narrowphase/distance.h>

#include <memory>

#include "core/geometry/encloses.h"
#include "core/geometry/frame.h"
#include "core/geometry/mesh.h"

namespace pivrak::test {

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
        if (!bounds_.contains(p) || !encloses(mesh_, p)) return 0;
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
