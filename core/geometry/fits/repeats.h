#pragma once

#include <optional>
#include <span>

#include "core/geometry/mesh/mesh.h"

namespace pivrak {

struct RepeatOptions {
    /// Every vertex of a copy lies this near its counterpart [m].
    double tolerance_m = 1e-4;
    /// Also ask for equal texture coordinates (to a ten-thousandth); needed where a texture is shown.
    bool compare_uvs = true;
};

/// One mesh of a group, placed by the group's first mesh.
struct RepeatMember {
    std::size_t mesh = 0;   ///< number of the mesh among those given
    bool mirrored = false;  ///< a copy seen in a mirror
    /// Takes the first mesh onto this one; for a mirrored member, the first mesh mirrored across its own
    /// yz-plane (see `mirrored`).
    Frame mesh_from_first;
    double deviation_m = 0;  ///< largest distance of a vertex from its counterpart
};

/// Meshes that are equal up to a rigid motion, or a mirror and a rigid motion.
struct RepeatGroup {
    std::vector<RepeatMember> members;  ///< the first one is the pattern
};

/// How one mesh is placed to become another.
struct Alignment {
    bool mirrored = false;
    Frame target_from_source;
    double deviation_m = 0;
};

/// The rigid motion that takes one mesh onto another: the same points, joined by the same triangles of the
/// same materials. None when there is no such motion. A proper motion is preferred to a mirror. Vertices and
/// triangles may stand in any order.
std::optional<Alignment> align_meshes(const Mesh& source, const Mesh& target,
                                      const RepeatOptions& options = {});

/// Sorts meshes into groups of equals, each group in the order given; meshes without an equal form groups of
/// one. Exact to the tolerance: candidates come from distances to the centroid, which no motion changes, and
/// each is proved by every vertex and triangle.
std::vector<RepeatGroup> find_repeats(std::span<const Mesh* const> meshes, const RepeatOptions& options = {});

}  // namespace pivrak
