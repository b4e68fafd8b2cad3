#include "core/model/joint_question.h"

namespace pivrak {

/// It carries whatever the joint is.
std::optional<std::string> joint_user(const Carry&, const JointQuestion&) {
    return std::nullopt;
}

}  // namespace pivrak
