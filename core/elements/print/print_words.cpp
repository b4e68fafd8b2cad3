#include "core/model/joint_question.h"

namespace pivrak {

std::optional<std::string> joint_user(const Print& print, const JointQuestion& asked) {
    return asked.lacks_turn(print.wheel) ? std::optional("'" + print.name + "'") : std::nullopt;
}

}  // namespace pivrak
