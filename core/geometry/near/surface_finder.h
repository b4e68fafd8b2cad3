#pragma once

#include <memory>
#include <optional>
#include <span>

#include "core/geometry/mesh/mesh.h"

namespace pivrak {

/// A place on a surface.
struct SurfacePoint {
    std::size_t mesh = 0;  ///< number of the mesh among those searched
    std::uint32_t triangle = 0;
    Vec3 place{0, 0, 0};
    double distance = 0;  ///< [m], from the place asked for; never negative
};

/// The point of a triangle that is nearest to a place. A triangle without area is taken as its edges.
/// Source: Ericson, Real-Time Collision Detection (2005), 5.1.5.
Vec3 nearest_on_triangle(const Vec3& place, const Vec3& a, const Vec3& b, const Vec3& c);

/// Finds the nearest place on the surfaces of some meshes, which stand in one frame and are kept by the
/// caller while this is used. Search trees are single precision, the answer is computed in double.
class SurfaceFinder {
public:
    explicit SurfaceFinder(std::span<const Mesh* const> meshes);
    ~SurfaceFinder();
    SurfaceFinder(SurfaceFinder&&) noexcept;
    SurfaceFinder& operator=(SurfaceFinder&&) noexcept;

    /// None when no mesh has a triangle within `reach_m`. Of surfaces equally near, the first mesh's first
    /// triangle wins.
    std::optional<SurfacePoint> nearest(const Vec3& place, double reach_m = 1e30) const;

private:
    struct State;
    std::unique_ptr<State> state_;
};

}  // namespace pivrak
