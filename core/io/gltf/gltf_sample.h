#pragma once

#include <tiny_gltf.h>

#include <vector>

#include "core/base/result.h"
#include "core/geometry/frame.h"

namespace pivrak {

/// Plays one animation of a glTF model as its specification asks, with no knowledge of how it was made.
/// Nodes that are rigid or scaled evenly, and LINEAR or STEP samplers only, in core axes; uneven scale is
/// told apart, of nodes that end there. Source: glTF 2.0 specification, appendix C (interpolation), LINEAR
/// rotations by slerp.
class GltfPlayer {
public:
    /// `animation` is -1 for the file at rest. Errors: `gltf.node`, `gltf.accessor`, `gltf.animation`.
    static Result<GltfPlayer> make(const tinygltf::Model& model, int animation);

    /// World frame of every node at a time [s].
    std::vector<Frame> world_from_nodes(double seconds) const;
    /// Animated scale of a node along its own axes at a time [s].
    Vec3 scale_of(int node, double seconds) const;

private:
    struct Sampler {
        std::vector<float> times;
        std::vector<float> values;
        bool step = false;
    };
    struct NodeMotion {
        Frame rest;
        int parent = -1;
        int rotation = -1, translation = -1, scale = -1;  ///< samplers
    };
    Result<void> read_nodes(const tinygltf::Model& model);
    Result<void> read_animation(const tinygltf::Model& model, const tinygltf::Animation& animation);

    std::vector<Sampler> samplers_;
    std::vector<NodeMotion> nodes_;
    std::vector<int> order_;  ///< parents before children
};

}  // namespace pivrak
