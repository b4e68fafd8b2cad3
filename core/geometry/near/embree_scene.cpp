#include "core/geometry/near/embree_scene.h"

#include <algorithm>

namespace pivrak {

void attach_mesh(RTCDevice device, RTCScene scene, const Mesh& mesh, unsigned number) {
    const RTCGeometry geometry = rtcNewGeometry(device, RTC_GEOMETRY_TYPE_TRIANGLE);
    auto* vertices = static_cast<float*>(rtcSetNewGeometryBuffer(
        geometry, RTC_BUFFER_TYPE_VERTEX, 0, RTC_FORMAT_FLOAT3, 3 * sizeof(float), mesh.positions.size()));
    auto* indices = static_cast<unsigned*>(rtcSetNewGeometryBuffer(
        geometry, RTC_BUFFER_TYPE_INDEX, 0, RTC_FORMAT_UINT3, 3 * sizeof(unsigned), mesh.triangle_count()));
    for (const Vec3f& p : mesh.positions) vertices = std::copy_n(p.data(), 3, vertices);
    std::copy(mesh.indices.begin(), mesh.indices.end(), indices);
    rtcCommitGeometry(geometry);
    rtcAttachGeometryByID(scene, geometry, number);
    rtcReleaseGeometry(geometry);
}

}  // namespace pivrak
