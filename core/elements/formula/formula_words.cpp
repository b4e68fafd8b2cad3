#include "core/model/joint_question.h"

namespace pivrak {

std::optional<std::string> joint_user(const Formula& formula, const JointQuestion& asked) {
    if (asked.lacks(formula.driven)) return "its formula";
    for (const FormulaInput& input : formula.inputs)
        if (input.kind == InputKind::Channel && asked.lacks(input.channel))
            return "the formula of " + asked.name(formula.driven.part());
    return std::nullopt;
}

}  // namespace pivrak
