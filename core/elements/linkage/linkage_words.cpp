#include "core/elements/linkage/linkage.h"
#include "core/model/joint_question.h"

namespace pivrak {

Damaged Linkage::damaged() const {
    if (closures.empty()) return "nothing is closed";
    for (const Closure& closure : closures)
        if (closure.a == closure.b) return "a part is closed with itself";
    return std::nullopt;
}

std::optional<std::string> joint_user(const Linkage& linkage, const JointQuestion& asked) {
    for (const LinkageInput& input : linkage.inputs)
        if (asked.lacks(input.channel)) return "'" + linkage.name + "'";
    return std::nullopt;
}

}  // namespace pivrak
