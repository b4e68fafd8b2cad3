#pragma once

#include "core/geometry/frame.h"

namespace pivrak {

/// Pivrak is X forward, Y left, Z up (ISO 8855); glTF 2.0 is Z forward, X left, Y up (specification, 3.4).
/// The change is a cyclic exchange of components, so no digit is lost either way.
inline Vec3 gltf_from_core(const Vec3& v) {
    return {v.y(), v.z(), v.x()};
}
inline Vec3f gltf_from_core(const Vec3f& v) {
    return {v.y(), v.z(), v.x()};
}
inline Vec3 core_from_gltf(const Vec3& v) {
    return {v.z(), v.x(), v.y()};
}
inline Vec3f core_from_gltf(const Vec3f& v) {
    return {v.z(), v.x(), v.y()};
}
/// A tangent with another direction.
inline Vec4f with_direction(const Vec4f& tangent, const Vec3f& direction) {
    return {direction.x(), direction.y(), direction.z(), tangent.w()};
}
inline Quat gltf_from_core(const Quat& q) {
    return {q.w(), q.y(), q.z(), q.x()};
}
inline Quat core_from_gltf(const Quat& q) {
    return {q.w(), q.z(), q.x(), q.y()};
}

}  // namespace pivrak
