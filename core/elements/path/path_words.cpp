#include "core/model/joint_question.h"

namespace pivrak {

/// A path asks nothing of a joint.
std::optional<std::string> joint_user(const Path&, const JointQuestion&) {
    return std::nullopt;
}

}  // namespace pivrak
