#include "core/model/joint_question.h"

namespace pivrak {

/// A rider may have any joint.
std::optional<std::string> joint_user(const Ride&, const JointQuestion&) {
    return std::nullopt;
}

}  // namespace pivrak
