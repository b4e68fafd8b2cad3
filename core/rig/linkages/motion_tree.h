#pragma once

#include <cstdint>
#include <span>
#include <vector>

#include "core/geometry/frame.h"
#include "core/model/part.h"

namespace pivrak {

/// One free motion of a mechanism: a turn about, or a shift along, an axis of a frame that stands so in the
/// motion it is carried by. Joints with several channels are several of these, one behind the other.
struct MotionAxis {
    std::int32_t carrier = -1;  ///< the motion it hangs behind; -1 for what all hangs in
    Frame before;               ///< in that
    int axis = 0;
    bool turns = false;
    std::uint32_t column = 0;  ///< of the values
    bool is_turned = false;    ///< whether `before` turns anything
};

/// A frame that stands fixed behind a motion, or behind none.
struct MotionBody {
    std::int32_t behind = -1;
    Frame frame;
};

/// Where the motions of a mechanism stand, at some values; its size is the tree's.
struct MotionFrames {
    std::vector<Frame> behind;  ///< each motion
    std::vector<Vec3> point, direction;

    Frame body(const MotionBody& body) const {
        return body.behind < 0 ? body.frame : behind[static_cast<std::size_t>(body.behind)] * body.frame;
    }
};

/// The motions of a mechanism, each behind what carries it: all of it that moves, in one common frame.
class MotionTree {
public:
    /// Adds a joint's motions, its channels from a column on; the body behind them. `body.frame` is where the
    /// joint rests.
    MotionBody add_joint(const MotionBody& body, JointKind kind, int axis, std::uint32_t first_column);

    const std::vector<MotionAxis>& axes() const { return axes_; }
    std::uint32_t columns() const { return columns_; }
    bool turns(std::uint32_t column) const { return turns_[column]; }

    MotionFrames make_frames() const;
    /// Joints stand `longer` times as far from each other as at rest.
    /// Pre: as many values as columns, and frames of `make_frames`.
    void place(std::span<const double> values, MotionFrames& frames, double longer = 1) const;
    /// The motions that move a body, from the outermost inwards.
    std::vector<std::uint32_t> above(const MotionBody& body) const;

private:
    void add(MotionBody& body, int axis, std::uint32_t column, bool turns);

    std::vector<MotionAxis> axes_;
    std::vector<bool> turns_;  ///< by column
    std::uint32_t columns_ = 0;
};

}  // namespace pivrak
