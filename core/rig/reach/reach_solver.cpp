#include "core/rig/reach/reach_solver.h"

#include <Eigen/Cholesky>
#include <algorithm>
#include <array>
#include <cmath>

#include "core/rig/reach/hinge_turns.h"

namespace pivrak {
namespace {

/// The largest steps of a goal that are followed at once: 5 degrees, a thirtieth of the row's length.
constexpr double goal_turn_rad = 5 * rad_per_deg, goal_shift = 1.0 / 30;
constexpr int most_descents = 120, most_settling = 40;
/// Misses under this, against the row's length, count as none.
constexpr double reached = 1e-12;
constexpr double least_damping = 1e-12;
constexpr double most_at_once = 0.3;
/// Who is impatient wants that much less after so many rounds.
constexpr int slow_rounds = 4;
constexpr double slow_share = 0.4;

/// The vector about which, and by how much, one rotation is turned against another.
Vec3 turn_between(const Quat& now, const Quat& goal) {
    Quat way = goal * now.conjugate();
    if (way.w() < 0) way.coeffs() = -way.coeffs();
    const double sine = way.vec().norm();
    return sine < 1e-300 ? Vec3(2 * way.vec()) : Vec3(way.vec() * (2 * std::atan2(sine, way.w()) / sine));
}

}  // namespace

ReachSolver::ReachSolver(ReachModel model)
    : model_(std::move(model)), form_(ClosedForm::of(model_)), wrist_(WristForm::of(model_)) {}

ReachRoom ReachSolver::make_room() const {
    const auto columns = model_.tree.columns();
    const std::vector<double> zeros(columns, 0.0);
    ReachRoom room{model_.tree.make_frames(),
                   {},
                   Eigen::VectorXd::Zero(columns),
                   Eigen::VectorXd::Zero(columns),
                   zeros,
                   zeros,
                   zeros,
                   std::vector<bool>(columns),
                   1,
                   model_.tip};
    room.derivatives.setZero(6, columns);
    return room;
}

void ReachSolver::set_longer(double longer, ReachRoom& room) const {
    room.longer = longer;
    room.tip = model_.tip_when(longer);
}

Frame ReachSolver::tip(std::span<const double> values, ReachRoom& room) const {
    place(values, room);
    return room.frames.body(room.tip);
}

double ReachSolver::agility(std::span<const double> values, ReachRoom& room) const {
    place(values, room);
    derive(room);
    // Of fewer joints than what is asked, or more: whichever gives the smaller square.
    Square6 square = Square6::Zero();
    Eigen::Index n = 0;
    std::array<Eigen::Index, 6> moving{};
    bool few = true;
    for (Eigen::Index c = 0; c < room.derivatives.cols() && few; ++c) {
        if (model_.held[static_cast<std::size_t>(c)]) continue;
        few = n < 6;
        if (few) moving[static_cast<std::size_t>(n++)] = c;
    }
    const Eigen::Index asked = (model_.asks_place ? 3 : 0) + (model_.asks_turn ? 3 : 0);
    if (few && n <= asked) {
        for (Eigen::Index i = 0; i < n; ++i)
            for (Eigen::Index j = 0; j < n; ++j)
                square(i, j) = room.derivatives.col(moving[static_cast<std::size_t>(i)])
                                   .dot(room.derivatives.col(moving[static_cast<std::size_t>(j)]));
        return std::sqrt(std::max(0.0, square.topLeftCorner(n, n).determinant()));
    }
    square.noalias() = room.derivatives * room.derivatives.transpose();
    const Eigen::Index first = model_.asks_place ? 0 : 3;
    return std::sqrt(std::max(0.0, square.block(first, first, asked, asked).determinant()));
}

ReachMiss ReachSolver::miss(std::span<const double> values, const ReachGoal& goal, ReachRoom& room) const {
    const Frame now = tip(values, room);
    return {model_.asks_place ? (goal.tip.translation - now.translation).norm() : 0,
            model_.asks_turn ? turn_between(now.rotation, goal.tip.rotation).norm() : 0};
}

/// What the tip lacks, in lengths of the row. Pre: the frames are placed.
ReachSolver::Error6 ReachSolver::error(const ReachGoal& goal, const ReachRoom& room) const {
    const Frame now = room.frames.body(room.tip);
    Error6 error = Error6::Zero();
    if (model_.asks_place) error.head<3>() = (goal.tip.translation - now.translation) / model_.size_m;
    if (model_.asks_turn)
        error.tail<3>() = model_.turn_weight * turn_between(now.rotation, goal.tip.rotation);
    return error;
}

/// Of the tip by each column, in the same measure. Pre: as above.
void ReachSolver::derive(ReachRoom& room) const {
    const Vec3 at = room.frames.body(room.tip).translation;
    room.derivatives.setZero();
    for (std::size_t i = 0; i < model_.tree.axes().size(); ++i) {
        const MotionAxis& axis = model_.tree.axes()[i];
        auto column = room.derivatives.col(axis.column);
        const Vec3& way = room.frames.direction[i];
        if (!axis.turns) {
            if (model_.asks_place) column.head<3>() = way;
            continue;
        }
        if (model_.asks_place) column.head<3>() = way.cross(at - room.frames.point[i]) / model_.size_m;
        if (model_.asks_turn) column.tail<3>() = model_.turn_weight * way;
    }
}

/// Columns that are not at a limit which they press against.
void ReachSolver::find_free(std::span<const double> values, const Eigen::VectorXd& towards,
                            ReachRoom& room) const {
    for (std::uint32_t c = 0; c < values.size(); ++c) {
        const Limits& limits = model_.limits[c];
        room.free[c] = !model_.held[c] && !(values[c] <= limits.min && towards[c] < 0) &&
                       !(values[c] >= limits.max && towards[c] > 0);
    }
}

ReachSolver::Square6 ReachSolver::damped(double damping, const ReachRoom& room) const {
    Square6 square = damping * Square6::Identity();
    for (Eigen::Index c = 0; c < room.derivatives.cols(); ++c)
        if (room.free[static_cast<std::size_t>(c)])
            square.noalias() += room.derivatives.col(c) * room.derivatives.col(c).transpose();
    return square;
}

/// Values so much further, each inside its limits and there the nearest to `to`, into the room's trial; false
/// where a limit is in the way.
bool ReachSolver::turn_by(const WristForm::Turns& turns, std::span<const double> from,
                          std::span<const double> to, ReachRoom& room) const {
    for (std::uint32_t c = 0; c < turns.size(); ++c) {
        const auto value = inside(from[c] + std::remainder(turns[c], 2 * pi), model_.limits[c], to[c]);
        if (!value) return false;
        room.trial[c] = *value;
    }
    return true;
}

/// Until it gets no nearer; the error's square there. An impatient one gives up where it gets nearer slowly.
double ReachSolver::descend(std::span<double> values, const ReachGoal& goal, ReachRoom& room,
                            bool patient) const {
    const auto columns = static_cast<std::uint32_t>(values.size());
    place(values, room);
    if (form_ && form_->solve(model_, values, goal, room.frames, room.tip)) {
        place(values, room);
        return error(goal, room).squaredNorm();
    }
    if (wrist_) {
        const auto turns = wrist_->stay(goal, room.frames, room.tip);
        if (turns && turn_by(*turns, values, values, room)) {
            std::copy(room.trial.begin(), room.trial.end(), values.begin());
            place(values, room);
        }
    }
    Error6 lacks = error(goal, room);
    double cost = lacks.squaredNorm(), extra = 0, before = cost;
    for (int round = 0; round < most_descents && cost > reached * reached; ++round) {
        if (round % slow_rounds == slow_rounds - 1) {
            if (cost > (patient ? 1 - 1e-9 : slow_share) * before) break;
            before = cost;
        }
        derive(room);
        room.step.noalias() = room.derivatives.transpose() * lacks;
        find_free(values, room.step, room);
        const Square6 square = damped(0.5 * cost + least_damping + extra, room);
        const Error6 share = square.llt().solve(lacks);
        double moved = 0;
        for (std::uint32_t c = 0; c < columns; ++c) {
            const double step = room.free[c] ? room.derivatives.col(c).dot(share) * model_.unit(c) : 0.0;
            room.trial[c] = room.free[c] ? model_.limits[c].clamp(values[c] + step) : values[c];
            moved = std::max(moved, std::abs(room.trial[c] - values[c]) / model_.unit(c));
        }
        if (moved < 1e-15) break;
        place(room.trial, room);
        const Error6 now = error(goal, room);
        const double next = now.squaredNorm();
        if (next >= cost) {
            place(values, room);
            extra = std::max(4 * extra, 0.1 * cost + 1e-14);
            if (extra > 1e3) break;
            continue;
        }
        const bool slow = cost - next < 1e-15 * cost;
        std::copy(room.trial.begin(), room.trial.end(), values.begin());
        lacks = now;
        cost = next;
        extra *= 0.1;
        if (slow) break;
    }
    return cost;
}

/// How far the elbow is turned about the line from the row's root to its tip, away from the side, and which
/// way it would go. None while it lies on that line.
std::optional<double> ReachSolver::swivel(const ReachGoal& goal, const ReachRoom& room, Vec3& way) const {
    if (!goal.side || model_.tree.axes().empty()) return std::nullopt;
    const Vec3 root = room.frames.point.front(), elbow = room.frames.point[model_.elbow],
               line = room.frames.body(room.tip).translation - root;
    if (line.norm() < 1e-9 * model_.size_m) return std::nullopt;
    const Vec3 along = line.normalized();
    const auto beside = [&](const Vec3& place) {
        const Vec3 from = place - root;
        return Vec3(from - from.dot(along) * along);
    };
    const Vec3 now = beside(elbow), wanted = beside(*goal.side);
    if (now.norm() < 1e-6 * model_.size_m || wanted.norm() < 1e-9 * model_.size_m) return std::nullopt;
    way = along.cross(now);
    return std::atan2(now.cross(wanted).dot(along), now.dot(wanted));
}

/// Where the freedom that is left shall go: towards the side, or the preferred pose.
void ReachSolver::pull(std::span<const double> values, std::span<const double> preferred,
                       const ReachGoal& goal, ReachRoom& room) const {
    Vec3 way(0, 0, 0);
    const auto turn = swivel(goal, room, way);
    if (!goal.side) {
        for (std::uint32_t c = 0; c < values.size(); ++c)
            room.pull[c] = (preferred[c] - values[c]) / model_.unit(c);
        return;
    }
    room.pull.setZero();
    if (!turn) return;
    // The elbow moves by each motion above it.
    const Vec3 elbow = room.frames.point[model_.elbow];
    double size = 0;
    for (std::size_t i = 0; i < model_.elbow; ++i) {
        const MotionAxis& axis = model_.tree.axes()[i];
        const Vec3 speed = axis.turns ? Vec3(room.frames.direction[i].cross(elbow - room.frames.point[i]))
                                      : Vec3(room.frames.direction[i] * model_.size_m);
        room.pull[axis.column] = speed.dot(way);
        size += room.pull[axis.column] * room.pull[axis.column];
    }
    if (size > 0) room.pull *= std::clamp(*turn, -0.5, 0.5) * way.squaredNorm() / size;
}

/// With what freedom is left, the tip staying where it is.
void ReachSolver::settle(std::span<double> values, std::span<const double> preferred, const ReachGoal& goal,
                         ReachRoom& room) const {
    const auto columns = static_cast<std::uint32_t>(values.size());
    for (int round = 0; round < most_settling; ++round) {
        place(values, room);
        derive(room);
        pull(values, preferred, goal, room);
        find_free(values, room.pull, room);
        for (std::uint32_t c = 0; c < columns; ++c)
            if (!room.free[c]) room.pull[c] = 0;
        const Error6 moves = room.derivatives * room.pull;
        const Error6 share = damped(least_damping, room).llt().solve(moves);
        for (std::uint32_t c = 0; c < columns; ++c)
            room.step[c] = room.free[c] ? room.pull[c] - room.derivatives.col(c).dot(share) : 0.0;
        // Far ways are gone in pieces, so that what is bent stays bent.
        if (const double largest = room.step.cwiseAbs().maxCoeff(); largest > most_at_once)
            room.step *= most_at_once / largest;
        double moved = 0;
        for (std::uint32_t c = 0; c < columns; ++c) {
            room.best[c] =
                room.free[c] ? model_.limits[c].clamp(values[c] + room.step[c] * model_.unit(c)) : values[c];
            moved = std::max(moved, std::abs(room.best[c] - values[c]) / model_.unit(c));
        }
        if (moved < 1e-9) return;
        // Back onto the goal; where that fails, the limits are in the way.
        std::copy(values.begin(), values.end(), room.start.begin());
        std::copy(room.best.begin(), room.best.end(), values.begin());
        if (descend(values, goal, room) <= 1e-18) continue;
        std::copy(room.start.begin(), room.start.end(), values.begin());
        return;
    }
}

void ReachSolver::solve(std::span<double> values, std::span<const double> preferred, const ReachGoal& goal,
                        ReachRoom& room) const {
    if (!goal.tip.translation.allFinite() || !goal.tip.rotation.coeffs().allFinite()) return;
    if (descend(values, goal, room) <= 1e-18) settle(values, preferred, goal, room);
}

void ReachSolver::follow(std::span<double> values, std::span<const double> preferred, const ReachGoal& from,
                         const ReachGoal& to, ReachRoom& room) const {
    const double far = (to.tip.translation - from.tip.translation).norm() / (goal_shift * model_.size_m),
                 round = angle_between(from.tip.rotation, to.tip.rotation) / goal_turn_rad;
    // A goal out of reach is followed no further than the row is long.
    const double most = 200;
    const auto steps = static_cast<int>(std::ceil(
        std::clamp(std::max(model_.asks_place ? far : 0, model_.asks_turn ? round : 0), 1.0, most)));
    ReachGoal goal = to;
    for (int i = 1; i < steps; ++i) {
        const double share = static_cast<double>(i) / steps;
        goal.tip = {from.tip.rotation.slerp(share, to.tip.rotation),
                    from.tip.translation + share * (to.tip.translation - from.tip.translation)};
        descend(values, goal, room);
    }
    solve(values, preferred, to, room);
}

/// A row that points at its goal and falls short is as much longer as that is farther; one that cannot point
/// there gets nearer as far as that helps.
double ReachSolver::stretch(std::span<double> values, std::span<const double> preferred,
                            const ReachGoal& goal, double most, ReachRoom& room) const {
    constexpr int most_rounds = 30;
    for (int i = 0; i < most_rounds && room.longer < most; ++i) {
        const Vec3 now = tip(values, room).translation;
        if ((goal.tip.translation - now).norm() <= reached * model_.size_m) break;
        const Vec3 root = room.frames.point.front(), way = now - root;
        const double share = (goal.tip.translation - root).dot(way) / way.squaredNorm();
        if (!(share > 1 + 1e-12)) break;
        set_longer(std::min(most, room.longer * share), room);
        if (descend(values, goal, room) <= 1e-18) settle(values, preferred, goal, room);
    }
    return room.longer;
}

}  // namespace pivrak
