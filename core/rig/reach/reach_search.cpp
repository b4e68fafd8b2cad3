// Where following a goal does not get there: other poses to begin from.
#include <algorithm>
#include <cmath>
#include <limits>
#include <random>

#include "core/rig/reach/reach_solver.h"

namespace pivrak {
namespace {

constexpr int most_seeds = 150;
/// Misses under this, against the row's length, count as none.
constexpr double got_there = 1e-7;
/// So many poses are drawn to begin with the best.
constexpr int drawn = 12;
/// A pose that misses too is only taken when it misses by so much less.
constexpr double worth_it = 1e-6;

}  // namespace

double ReachSolver::dislike(std::span<const double> values, std::span<const double> preferred,
                            const ReachGoal& goal, ReachRoom& room) const {
    place(values, room);
    double sum = 0;
    for (std::uint32_t c = 0; c < values.size(); ++c) {
        const double way = (values[c] - preferred[c]) / model_.unit(c);
        sum += way * way;
    }
    Vec3 way(0, 0, 0);
    const auto turn = swivel(goal, room, way);
    return sum + (turn ? 1e3 * *turn * *turn : 0);
}

/// A random pose within limits, the nearest to the goal of some.
void ReachSolver::draw(std::mt19937& random, std::span<double> seed, std::span<const double> preferred,
                       const ReachGoal& goal, ReachRoom& room) const {
    double nearest = std::numeric_limits<double>::infinity();
    const auto share = [&] { return static_cast<double>(random()) * 0x1p-32; };
    std::copy(seed.begin(), seed.end(), room.trial.begin());
    for (int i = 0; i < drawn; ++i) {
        for (std::uint32_t c = 0; c < seed.size(); ++c) {
            if (model_.held[c]) continue;
            const Limits& limits = model_.limits[c];
            const double far = model_.tree.turns(c) ? pi : model_.size_m;
            const double low = std::max(limits.min, preferred[c] - far),
                         high = std::min(limits.max, preferred[c] + far);
            room.trial[c] = limits.clamp(low + share() * (high - low));
        }
        place(room.trial, room);
        const double lacks = error(goal, room).squaredNorm();
        if (lacks >= nearest) continue;
        nearest = lacks;
        std::copy(room.trial.begin(), room.trial.end(), room.best.begin());
    }
    std::copy(room.best.begin(), room.best.end(), seed.begin());
}

/// The pose at the goal that is liked best of those in closed form; false where none is within limits.
bool ReachSolver::nearest_form(std::span<double> values, std::span<const double> preferred,
                               const ReachGoal& goal, ReachRoom& room) const {
    if (!wrist_) return false;
    place(values, room);
    std::vector<WristForm::Turns> ways;
    wrist_->all(goal, room.frames, room.tip, ways);
    const std::vector<double> from(values.begin(), values.end());
    double least = std::numeric_limits<double>::infinity();
    for (const WristForm::Turns& turns : ways) {
        if (!turn_by(turns, from, preferred, room)) continue;
        const double its = dislike(room.trial, preferred, goal, room);
        if (its >= least) continue;
        least = its;
        std::copy(room.trial.begin(), room.trial.end(), values.begin());
    }
    return std::isfinite(least);
}

void ReachSolver::search(std::span<double> values, std::span<const double> preferred, const ReachGoal& goal,
                         ReachRoom& room) const {
    std::mt19937 random(1);
    std::vector<double> best(values.begin(), values.end()), seed = best;
    const auto is_there = [&](std::span<const double> at) {
        const ReachMiss lacks = miss(at, goal, room);
        return lacks.place_m <= got_there * model_.size_m && lacks.turn_rad <= got_there;
    };
    const auto cost = [&](std::span<const double> at) {
        const ReachMiss lacks = miss(at, goal, room);
        return lacks.place_m / model_.size_m + lacks.turn_rad;
    };
    if (nearest_form(best, preferred, goal, room) && is_there(best)) {
        std::copy(best.begin(), best.end(), values.begin());
        return;
    }
    if (!is_there(best) && descend(best, goal, room, false) <= 1e-18) settle(best, preferred, goal, room);
    bool have = is_there(best);
    double best_dislike = have ? dislike(best, preferred, goal, room) : 0, best_cost = cost(best);
    for (int i = 0; i < most_seeds; ++i) {
        // One that is there already is only left for one that bends to the side.
        if (have && (!goal.side || i > 12)) break;
        if (i == 0)
            for (std::uint32_t c = 0; c < seed.size(); ++c)
                seed[c] = model_.held[c] ? seed[c] : model_.limits[c].clamp(preferred[c]);
        else
            draw(random, seed, preferred, goal, room);
        if (descend(seed, goal, room, false) <= 1e-18) settle(seed, preferred, goal, room);
        const bool there = is_there(seed);
        if (have && !there) continue;
        const double its_dislike = dislike(seed, preferred, goal, room), its_cost = cost(seed);
        if (there == have && (have ? its_dislike >= best_dislike : its_cost > best_cost - worth_it)) continue;
        best = seed;
        have = there;
        best_dislike = its_dislike;
        best_cost = its_cost;
    }
    std::copy(best.begin(), best.end(), values.begin());
    if (!have) descend(values, goal, room);
}

}  // namespace pivrak
