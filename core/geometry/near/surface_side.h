#pragma once

#include <map>
#include <vector>

#include "core/geometry/mesh/mesh.h"

namespace pivrak {

/// On which side of a closed surface places lie, by the nearest place on it: behind a face it is inside;
/// behind an edge or a corner the mean of the faces there decides, corners weighted by angle. Source:
/// Baerentzen and Aanaes, Signed distance computation using the angle weighted pseudonormal (2005): exact
/// where the surface is closed and faces look outwards.
class SurfaceSide {
public:
    /// \param mesh kept by the caller
    explicit SurfaceSide(const Mesh& mesh);

    /// Whether a place lies inside. \param triangle, nearest of the surface, as a search finds them
    bool is_inside(const Vec3& place, std::uint32_t triangle, const Vec3& nearest) const;

private:
    Vec3 normal_at(std::uint32_t triangle, const Vec3& nearest) const;
    const Mesh* mesh_;
    std::vector<std::uint32_t> point_of_;  ///< place of each vertex, however many vertices share it
    std::vector<Vec3> at_points_;
    std::map<std::pair<std::uint32_t, std::uint32_t>, Vec3> at_edges_;
};

}  // namespace pivrak
