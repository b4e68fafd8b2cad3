#include "core/geometry/near/ray_scene.h"

#include <unordered_map>

#include "core/geometry/near/embree_scene.h"

namespace pivrak {

namespace {

EmbreeScene build_mesh_scene(RTCDevice device, const Mesh& mesh) {
    EmbreeScene scene(rtcNewScene(device));
    attach_mesh(device, scene.handle, mesh, 0);
    rtcCommitScene(scene.handle);
    return scene;
}

}  // namespace

struct RayScene::State {
    struct CachedMesh {
        std::shared_ptr<const Mesh> mesh;
        EmbreeScene scene;
    };
    EmbreeDevice device{rtcNewDevice(nullptr)};
    std::unordered_map<const Mesh*, CachedMesh> meshes;
    EmbreeScene top;
};

RayScene::RayScene() : state_(std::make_unique<State>()) {}
RayScene::~RayScene() = default;
RayScene::RayScene(RayScene&&) noexcept = default;
RayScene& RayScene::operator=(RayScene&&) noexcept = default;

void RayScene::set_instances(std::span<const Instance> instances) {
    std::unordered_map<const Mesh*, State::CachedMesh> kept;
    EmbreeScene top(rtcNewScene(state_->device.handle));
    for (std::size_t i = 0; i < instances.size(); ++i) {
        const Instance& instance = instances[i];
        if (!instance.mesh || instance.mesh->indices.empty()) continue;
        auto& cached = kept[instance.mesh.get()];
        if (!cached.mesh) {
            const auto known = state_->meshes.find(instance.mesh.get());
            if (known != state_->meshes.end())
                cached = std::move(known->second);
            else
                cached = {instance.mesh, build_mesh_scene(state_->device.handle, *instance.mesh)};
        }
        const RTCGeometry geometry = rtcNewGeometry(state_->device.handle, RTC_GEOMETRY_TYPE_INSTANCE);
        rtcSetGeometryInstancedScene(geometry, cached.scene.handle);
        const Eigen::Matrix4f matrix = instance.world_from_mesh.matrix().cast<float>();
        rtcSetGeometryTransform(geometry, 0, RTC_FORMAT_FLOAT4X4_COLUMN_MAJOR, matrix.data());
        rtcCommitGeometry(geometry);
        rtcAttachGeometryByID(top.handle, geometry, static_cast<unsigned>(i));
        rtcReleaseGeometry(geometry);
    }
    rtcCommitScene(top.handle);
    state_->top = std::move(top);
    state_->meshes = std::move(kept);
}

std::optional<RayHit> RayScene::nearest(const Ray& ray) const {
    if (!state_->top.handle) return std::nullopt;
    RTCRayHit query{};
    query.ray.org_x = static_cast<float>(ray.origin.x());
    query.ray.org_y = static_cast<float>(ray.origin.y());
    query.ray.org_z = static_cast<float>(ray.origin.z());
    query.ray.dir_x = static_cast<float>(ray.direction.x());
    query.ray.dir_y = static_cast<float>(ray.direction.y());
    query.ray.dir_z = static_cast<float>(ray.direction.z());
    query.ray.tfar = std::numeric_limits<float>::infinity();
    query.ray.mask = ~0u;
    query.hit.geomID = RTC_INVALID_GEOMETRY_ID;
    query.hit.instID[0] = RTC_INVALID_GEOMETRY_ID;
    RTCIntersectContext context;
    rtcInitIntersectContext(&context);
    rtcIntersect1(state_->top.handle, &context, &query);
    if (query.hit.geomID == RTC_INVALID_GEOMETRY_ID) return std::nullopt;
    return RayHit{query.hit.instID[0], query.hit.primID, static_cast<double>(query.ray.tfar)};
}

}  // namespace pivrak
