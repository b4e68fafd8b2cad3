// Source: Moeller and Trumbore, Fast, minimum storage ray-triangle intersection (1997); a ray leaves a closed
// surface once more often than it enters when it starts inside.
#include "tests/support/interference.h"

#include <fcl/geometry/bvh/BVH_model.h>
#include <fcl/geometry/shape/sphere.h>
#include <fcl/math/bv/OBBRSS.h>
#include <fcl/narrowphase/distance.h>

namespace pivrak::test {

struct ClosedBody::Surface {
    std::shared_ptr<fcl::BVHModel<fcl::OBBRSSd>> bvh = std::make_shared<fcl::BVHModel<fcl::OBBRSSd>>();
};

ClosedBody::ClosedBody(const Mesh& mesh)
    : mesh_(mesh), bounds_(mesh_bounds(mesh)), surface_(std::make_unique<Surface>()) {
    surface_->bvh->beginModel();
    for (std::size_t t = 0; t < mesh.triangle_count(); ++t)
        surface_->bvh->addTriangle(mesh.corner(t, 0), mesh.corner(t, 1), mesh.corner(t, 2));
    surface_->bvh->endModel();
}

ClosedBody::~ClosedBody() = default;
ClosedBody::ClosedBody(ClosedBody&&) noexcept = default;

bool ClosedBody::encloses(const Vec3& p) const {
    // A direction that no flank of a made shape is parallel to.
    static const Vec3 ray = Vec3(0.5403023, 0.3314159, 0.7727272).normalized();
    bool inside = false;
    for (std::size_t t = 0; t < mesh_.triangle_count(); ++t) {
        const Vec3 a = mesh_.corner(t, 0), ab = mesh_.corner(t, 1) - a, ac = mesh_.corner(t, 2) - a;
        const Vec3 across = ray.cross(ac), from_a = p - a;
        const double size = ab.dot(across);
        if (size == 0) continue;
        const double u = from_a.dot(across) / size;
        if (u < 0 || u > 1) continue;
        const Vec3 other = from_a.cross(ab);
        const double v = ray.dot(other) / size;
        if (v < 0 || u + v > 1) continue;
        if (ac.dot(other) / size > 0) inside = !inside;
    }
    return inside;
}

double ClosedBody::depth(const Vec3& p) const {
    if (!bounds_.contains(p) || !encloses(p)) return 0;
    const auto point = std::make_shared<fcl::Sphered>(1e-9);
    fcl::CollisionObjectd body(surface_->bvh), sphere(point, Eigen::Matrix3d::Identity(), p);
    fcl::DistanceRequestd request;
    fcl::DistanceResultd result;
    fcl::distance(&body, &sphere, request, result);
    return result.min_distance;
}

}  // namespace pivrak::test
