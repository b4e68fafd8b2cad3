#pragma once

#include <memory>

#include "core/geometry/mesh/mesh.h"

namespace pivrak {

/// How far two surfaces are apart, and the places where they are nearest [m].
struct SurfaceGap {
    double distance = 0;  ///< 0 where they touch or cut into each other
    Vec3 on_first{0, 0, 0}, on_second{0, 0, 0};
};

/// A mesh made ready for distance queries; made once, asked often.
class ClearanceBody {
public:
    explicit ClearanceBody(const Mesh& mesh);
    ~ClearanceBody();
    ClearanceBody(ClearanceBody&&) noexcept;
    ClearanceBody& operator=(ClearanceBody&&) noexcept;

    /// Smallest distance [m] between two surfaces; 0 where they touch or cut into each other. Infinite when
    /// one of them is empty. Pre: rigid frames, here and below.
    double distance(const Frame& world_from_this, const ClearanceBody& other,
                    const Frame& world_from_other) const;

    /// The same, and where: in the world. Of surfaces that touch a place where they do.
    SurfaceGap gap(const Frame& world_from_this, const ClearanceBody& other,
                   const Frame& world_from_other) const;

    /// The same mesh so many times as large.
    ClearanceBody grown(double factor) const;

    /// Whether two surfaces touch or cut into each other.
    bool touches(const Frame& world_from_this, const ClearanceBody& other,
                 const Frame& world_from_other) const;

private:
    ClearanceBody();
    struct State;
    std::unique_ptr<State> state_;
};

}  // namespace pivrak
