#include "core/model/joint_question.h"

namespace pivrak {

std::optional<std::string> joint_user(const Roll& roll, const JointQuestion& asked) {
    if (asked.lacks(roll.driven)) return "its rolling";
    return asked.lacks_turn(roll.like) ? std::optional(asked.name(roll.driven.part())) : std::nullopt;
}

}  // namespace pivrak
