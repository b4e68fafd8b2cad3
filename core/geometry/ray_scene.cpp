#include "core/geometry/ray_scene.h"

#include <embree3/rtcore.h>

#include <unordered_map>
#include <utility>

namespace pivrak {

namespace {

/// Owns a device or scene of Embree, released in reverse order of making.
template <class Handle, void (*release)(Handle)>
struct Owned {
    Handle handle = nullptr;
    Owned() = default;
    explicit Owned(Handle h) : handle(h) {}
    Owned(Owned&& other) noexcept : handle(std::exchange(other.handle, nullptr)) {}
    Owned& operator=(Owned&& other) noexcept {
        std::swap(handle, other.handle);
        return *this;
    }
    ~Owned() {
        if (handle) release(handle);
    }
};
using Device = Owned<RTCDevice, rtcReleaseDevice>;
using Scene = Owned<RTCScene, rtcReleaseScene>;

Scene build_mesh_scene(RTCDevice device, const Mesh& mesh) {
    Scene scene(rtcNewScene(device));
    const RTCGeometry geometry = rtcNewGeometry(device, RTC_GEOMETRY_TYPE_TRIANGLE);
    auto* vertices = static_cast<float*>(rtcSetNewGeometryBuffer(
        geometry, RTC_BUFFER_TYPE_VERTEX, 0, RTC_FORMAT_FLOAT3, 3 * sizeof(float), mesh.positions.size()));
    auto* indices = static_cast<unsigned*>(rtcSetNewGeometryBuffer(
        geometry, RTC_BUFFER_TYPE_INDEX, 0, RTC_FORMAT_UINT3, 3 * sizeof(unsigned), mesh.triangle_count()));
    for (std::size_t v = 0; v < mesh.positions.size(); ++v)
        for (int k = 0; k < 3; ++k) vertices[3 * v + static_cast<std::size_t>(k)] = mesh.positions[v][k];
    std::copy(mesh.indices.begin(), mesh.indices.end(), indices);
    rtcCommitGeometry(geometry);
    rtcAttachGeometry(scene.handle, geometry);
    rtcReleaseGeometry(geometry);
    rtcCommitScene(scene.handle);
    return scene;
}

}  // namespace

struct RayScene::State {
    struct CachedMesh {
        std::shared_ptr<const Mesh> mesh;
        Scene scene;
    };
    Device device{rtcNewDevice(nullptr)};
    std::unordered_map<const Mesh*, CachedMesh> meshes;
    Scene top;
};

RayScene::RayScene() : state_(std::make_unique<State>()) {}
RayScene::~RayScene() = default;
RayScene::RayScene(RayScene&&) noexcept = default;
RayScene& RayScene::operator=(RayScene&&) noexcept = default;

void RayScene::set_instances(std::span<const Instance> instances) {
    std::unordered_map<const Mesh*, State::CachedMesh> kept;
    Scene top(rtcNewScene(state_->device.handle));
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
