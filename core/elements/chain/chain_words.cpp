#include "core/model/joint_question.h"

namespace pivrak {

std::optional<std::string> joint_user(const Chain& chain, const JointQuestion& asked) {
    bool minds = chain.take_up == asked.part && !asked.joint.has(ChannelKind::Turn) &&
                 !asked.joint.has(ChannelKind::Shift);
    for (const ChainWheel& wheel : chain.wheels) minds |= asked.lacks_turn(wheel.part);
    return minds ? std::optional("'" + chain.name + "'") : std::nullopt;
}

}  // namespace pivrak
