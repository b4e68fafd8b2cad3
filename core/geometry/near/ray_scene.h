#pragma once

#include <memory>
#include <optional>
#include <span>

#include "core/geometry/mesh/mesh.h"

namespace pivrak {

struct Ray {
    Vec3 origin, direction;
};

struct RayHit {
    std::size_t instance = 0;
    std::uint32_t triangle = 0;
    double distance = 0;  ///< along the ray, in lengths of its direction
};

/// Many placed meshes that rays are cast against, on Embree. Meshes are kept alive and their search
/// trees are built once, however often instances move.
class RayScene {
public:
    struct Instance {
        std::shared_ptr<const Mesh> mesh;
        Frame world_from_mesh;
    };

    RayScene();
    ~RayScene();
    RayScene(RayScene&&) noexcept;
    RayScene& operator=(RayScene&&) noexcept;

    /// Replaces all instances. Meshes seen in the call before keep their search tree.
    void set_instances(std::span<const Instance> instances);

    /// The nearest hit, from either side of a face; none when nothing is hit.
    std::optional<RayHit> nearest(const Ray& ray) const;

private:
    struct State;
    std::unique_ptr<State> state_;
};

}  // namespace pivrak
