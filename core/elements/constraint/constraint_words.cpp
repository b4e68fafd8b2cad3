#include "core/elements/constraint/constraint.h"
#include "core/model/joint_question.h"

namespace pivrak {

std::string_view verb_of(Asks asks) {
    static constexpr std::string_view verbs[] = {"goes along", "turns along", "aims",
                                                 "rests",      "hangs",       "stays in"};
    return verbs[static_cast<std::size_t>(asks)];
}

Damaged Constraint::damaged() const {
    if (keeps_second && second_axis == axis) return "an axis cannot aim and be kept besides";
    if (length_m < 0 || damping < 0) return "a pendulum has neither length nor damping below nothing";
    if (blend.value < 0 || blend.value > 1) return "its blend is outside 0 to 1";
    for (const InsideBound& bound : bounds)
        for (const InsideBound& other : bounds)
            if (bound.axis == other.axis && bound.most && !other.most && bound.at_m < other.at_m)
                return "bounds leave nothing between them";
    return std::nullopt;
}

bool Constraint::moves(JointKind joint, ChannelKind channel) const {
    const bool one_turn = joint == JointKind::Hinge || joint == JointKind::Cylinder,
               one_shift = joint == JointKind::Slide || joint == JointKind::Cylinder;
    const bool turns = channel >= ChannelKind::TurnX && channel <= ChannelKind::TurnZ,
               shifts = channel >= ChannelKind::ShiftX && channel <= ChannelKind::ShiftZ;
    const bool leans = !is_of_place() || (asks == Asks::Rest && slope);
    if (channel == ChannelKind::Turn) return one_turn;
    if (channel == ChannelKind::Shift) return one_shift && is_of_place();
    if (joint == JointKind::Ball) return turns;
    if (joint != JointKind::Free) return false;
    return (shifts && is_of_place()) || (turns && leans);
}

std::optional<std::string> joint_user(const Constraint& constraint, const JointQuestion& asked) {
    if (asked.part != constraint.part) return std::nullopt;
    for (const ChannelKind kind : channels_of(asked.joint.kind))
        if (constraint.moves(asked.joint.kind, kind)) return std::nullopt;
    return "'" + constraint.name + "'";
}

}  // namespace pivrak
