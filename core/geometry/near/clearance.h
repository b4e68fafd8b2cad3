#pragma once

#include <memory>

#include "core/geometry/mesh/mesh.h"

namespace pivrak {

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

    /// Whether two surfaces touch or cut into each other.
    bool touches(const Frame& world_from_this, const ClearanceBody& other,
                 const Frame& world_from_other) const;

private:
    struct State;
    std::unique_ptr<State> state_;
};

}  // namespace pivrak
