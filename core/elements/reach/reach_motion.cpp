#include "core/elements/reach/reach_motion.h"

#include <algorithm>
#include <cmath>

namespace pivrak {

ReachStep::Memory ReachStep::start() const {
    if (!solver) return {};
    const std::vector<double> zeros(channels.size(), 0.0);
    return {solver->make_room(), zeros, zeros};
}

ReachGoal ReachStep::goal_in_row(const RunContext& context) const {
    const Frame row_from_world = context.base_of(root).inverse();
    ReachGoal asked{(row_from_world * context.frame(goal) * goal_frame).rigid().normalized(), {}};
    if (has_side) asked.side = row_from_world.point(context.frame(side).translation);
    return asked;
}

ReachStep::States ReachStep::states_of(const RunContext& context) const {
    const std::size_t count = channels.size();
    const std::span<double> all =
        context.states.subspan(state, state_count(static_cast<std::uint32_t>(count)));
    return {all.subspan(0, count), all.subspan(count, count), all.subspan(2 * count + 1, states_of_goal),
            all[2 * count], all[2 * count + 1 + states_of_goal]};
}

void LengthenStep::run(RunContext& context) const {
    const Frame rest{parent_from_rest.rotation, context.channels[stretch] * parent_from_rest.translation};
    context.frames[base] = context.frame(parent) * rest;
}

namespace {

/// With less of what it could be moved by at best a row counts as stretched: from there both ways to bend are
/// near.
constexpr double stretched = 0.1;

ReachGoal goal_from(std::span<const double> kept) {
    return {{Quat(kept[3], kept[4], kept[5], kept[6]), Vec3(kept[0], kept[1], kept[2])}, {}};
}

void keep_goal(const ReachGoal& goal, std::span<double> kept) {
    const Vec3& at = goal.tip.translation;
    const Quat& turn = goal.tip.rotation;
    const double numbers[] = {at.x(), at.y(), at.z(), turn.w(), turn.x(), turn.y(), turn.z(), 1};
    std::copy(std::begin(numbers), std::end(numbers), kept.begin());
}

double size_of(const ReachMiss& miss, double size_m) {
    return miss.place_m / size_m + miss.turn_rad;
}

}  // namespace

/// From the pose before. Out of a stretched one it goes by the last bent pose, so that it bends the way it
/// did.
void ReachStep::follow(const States& now, const ReachGoal& asked, Memory& memory) const {
    const double size = solver->model().size_m;
    const bool is_stretched =
        now.agility > 0 && solver->agility(now.values, memory.room) < stretched * now.agility;
    solver->follow(now.values, memory.preferred, goal_from(now.last), asked, memory.room);
    if (!is_stretched) return;
    std::copy(now.bent.begin(), now.bent.end(), memory.tried.begin());
    for (std::size_t c = 0; c < held.size(); ++c)
        if (held[c]) memory.tried[c] = now.values[c];
    const ReachGoal bent{solver->tip(memory.tried, memory.room), {}};
    solver->follow(memory.tried, memory.preferred, bent, asked, memory.room);
    const double by_bent = size_of(solver->miss(memory.tried, asked, memory.room), size),
                 by_last = size_of(solver->miss(now.values, asked, memory.room), size);
    if (by_bent <= by_last + 1e-6) std::copy(memory.tried.begin(), memory.tried.end(), now.values.begin());
}

void ReachStep::run(RunContext& context, Memory& memory) const {
    const std::size_t count = channels.size();
    const States now = states_of(context);
    const std::span<double> values = now.values;
    for (std::size_t c = 0; c < count; ++c)
        memory.preferred[c] = held[c] ? context.channels[channels[c]] : context.asked[channels[c]];
    const ReachGoal asked = goal_in_row(context);
    const bool moves = context.mode == StateMode::Move || context.mode == StateMode::Align;
    if (moves && asked.tip.translation.allFinite() && asked.tip.rotation.coeffs().allFinite()) {
        // What is held goes along with what holds it; the rest starts where it was.
        for (std::size_t c = 0; c < count; ++c)
            values[c] = held[c] ? memory.preferred[c] : solver->model().limits[c].clamp(values[c]);
        solver->set_longer(1, memory.room);
        const bool begins = now.last[7] == 0;
        if (begins)
            solver->solve(values, memory.preferred, asked, memory.room);
        else
            follow(now, asked, memory);
        // At the clip's start the whole range is looked through; from then on it stays on its branch.
        if (context.mode == StateMode::Align && !begins)
            solver->search(values, memory.preferred, asked, memory.room);
        now.longer = most_stretch > 1
                         ? solver->stretch(values, memory.preferred, asked, most_stretch, memory.room)
                         : 1;
        keep_goal(asked, now.last);
        const double agility = solver->agility(values, memory.room);
        if (agility > stretched * now.agility) {
            std::copy(values.begin(), values.end(), now.bent.begin());
            now.agility = std::max(agility, now.agility);
        }
    }
    const double share = std::clamp(context.channels[blend], 0.0, 1.0);
    if (stretch >= 0)
        context.set(static_cast<std::uint32_t>(stretch), 1 + share * (std::max(now.longer, 1.0) - 1));
    for (std::size_t c = 0; c < count; ++c)
        if (!held[c])
            context.set(channels[c], share >= 1
                                         ? values[c]
                                         : memory.preferred[c] + share * (values[c] - memory.preferred[c]));
}

std::optional<ReachMiss> reach_miss(const Evaluator& evaluator, const Pose& pose, const Reach& reach) {
    const auto tip = evaluator.part_slot(reach.tip);
    const auto goal = reach.goal ? evaluator.part_slot(reach.goal) : std::nullopt;
    if (!tip || reach.off || (reach.goal && !goal)) return std::nullopt;
    const Frame& now = pose.world_from_part[*tip];
    const Frame asked = (goal ? pose.world_from_part[*goal] : Frame{}) * reach.goal_frame();
    return ReachMiss{reach.not_place ? 0 : (asked.translation - now.point(reach.place)).norm(),
                     reach.turns ? angle_between(now.rotation, asked.rotation) : 0};
}

}  // namespace pivrak
