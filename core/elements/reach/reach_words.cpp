#include "core/elements/reach/reach.h"
#include "core/model/joint_question.h"

namespace pivrak {

/// It makes do with any joints.
std::optional<std::string> joint_user(const Reach&, const JointQuestion&) {
    return std::nullopt;
}

}  // namespace pivrak
