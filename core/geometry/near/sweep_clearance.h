#pragma once

#include <memory>
#include <optional>

#include "core/base/progress.h"
#include "core/geometry/near/sweep_tree.h"

namespace pivrak {

/// Where two bodies are nearest at one value of the motion.
struct Clearance {
    double distance_m = 0;  ///< 0 where they touch or cut into each other; infinite when one has no triangle
    std::size_t moving = 0, standing = 0;           ///< members that are nearest
    Vec3 on_moving{0, 0, 0}, on_standing{0, 0, 0};  ///< places, in the frame of the motion
};

/// Faces of both bodies that lie on each other.
struct SharedFaces {
    Vec3 normal{0, 0, 0};  ///< mean of the standing faces', each as large as the smaller one of its pair;
                           ///< shorter than 1 where they differ
    std::size_t pairs = 0;
};

/// Asks again and again how far a moving body is from a standing one while it turns or shifts. The
/// triangles that were nearest last give the first bound; each answer is what a search from scratch gives.
class SweepClearance {
public:
    /// Pre: both trees are made for the same kind of motion. Several of these may share a tree, on a thread
    /// each.
    SweepClearance(std::shared_ptr<SweepTree> moving, std::shared_ptr<SweepTree> standing);

    /// \param value turn [rad] or shift [m] from where the bodies were placed
    Clearance at(double value);

    /// The first value on the way from one value to another at which the bodies touch, to within `tolerance`
    /// on the free side; none when they never do, or when they touch at the start. Between steps nothing is
    /// missed: each step is no longer than what proves to be free. A cancelled search answers none.
    std::optional<double> first_contact(double from, double to, double tolerance,
                                        const Progress& progress = {});

    /// What lies face to face no farther apart than so much [m], at one value.
    SharedFaces shared_faces(double value, double within);

private:
    std::shared_ptr<SweepTree> moving_, standing_;
    SweepTree::Scratch scratch_;
    std::uint32_t last_moving_ = 0, last_standing_ = 0;  ///< triangles that were nearest
};

}  // namespace pivrak
