#include "core/model/joint_question.h"

namespace pivrak {

/// It measures whatever the joints are.
std::optional<std::string> joint_user(const Measure&, const JointQuestion&) {
    return std::nullopt;
}

}  // namespace pivrak
