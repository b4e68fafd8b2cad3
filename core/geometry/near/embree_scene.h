#pragma once

#include <embree3/rtcore.h>

#include <utility>

#include "core/geometry/mesh/mesh.h"

namespace pivrak {

/// Owns a device or scene of Embree, released in reverse order of making.
template <class Handle, void (*release)(Handle)>
struct EmbreeOwned {
    Handle handle = nullptr;
    EmbreeOwned() = default;
    explicit EmbreeOwned(Handle h) : handle(h) {}
    EmbreeOwned(EmbreeOwned&& other) noexcept : handle(std::exchange(other.handle, nullptr)) {}
    EmbreeOwned& operator=(EmbreeOwned&& other) noexcept {
        std::swap(handle, other.handle);
        return *this;
    }
    ~EmbreeOwned() {
        if (handle) release(handle);
    }
};
using EmbreeDevice = EmbreeOwned<RTCDevice, rtcReleaseDevice>;
using EmbreeScene = EmbreeOwned<RTCScene, rtcReleaseScene>;

/// Hangs a copy of a mesh's triangles into a scene, under a number; the scene is still to be committed.
void attach_mesh(RTCDevice device, RTCScene scene, const Mesh& mesh, unsigned number);

}  // namespace pivrak
