#include "core/model/joint_question.h"

namespace pivrak {

std::optional<std::string> joint_user(const Sway& sway, const JointQuestion& asked) {
    return asked.lacks(sway.driven) ? std::optional<std::string>("its sway") : std::nullopt;
}

}  // namespace pivrak
