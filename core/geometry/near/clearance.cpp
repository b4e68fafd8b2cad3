#include "core/geometry/near/clearance.h"

#include <fcl/narrowphase/collision.h>
#include <fcl/narrowphase/distance.h>

#include <limits>

#include "core/geometry/near/triangle_distance.h"

namespace pivrak {

using Model = fcl::BVHModel<fcl::OBBRSSd>;

struct ClearanceBody::State {
    Model model;
    bool empty = true;
};

ClearanceBody::ClearanceBody(const Mesh& mesh) : state_(std::make_unique<State>()) {
    state_->empty = mesh.indices.empty();
    if (state_->empty) return;
    state_->model.beginModel(static_cast<int>(mesh.triangle_count()),
                             static_cast<int>(mesh.positions.size()));
    std::vector<fcl::Vector3d> points;
    points.reserve(mesh.positions.size());
    for (const Vec3f& p : mesh.positions) points.emplace_back(p.cast<double>());
    std::vector<fcl::Triangle> triangles;
    triangles.reserve(mesh.triangle_count());
    for (std::size_t i = 0; i + 2 < mesh.indices.size(); i += 3)
        triangles.emplace_back(mesh.indices[i], mesh.indices[i + 1], mesh.indices[i + 2]);
    state_->model.addSubModel(points, triangles);
    state_->model.endModel();
}

ClearanceBody::ClearanceBody() : state_(std::make_unique<State>()) {}

ClearanceBody ClearanceBody::grown(double factor) const {
    ClearanceBody out;
    const Model& model = state_->model;
    out.state_->empty = state_->empty;
    if (state_->empty) return out;
    std::vector<fcl::Vector3d> points(model.vertices, model.vertices + model.num_vertices);
    for (fcl::Vector3d& point : points) point *= factor;
    const std::vector<fcl::Triangle> triangles(model.tri_indices, model.tri_indices + model.num_tris);
    out.state_->model.beginModel(model.num_tris, model.num_vertices);
    out.state_->model.addSubModel(points, triangles);
    out.state_->model.endModel();
    return out;
}

ClearanceBody::~ClearanceBody() = default;
ClearanceBody::ClearanceBody(ClearanceBody&&) noexcept = default;
ClearanceBody& ClearanceBody::operator=(ClearanceBody&&) noexcept = default;

namespace {

fcl::Transform3d to_fcl(const Frame& frame) {
    fcl::Transform3d t = fcl::Transform3d::Identity();
    t.linear() = frame.rotation.toRotationMatrix();
    t.translation() = frame.translation;
    return t;
}

}  // namespace

bool ClearanceBody::touches(const Frame& world_from_this, const ClearanceBody& other,
                            const Frame& world_from_other) const {
    if (state_->empty || other.state_->empty) return false;
    fcl::CollisionRequestd touch;
    fcl::CollisionResultd touched;
    return fcl::collide(&state_->model, to_fcl(world_from_this), &other.state_->model,
                        to_fcl(world_from_other), touch, touched) > 0;
}

double ClearanceBody::distance(const Frame& world_from_this, const ClearanceBody& other,
                               const Frame& world_from_other) const {
    if (state_->empty || other.state_->empty) return std::numeric_limits<double>::infinity();
    // Surfaces that cut into each other have edges some way apart: contact is asked for first.
    if (touches(world_from_this, other, world_from_other)) return 0;
    const fcl::Transform3d a = to_fcl(world_from_this), b = to_fcl(world_from_other);
    fcl::DistanceRequestd request;
    fcl::DistanceResultd result;
    return std::max(0.0, fcl::distance(&state_->model, a, &other.state_->model, b, request, result));
}

SurfaceGap ClearanceBody::gap(const Frame& world_from_this, const ClearanceBody& other,
                              const Frame& world_from_other) const {
    if (state_->empty || other.state_->empty) return {std::numeric_limits<double>::infinity()};
    const fcl::Transform3d a = to_fcl(world_from_this), b = to_fcl(world_from_other);
    fcl::CollisionRequestd touch(1, true);
    fcl::CollisionResultd touched;
    if (fcl::collide(&state_->model, a, &other.state_->model, b, touch, touched) > 0) {
        const Vec3 at = touched.getContact(0).pos;
        return {0, at, at};
    }
    fcl::DistanceRequestd request;
    fcl::DistanceResultd result;
    fcl::distance(&state_->model, a, &other.state_->model, b, request, result);
    // The two triangles that are nearest are known: where on them, is worked out anew.
    const auto corners = [](const Model& model, int triangle, const Frame& frame) {
        const fcl::Triangle& of = model.tri_indices[triangle];
        return Triangle{frame.point(model.vertices[of[0]]), frame.point(model.vertices[of[1]]),
                        frame.point(model.vertices[of[2]])};
    };
    const TriangleGap gap =
        triangle_gap(corners(state_->model, static_cast<int>(result.b1), world_from_this),
                     corners(other.state_->model, static_cast<int>(result.b2), world_from_other));
    return {gap.distance, gap.on_first, gap.on_second};
}

}  // namespace pivrak
