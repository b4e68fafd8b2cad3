#pragma once

#include <Eigen/Core>

#include "core/elements/linkage/linkage.h"
#include "core/rig/linkages/motion_tree.h"

namespace pivrak {

/// What a closure asks of a mechanism's values, as equations that are zero while it is closed. All are
/// lengths: directions and turns count at the mechanism's size. They may say the same several times.
struct ClosureRows {
    Closes closes = Closes::Pin;
    MotionBody a, b;  ///< with the closure's place as origin
    Vec3 axis_a{0, 0, 1}, axis_b{0, 0, 1};
    Quat turn{1, 0, 0, 0};
    /// Motions that move only one of the two, against the other.
    struct Mover {
        std::uint32_t motion;
        bool of_a;
    };
    std::vector<Mover> movers;

    Eigen::Index count() const { return closes == Closes::Pin ? 6 : 3; }
    /// How many freedoms it takes of bodies in space.
    int freedoms_taken() const { return closes == Closes::Pin ? 5 : closes == Closes::Slider ? 2 : 3; }
    /// Fills rows from `first` on, and their derivatives by every column. Pre: these rows are zero.
    void fill(const MotionTree& tree, const MotionFrames& frames, double size_m, Eigen::Index first,
              Eigen::VectorXd& rows, Eigen::MatrixXd& derivatives) const;
};

/// A closure between two bodies of a tree.
ClosureRows closure_rows(const Closure& closure, const MotionTree& tree, const MotionBody& a,
                         const MotionBody& b);

}  // namespace pivrak
