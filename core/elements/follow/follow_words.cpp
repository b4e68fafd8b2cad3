#include "core/model/joint_question.h"

namespace pivrak {

std::optional<std::string> joint_user(const Follow& follow, const JointQuestion& asked) {
    if (asked.lacks(follow.driver)) return asked.name(follow.driven.part());
    return asked.lacks(follow.driven) ? std::optional(asked.name(follow.driver.part())) : std::nullopt;
}

}  // namespace pivrak
