#pragma once

#include <memory>

#include "core/geometry/mesh/mesh.h"

namespace pivrak::test {

/// A closed mesh that can be asked how deep a point stands in it, by FCL and by counting crossings of a ray:
/// nothing of core's own answers.
class ClosedBody {
public:
    /// The mesh must outlive the body.
    explicit ClosedBody(const Mesh& mesh);
    ~ClosedBody();
    ClosedBody(ClosedBody&&) noexcept;

    const Mesh& mesh() const { return mesh_; }
    /// Distance to the surface [m]; 0 for a point outside.
    double depth(const Vec3& p) const;
    bool encloses(const Vec3& p) const;

private:
    struct Surface;
    const Mesh& mesh_;
    Bounds bounds_;
    std::unique_ptr<Surface> surface_;
};

}  // namespace pivrak::test
