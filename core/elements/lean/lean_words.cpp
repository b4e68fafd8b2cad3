#include "core/model/joint_question.h"

namespace pivrak {

std::optional<std::string> joint_user(const Lean& lean, const JointQuestion& asked) {
    if (asked.lacks_turn(lean.wheel) || asked.lacks_freedom(lean.driven.part()))
        return "the lean of " + asked.name(lean.wheel);
    return std::nullopt;
}

}  // namespace pivrak
