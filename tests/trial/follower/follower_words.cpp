#include "core/model/joint_question.h"

namespace pivrak {

std::optional<std::string> joint_user(const Follower& follower, const JointQuestion& asked) {
    if (!asked.lacks(follower.driver) && !asked.lacks(follower.driven)) return std::nullopt;
    return "the follower of " + asked.name(follower.driver.part());
}

}  // namespace pivrak
