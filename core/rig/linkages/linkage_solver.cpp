#include "core/rig/linkages/linkage_solver.h"

#include <Eigen/Cholesky>
#include <algorithm>
#include <cmath>
#include <limits>

namespace pivrak {
namespace {

/// The largest steps that are tried: 5 degrees, a twentieth of the size.
constexpr double largest_turn_rad = 5 * rad_per_deg, largest_shift = 0.05;
/// The smallest share of these at which a mechanism counts as stopped.
constexpr double least_share = 1e-8;
/// What follows so many times as fast as what leads stands at a dead point: no nearer to it, or there would
/// be no way back on the same branch.
constexpr double fastest = 3000;
/// What keeps a matrix that lost a direction solvable, against its trace; with more, what nothing determines
/// stays where it is.
constexpr double damping = 1e-13, loose_damping = 1e-8;
/// Pivots under this, against the largest one, mean that what follows is not determined for the moment.
constexpr double least_pivot = 1e-9;
constexpr double converged = 1e-9;
constexpr int most_corrections = 12;
/// What follows may not turn further in one step, and not be corrected by more than a share of the step.
constexpr double most_following = 0.5, most_corrected = 0.3, rounding = 1e-12;

}  // namespace

LinkageSolver::LinkageSolver(LinkageModel model) : model_(std::move(model)) {
    for (std::uint32_t c = 0; c < model_.tree.columns(); ++c)
        (model_.given[c] ? given_ : solved_).push_back(c);
    for (const ClosureRows& closure : model_.closures) rows_ += closure.count();
}

LinkageRoom LinkageSolver::make_room() const {
    const auto columns = model_.tree.columns();
    const auto solved = static_cast<Eigen::Index>(solved_.size());
    const std::vector<double> zeros(columns, 0.0);
    return {model_.tree.make_frames(),
            std::vector<double>(columns, std::numeric_limits<double>::quiet_NaN()),
            Eigen::VectorXd::Zero(rows_),
            Eigen::VectorXd::Zero(solved),
            Eigen::MatrixXd::Zero(rows_, columns),
            Eigen::MatrixXd::Zero(solved, solved),
            zeros,
            zeros,
            zeros,
            zeros,
            zeros};
}

void LinkageSolver::fill(std::span<const double> values, LinkageRoom& room) const {
    if (std::equal(values.begin(), values.end(), room.at.begin())) return;
    std::copy(values.begin(), values.end(), room.at.begin());
    model_.tree.place(values, room.frames);
    room.rows.setZero();
    room.derivatives.setZero();
    Eigen::Index first = 0;
    for (const ClosureRows& closure : model_.closures) {
        closure.fill(model_.tree, room.frames, model_.size_m, first, room.rows, room.derivatives);
        first += closure.count();
    }
}

/// The normal equations' matrix, in units that make turns and shifts alike, brought into triangles. Whether
/// all that follows is determined.
bool LinkageSolver::factor(LinkageRoom& room) const {
    const auto n = static_cast<Eigen::Index>(solved_.size());
    double trace = 0;
    for (Eigen::Index i = 0; i < n; ++i) {
        const std::uint32_t row = solved_[static_cast<std::size_t>(i)];
        for (Eigen::Index j = 0; j <= i; ++j) {
            const std::uint32_t column = solved_[static_cast<std::size_t>(j)];
            room.normal(i, j) = model_.unit(row) * model_.unit(column) *
                                room.derivatives.col(row).dot(room.derivatives.col(column));
        }
        trace += room.normal(i, i);
    }
    const double added =
        (model_.loose ? loose_damping : damping) * trace + std::numeric_limits<double>::min();
    for (Eigen::Index i = 0; i < n; ++i) room.normal(i, i) += added;
    Eigen::LLT<Eigen::Ref<Eigen::MatrixXd>> triangles(room.normal);
    double largest = 0, smallest = std::numeric_limits<double>::infinity();
    for (Eigen::Index i = 0; i < n; ++i) {
        largest = std::max(largest, room.normal(i, i));
        smallest = std::min(smallest, room.normal(i, i));
    }
    return smallest * smallest > least_pivot * largest * largest;
}

/// `step` holds what the rows shall change by, times the derivatives; then the change of what follows. Pre:
/// `factor`.
void LinkageSolver::solve(LinkageRoom& room) const {
    const auto triangle = room.normal.triangularView<Eigen::Lower>();
    triangle.solveInPlace(room.step);
    triangle.adjoint().solveInPlace(room.step);
    for (std::size_t i = 0; i < solved_.size(); ++i)
        room.step[static_cast<Eigen::Index>(i)] *= model_.unit(solved_[i]);
}

/// From `trial` on, until it moves no more; whether it came to rest with all closed.
bool LinkageSolver::correct(LinkageRoom& room) const {
    for (int round = 0; round < most_corrections; ++round) {
        fill(room.trial, room);
        factor(room);
        for (std::size_t i = 0; i < solved_.size(); ++i)
            room.step[static_cast<Eigen::Index>(i)] =
                -model_.unit(solved_[i]) * room.derivatives.col(solved_[i]).dot(room.rows);
        solve(room);
        double moved = 0;
        for (std::size_t i = 0; i < solved_.size(); ++i) {
            const double step = room.step[static_cast<Eigen::Index>(i)];
            room.trial[solved_[i]] += step;
            room.rows += step * room.derivatives.col(solved_[i]);
            moved = std::max(moved, std::abs(step) / model_.unit(solved_[i]));
        }
        room.at[0] = std::numeric_limits<double>::quiet_NaN();  // the rows are those of what comes next
        if (!std::isfinite(moved)) return false;
        if (moved < converged) return room.rows.norm() <= model_.slop_m;
    }
    return false;
}

/// Along the tangent; where that says nothing, on along the way so far.
void LinkageSolver::predict(std::span<const double> values, std::span<const double> way,
                            std::span<const double> inputs, LinkageRoom& room) const {
    fill(values, room);
    std::copy(values.begin(), values.end(), room.trial.begin());
    double along = 0, size = 0;
    for (const std::uint32_t c : given_) {
        room.trial[c] = inputs[c];
        along += (inputs[c] - values[c]) / model_.unit(c) * way[c];
        size += way[c] * way[c];
    }
    const bool determined = factor(room);
    if (!determined && !model_.loose && size > 0) {
        for (const std::uint32_t c : solved_) room.trial[c] += along / size * way[c] * model_.unit(c);
        return;
    }
    for (const std::uint32_t c : given_) room.rows += (inputs[c] - values[c]) * room.derivatives.col(c);
    for (std::size_t i = 0; i < solved_.size(); ++i)
        room.step[static_cast<Eigen::Index>(i)] =
            -model_.unit(solved_[i]) * room.derivatives.col(solved_[i]).dot(room.rows);
    solve(room);
    for (std::size_t i = 0; i < solved_.size(); ++i)
        room.trial[solved_[i]] += room.step[static_cast<Eigen::Index>(i)];
    room.at[0] = std::numeric_limits<double>::quiet_NaN();
}

/// Whether a corrected step is one that stays on its branch and inside limits.
LinkageStop LinkageSolver::judge(std::span<const double> values, LinkageRoom& room) const {
    double moved = 0, corrected = 0, led = 0;
    for (const std::uint32_t c : given_)
        led = std::max(led, std::abs(room.trial[c] - values[c]) / model_.unit(c));
    for (std::uint32_t c = 0; c < model_.tree.columns(); ++c) {
        moved = std::max(moved, std::abs(room.trial[c] - values[c]) / model_.unit(c));
        corrected = std::max(corrected, std::abs(room.trial[c] - room.predicted[c]) / model_.unit(c));
    }
    if (moved > most_following || corrected > most_corrected * moved + rounding || moved > fastest * led)
        return {Stops::DeadPoint, 0};
    for (const std::uint32_t c : solved_) {
        const Limits& limits = model_.limits[c];
        const double leeway = 1e-12 * model_.unit(c);
        const bool above = room.trial[c] > limits.max + leeway && room.trial[c] > values[c],
                   below = room.trial[c] < limits.min - leeway && room.trial[c] < values[c];
        if (above || below) return {Stops::Limit, c};
    }
    return {};
}

LinkageStop LinkageSolver::try_step(std::span<double> values, std::span<double> way,
                                    std::span<const double> inputs, LinkageRoom& room) const {
    predict(values, way, inputs, room);
    double predicted = 0;
    for (const std::uint32_t c : solved_)
        predicted = std::max(predicted, std::abs(room.trial[c] - values[c]) / model_.unit(c));
    if (!(predicted <= most_following)) return {Stops::DeadPoint, 0};
    room.predicted = room.trial;
    if (!correct(room)) return {Stops::DeadPoint, 0};
    const LinkageStop stop = judge(values, room);
    if (stop.why != Stops::Not) return stop;
    for (std::uint32_t c = 0; c < model_.tree.columns(); ++c) {
        way[c] = (room.trial[c] - values[c]) / model_.unit(c);
        values[c] = room.trial[c];
    }
    return {};
}

LinkageStop LinkageSolver::go(std::span<double> values, std::span<double> way, std::span<const double> goal,
                              LinkageRoom& room) const {
    double reach = 0;
    for (const std::uint32_t c : given_) {
        room.start[c] = values[c];
        const double largest = model_.tree.turns(c) ? largest_turn_rad : largest_shift * model_.size_m;
        reach = std::max(reach, std::abs(goal[c] - values[c]) / largest);
    }
    if (reach == 0 || !std::isfinite(reach)) return {};
    const double most = std::min(1.0, 1 / reach);
    double done = 0, step = most;
    LinkageStop stop;
    while (done < 1) {
        // What would be left over by rounding is done at once.
        const double next = done + step < 1 - 1e-9 ? done + step : 1;
        for (const std::uint32_t c : given_)
            room.inputs[c] = next < 1 ? room.start[c] + next * (goal[c] - room.start[c]) : goal[c];
        stop = try_step(values, way, room.inputs, room);
        if (stop.why == Stops::Not) {
            done = next;
            step = std::min(2 * step, most);
            continue;
        }
        step *= 0.5;
        if (step * reach < least_share) return stop;
    }
    return stop;
}

LinkageStop LinkageSolver::follow(std::span<double> values, std::span<double> way,
                                  std::span<const double> goal, LinkageRoom& room) const {
    const LinkageStop stop = go(values, way, goal, room);
    if (stop.why == Stops::Not || given_.size() < 2) return stop;
    for (const std::uint32_t alone : given_) {
        if (values[alone] == goal[alone]) continue;
        std::copy(values.begin(), values.end(), room.alone.begin());
        room.alone[alone] = goal[alone];
        go(values, way, room.alone, room);
    }
    return stop;
}

double LinkageSolver::settle(std::span<double> values, LinkageRoom& room) const {
    std::copy(values.begin(), values.end(), room.trial.begin());
    correct(room);
    if (std::all_of(room.trial.begin(), room.trial.end(), [](double v) { return std::isfinite(v); }))
        std::copy(room.trial.begin(), room.trial.end(), values.begin());
    return apart(values, room);
}

double LinkageSolver::apart(std::span<const double> values, LinkageRoom& room) const {
    fill(values, room);
    return room.rows.norm();
}

Eigen::MatrixXd LinkageSolver::derivatives(std::span<const double> values, LinkageRoom& room) const {
    fill(values, room);
    Eigen::MatrixXd scaled = room.derivatives;
    for (std::uint32_t c = 0; c < model_.tree.columns(); ++c) scaled.col(c) *= model_.unit(c);
    return scaled;
}

}  // namespace pivrak
