#include "core/model/joint_question.h"

namespace pivrak {

std::optional<std::string> joint_user(const Steer& steer, const JointQuestion& asked) {
    if (!asked.lacks(steer.driver) && !asked.lacks(steer.driven)) return std::nullopt;
    return "the steering of " + asked.name(steer.driven.part());
}

}  // namespace pivrak
