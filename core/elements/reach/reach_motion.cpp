#include "core/elements/reach/reach_motion.h"

#include <algorithm>
#include <cmath>

namespace pivrak {

ReachStep::Memory ReachStep::start() const {
    if (!solver) return {};
    const std::vector<double> zeros(channels.size(), 0.0);
    return {solver->make_room(), zeros};
}

ReachGoal ReachStep::goal_in_row(const RunContext& context) const {
    const Frame row_from_world = context.base_of(root).inverse();
    ReachGoal asked{(row_from_world * context.frame(goal) * goal_frame).normalized(), {}};
    if (has_side) asked.side = row_from_world.point(context.frame(side).translation);
    return asked;
}

void ReachStep::run(RunContext& context, Memory& memory) const {
    const std::size_t count = channels.size();
    const std::span values = context.states.subspan(state, count),
                    last = context.states.subspan(state + count, states_of_goal);
    for (std::size_t c = 0; c < count; ++c)
        memory.preferred[c] = held[c] ? context.channels[channels[c]] : context.asked[channels[c]];
    if (context.mode == StateMode::Move || context.mode == StateMode::Align) {
        const ReachGoal asked = goal_in_row(context);
        for (std::size_t c = 0; c < count; ++c) {
            // What is held goes along with what holds it; the rest starts where it was.
            const Limits& limits = solver->model().limits[c];
            values[c] = held[c] ? memory.preferred[c] : limits.clamp(values[c]);
        }
        const ReachGoal before{{Quat(last[3], last[4], last[5], last[6]), Vec3(last[0], last[1], last[2])},
                               {}};
        const bool finite = asked.tip.translation.allFinite() && asked.tip.rotation.coeffs().allFinite();
        if (finite && last[7] == 0)
            solver->solve(values, memory.preferred, asked, memory.room);
        else if (finite)
            solver->follow(values, memory.preferred, before, asked, memory.room);
        // At the clip's start the whole range is looked through; from then on it stays on its branch.
        if (finite && context.mode == StateMode::Align && last[7] != 0)
            solver->search(values, memory.preferred, asked, memory.room);
        if (finite) {
            const Vec3& at = asked.tip.translation;
            const Quat& turn = asked.tip.rotation;
            const double kept[] = {at.x(), at.y(), at.z(), turn.w(), turn.x(), turn.y(), turn.z(), 1};
            std::copy(std::begin(kept), std::end(kept), last.begin());
        }
    }
    const double share = std::clamp(context.channels[blend], 0.0, 1.0);
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
