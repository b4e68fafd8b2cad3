#include "core/model/joint_question.h"

namespace pivrak {

/// It hangs on its seats whatever the joints are.
std::optional<std::string> joint_user(const Stretch&, const JointQuestion&) {
    return std::nullopt;
}

}  // namespace pivrak
