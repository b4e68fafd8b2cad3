#pragma once

#include <unordered_map>

#include "core/elements/stretch/stretch_motion.h"
#include "core/io/gltf/gltf_write.h"
#include "core/motion/bake.h"

namespace pivrak {

/// Springs and cables as a delivery has them: two bones below the part, one that stays at the first seat and
/// one that goes with the far end, and the shape bound to both. All it takes is a straight shift of the
/// second bone, so between samples it is as exact as at them. The bound shape is a node at the root, as the
/// standard wants it.
class DeliveredStretches {
public:
    explicit DeliveredStretches(const Evaluator& evaluator);

    /// Null for a part that none draws out, or that has no shape to draw.
    const StretchStep* of(PartId part) const;
    /// Bones and bound shape of a part, whose own node has no mesh.
    void add_nodes(const Document& document, const Part& part, int node, GltfBuilder& builder);
    /// The bone of the far end; -1 without one.
    int far_bone(PartId part) const;
    /// How the far end is shifted in a frame of a bake, in the part's frame; nothing at rest.
    Vec3 shift(const Part& part, const Bake& bake, std::size_t frame) const;

private:
    std::unordered_map<PartId, const StretchStep*> steps_;
    std::unordered_map<PartId, int> bones_;
};

}  // namespace pivrak
