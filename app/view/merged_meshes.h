#pragma once

#include <memory>
#include <unordered_map>
#include <vector>

#include "app/view/draw_item.h"

namespace pivrak {

/// A shape as it lies in a mesh of several.
struct MergedShape {
    std::shared_ptr<const Mesh> mesh;
    std::shared_ptr<const Paint> paint;  ///< colours alone
    Frame merged_from_mesh;
};

/// Several shapes as one mesh that is painted white: what they are painted with is in its colours.
struct MergedMesh {
    std::shared_ptr<const Mesh> mesh;
    std::shared_ptr<const std::vector<std::uint32_t>> edges;  ///< of each shape alone, in its indices
};

/// Meshes of several shapes, kept as long as the same ones are asked for.
class MergedMeshes {
public:
    /// What is asked for from here on until `forget_others` stays known.
    void begin();
    MergedMesh of(const std::vector<MergedShape>& shapes);
    void forget_others();

private:
    struct Known {
        std::vector<MergedShape> shapes;
        MergedMesh merged;
        bool asked = true;
    };
    struct Edges {
        std::shared_ptr<const Mesh> mesh;
        std::vector<std::uint32_t> indices;
        bool asked = true;
    };
    MergedMesh make(const std::vector<MergedShape>& shapes);
    const std::vector<std::uint32_t>& edgesOf(const std::shared_ptr<const Mesh>& mesh);

    std::unordered_multimap<std::size_t, Known> known_;
    std::unordered_map<const Mesh*, Edges> edges_;
};

}  // namespace pivrak
