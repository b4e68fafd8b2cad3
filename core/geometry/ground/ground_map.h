#pragma once

#include <optional>
#include <vector>

#include "core/geometry/mesh/mesh.h"

namespace pivrak {

/// A wheel as it meets the ground: a cylinder about its axle.
struct GroundWheel {
    Vec3 hub{0, 0, 0};   ///< middle of the tread, in the ground's world
    Vec3 axle{0, 1, 0};  ///< unit
    double radius_m = 0.5, half_width_m = 0.1;
};

struct GroundContact {
    double lift_m = 0;     ///< how far the wheel moves along the way asked for until it just touches
    Vec3 place{0, 0, 0};   ///< where it touches then
    Vec3 normal{0, 0, 1};  ///< from there towards the axle, unit
};

/// A mesh to stand on. Its triangles are sorted into squares seen from above, so that a question looks at the
/// few that lie near. The highest surface counts wherever several lie above each other.
class GroundMap {
public:
    GroundMap(const Mesh& mesh, const Frame& world_from_mesh);

    /// Height of the highest surface [m]; none beside the mesh.
    std::optional<double> height(double x, double y) const;

    /// Where a wheel that is moved along `up` (unit, nearly at a right angle to its axle) stands on the
    /// ground and cuts into it nowhere: exact for a cylinder on triangles. None when there is no ground below
    /// it.
    std::optional<GroundContact> stand(const GroundWheel& wheel, const Vec3& up) const;

    /// The same for a wheel that leans however far, up to lying on its side, moved straight up. Exact as
    /// well, at a higher cost.
    std::optional<GroundContact> stand_leaning(const GroundWheel& wheel) const;

    const Bounds& bounds() const { return bounds_; }

private:
    struct Corners {
        Vec3 at[3];
    };
    /// A triangle in a square, with the box about it, so that most are settled without a look at their
    /// corners.
    struct Member {
        Vec3f low, high;  ///< no smaller than it is
        std::uint32_t triangle;
        std::uint16_t column, row;  ///< of the first square it lies in
    };
    /// `take(member)` once for each of those that lie in a square which meets a rectangle.
    template <class Take>
    void each_near(double x0, double y0, double x1, double y1, Take take) const;

    std::vector<Corners> triangles_;
    std::vector<std::uint32_t> first_;  ///< members of square i: first_[i] to first_[i + 1]
    std::vector<Member> members_;
    Bounds bounds_;
    double square_m_ = 1;
    int columns_ = 1, rows_ = 1;
};

/// The same on a level floor at a height.
GroundContact stand_on_floor(const GroundWheel& wheel, const Vec3& up, double floor_z);

}  // namespace pivrak
