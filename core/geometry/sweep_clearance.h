#pragma once

#include <memory>
#include <optional>
#include <vector>

#include "core/base/progress.h"
#include "core/geometry/mesh.h"

namespace pivrak {

/// Meshes that move together or stand together, placed in the frame of the motion.
struct SweepBody {
    struct Member {
        std::shared_ptr<const Mesh> mesh;
        Frame frame_from_mesh;
    };
    std::vector<Member> members;
};

/// A turn about the z axis of the frame of the motion, or a shift along it.
enum class SweepKind { Turn, Shift };

/// The triangles of a body under a search tree; built once, used for many neighbours.
class SweepTree {
public:
    SweepTree(const SweepBody& body, SweepKind kind);
    ~SweepTree();
    SweepTree(SweepTree&&) noexcept;
    SweepTree& operator=(SweepTree&&) noexcept;
    SweepKind kind() const;

private:
    friend class SweepClearance;
    struct Soup;
    std::unique_ptr<const Soup> soup_;
};

/// Where two bodies are nearest at one value of the motion.
struct Clearance {
    double distance_m = 0;  ///< 0 where they touch or cut into each other; infinite when one has no triangle
    std::size_t moving = 0, standing = 0;           ///< members that are nearest
    Vec3 on_moving{0, 0, 0}, on_standing{0, 0, 0};  ///< places, in the frame of the motion
};

/// Asks again and again how far a moving body is from a standing one while it turns or shifts.
///
/// What one answer learned is kept for the next: pairs of boxes that
/// were too far apart stay so until the motion could have closed the gap (no point moves faster than its
/// radius), and the pair of triangles that was nearest gives the first bound. So answers near each other cost
/// little, and each is what a search from scratch gives.
class SweepClearance {
public:
    /// Pre: both trees are made for the same kind of motion.
    SweepClearance(std::shared_ptr<const SweepTree> moving, std::shared_ptr<const SweepTree> standing);
    ~SweepClearance();
    SweepClearance(SweepClearance&&) noexcept;
    SweepClearance& operator=(SweepClearance&&) noexcept;

    /// \param value turn [rad] or shift [m] from where the bodies were placed
    Clearance at(double value);

    /// The first value on the way from one value to another at which the bodies touch, to within `tolerance`
    /// on the free side; none when they never do, or when they touch at the start. Between steps nothing is
    /// missed: each step is no longer than what proves to be free. A cancelled search answers none.
    std::optional<double> first_contact(double from, double to, double tolerance,
                                        const Progress& progress = {});

private:
    struct State;
    std::unique_ptr<State> state_;
};

}  // namespace pivrak
