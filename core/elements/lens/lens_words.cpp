#include "core/model/joint_question.h"

namespace pivrak {

/// Any joint moves a camera as it does a part.
std::optional<std::string> joint_user(const Lens&, const JointQuestion&) {
    return std::nullopt;
}

}  // namespace pivrak
