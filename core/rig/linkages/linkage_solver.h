#pragma once

#include "core/rig/linkages/closure_rows.h"

namespace pivrak {

/// Room to work in, kept so that following allocates nothing.
struct LinkageRoom {
    MotionFrames frames;
    std::vector<double> at;  ///< whose rows and derivatives these are; none yet when not a number
    Eigen::VectorXd rows, step;
    Eigen::MatrixXd derivatives, normal;
    std::vector<double> trial, predicted, start, inputs, alone;
};

/// Where and why a mechanism goes no further.
enum class Stops : std::uint8_t { Not, DeadPoint, Limit };
struct LinkageStop {
    Stops why = Stops::Not;
    std::uint32_t column = 0;  ///< that stands at its limit
};

/// A mechanism of closed loops, as it was built. Values are by column: turns [rad], shifts [m].
struct LinkageModel {
    MotionTree tree;
    std::vector<ClosureRows> closures;
    std::vector<bool> given;     ///< by column; all others follow
    std::vector<Limits> limits;  ///< by column
    double size_m = 1;           ///< what lengths are measured against
    double slop_m = 1e-9;        ///< so far apart still counts as closed: of loops that do not quite fit
    bool loose = false;          ///< something is free to move while all that is given stands

    /// What a change of a column counts against: a radian, or the size.
    double unit(std::uint32_t column) const { return tree.turns(column) ? 1 : size_m; }
};

/// Moves a mechanism: some of its values are given, and all others follow such that every closure stays
/// closed, by Newton's method from one pose to the next, so near that the branch in which the mechanism
/// stands is never left. Closures may say the same several times.
class LinkageSolver {
public:
    explicit LinkageSolver(LinkageModel model);

    const LinkageModel& model() const { return model_; }
    LinkageRoom make_room() const;

    /// Moves the given values from where they are to `goal`, and all others along. It stops where they cannot
    /// follow; several given ones then go on one by one. `way` is the direction in which all went last, and
    /// is kept. Pre: `values` close all closures, up to the slop.
    LinkageStop follow(std::span<double> values, std::span<double> way, std::span<const double> goal,
                       LinkageRoom& room) const;

    /// Brings all values that are not given to where closures close best, from where they are. How far they
    /// are apart there [m].
    double settle(std::span<double> values, LinkageRoom& room) const;

    /// How far the closures are from closed, together [m].
    double apart(std::span<const double> values, LinkageRoom& room) const;

    /// The rows' derivatives by the values, shifts counted in sizes.
    Eigen::MatrixXd derivatives(std::span<const double> values, LinkageRoom& room) const;

private:
    void fill(std::span<const double> values, LinkageRoom& room) const;
    bool factor(LinkageRoom& room) const;
    void solve(LinkageRoom& room) const;
    bool correct(LinkageRoom& room) const;
    LinkageStop go(std::span<double> values, std::span<double> way, std::span<const double> goal,
                   LinkageRoom& room) const;
    LinkageStop try_step(std::span<double> values, std::span<double> way, std::span<const double> inputs,
                         LinkageRoom& room) const;
    void predict(std::span<const double> values, std::span<const double> way, std::span<const double> inputs,
                 LinkageRoom& room) const;
    LinkageStop judge(std::span<const double> values, LinkageRoom& room) const;

    LinkageModel model_;
    std::vector<std::uint32_t> solved_, given_;
    Eigen::Index rows_ = 0;
};

}  // namespace pivrak
