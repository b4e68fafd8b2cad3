#pragma once

#include <array>
#include <optional>
#include <vector>

#include "core/rig/reach/reach_model.h"

namespace pivrak {

/// Arms of six hinges as most are built: one that turns the whole arm, two about parallel axes square to it,
/// and a wrist of three whose axes meet in one place, each square to the next. That place follows from the
/// goal, so the first three and the last three are solved one after the other (Pieper's condition).
class WristForm {
public:
    using Turns = std::array<double, 6>;  ///< [rad], outermost hinge first

    /// None for any other row.
    static std::optional<WristForm> of(const ReachModel& model);

    /// Turns from the pose on which `frames` stand to one in which the tip is at the goal, arm and wrist bent
    /// the way they are bent: no flips. None where that way does not reach, or next to a straight arm or
    /// wrist, where there is no telling.
    std::optional<Turns> stay(const ReachGoal& goal, const MotionFrames& frames, const MotionBody& tip) const;
    /// All of at most eight ways to be at the goal, added to `found`.
    void all(const ReachGoal& goal, const MotionFrames& frames, const MotionBody& tip,
             std::vector<Turns>& found) const;

private:
    /// Which way the arm stands, its elbow and its wrist are bent.
    struct Bends {
        double shoulder, elbow, wrist;  ///< +1 or -1
    };
    struct Wanted {
        Vec3 wrist;  ///< place
        Quat tip;    ///< rotation
    };
    Vec3 wrist_in(const MotionFrames& frames) const;
    Wanted wanted(const ReachGoal& goal, const MotionFrames& frames, const MotionBody& tip) const;
    std::optional<Bends> bends(const MotionFrames& frames) const;
    std::optional<Turns> bent(const Wanted& wanted, const Bends& bends, const MotionFrames& frames,
                              const Quat& tip) const;
    /// Turns of the first three hinges.
    std::optional<std::array<double, 3>> arm(const Vec3& wrist, const Bends& bends,
                                             const MotionFrames& frames) const;
};

}  // namespace pivrak
