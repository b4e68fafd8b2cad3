#pragma once

#include <Eigen/Core>
#include <optional>
#include <random>

#include "core/rig/reach/closed_form.h"
#include "core/rig/reach/wrist_form.h"

namespace pivrak {

struct ReachMiss {
    double place_m = 0, turn_rad = 0;
};

/// Room to work in, kept so that solving allocates nothing.
struct ReachRoom {
    MotionFrames frames;
    Eigen::Matrix<double, 6, Eigen::Dynamic> derivatives;
    Eigen::VectorXd step, pull;
    std::vector<double> trial, best, start;
    std::vector<bool> free;
    double longer = 1;  ///< than at rest the row is
    MotionBody tip;     ///< of such a row
};

/// Brings the tip as near to its goal as limits let it, and with what freedom is left goes towards a
/// preferred pose, or bends to a side. Bounded Levenberg and Marquardt steps with the damping of T. Sugihara,
/// Solvability-Unconcerned Inverse Kinematics by the Levenberg-Marquardt Method, IEEE Trans. Robotics 27
/// (2011). Values are by column: turns [rad], shifts [m].
class ReachSolver {
public:
    explicit ReachSolver(ReachModel model);

    const ReachModel& model() const { return model_; }
    /// Whether its pose mostly follows from the goal without steps.
    bool has_closed_form() const { return form_ || wrist_; }
    ReachRoom make_room() const;

    /// From where it stands to a goal near by. Pre: the values are within limits.
    void solve(std::span<double> values, std::span<const double> preferred, const ReachGoal& goal,
               ReachRoom& room) const;
    /// Along the straight way from one goal to another in small steps, so that it never leaves its branch.
    void follow(std::span<double> values, std::span<const double> preferred, const ReachGoal& from,
                const ReachGoal& to, ReachRoom& room) const;
    /// Where following does not get there, from other poses too; of those that get there the one that bends
    /// to the side, and is nearest to the preferred one.
    void search(std::span<double> values, std::span<const double> preferred, const ReachGoal& goal,
                ReachRoom& room) const;

    /// Lets a row that does not get to its goal become longer, up to so many times, until it does. Answers
    /// how many times; the room is left so.
    double stretch(std::span<double> values, std::span<const double> preferred, const ReachGoal& goal,
                   double most, ReachRoom& room) const;
    /// Makes the row so many times as long as at rest.
    void set_longer(double longer, ReachRoom& room) const;

    /// How well the tip can be moved, as the volume that unit motions reach: nothing where the row lies
    /// stretched, or otherwise loses a way to move.
    double agility(std::span<const double> values, ReachRoom& room) const;

    ReachMiss miss(std::span<const double> values, const ReachGoal& goal, ReachRoom& room) const;
    Frame tip(std::span<const double> values, ReachRoom& room) const;

private:
    using Error6 = Eigen::Matrix<double, 6, 1>;
    using Square6 = Eigen::Matrix<double, 6, 6>;

    void place(std::span<const double> values, ReachRoom& room) const {
        model_.tree.place(values, room.frames, room.longer);
    }
    Error6 error(const ReachGoal& goal, const ReachRoom& room) const;
    void derive(ReachRoom& room) const;
    double descend(std::span<double> values, const ReachGoal& goal, ReachRoom& room,
                   bool patient = true) const;
    void draw(std::mt19937& random, std::span<double> seed, std::span<const double> preferred,
              const ReachGoal& goal, ReachRoom& room) const;
    bool turn_by(const WristForm::Turns& turns, std::span<const double> from, std::span<const double> to,
                 ReachRoom& room) const;
    bool nearest_form(std::span<double> values, std::span<const double> preferred, const ReachGoal& goal,
                      ReachRoom& room) const;
    void settle(std::span<double> values, std::span<const double> preferred, const ReachGoal& goal,
                ReachRoom& room) const;
    void find_free(std::span<const double> values, const Eigen::VectorXd& towards, ReachRoom& room) const;
    Square6 damped(double damping, const ReachRoom& room) const;
    void pull(std::span<const double> values, std::span<const double> preferred, const ReachGoal& goal,
              ReachRoom& room) const;
    std::optional<double> swivel(const ReachGoal& goal, const ReachRoom& room, Vec3& way) const;
    double dislike(std::span<const double> values, std::span<const double> preferred, const ReachGoal& goal,
                   ReachRoom& room) const;

    ReachModel model_;
    std::optional<ClosedForm> form_;
    std::optional<WristForm> wrist_;
};

}  // namespace pivrak
