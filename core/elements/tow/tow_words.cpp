#include "core/model/joint_question.h"

namespace pivrak {

/// A turntable or drawbar that is no hinge any more points nowhere, which harms nothing.
std::optional<std::string> joint_user(const Tow&, const JointQuestion&) {
    return std::nullopt;
}

}  // namespace pivrak
