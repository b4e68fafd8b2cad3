#include "core/model/joint_question.h"

namespace pivrak {

std::optional<std::string> joint_user(const GearPair& pair, const JointQuestion& asked) {
    if (!asked.lacks(pair.driver) && !asked.lacks(pair.driven)) return std::nullopt;
    return "its pair with " +
           asked.name(pair.driver.part() == asked.part ? pair.driven.part() : pair.driver.part());
}

}  // namespace pivrak
