#include <fmt/format.h>

#include "core/checks/clip_check.h"
#include "core/checks/drive/drive_mapper.h"
#include "core/checks/element_check.h"
#include "core/elements/formula/formula_motion.h"
#include "core/rig/formulas/formula_inputs.h"

namespace pivrak {
namespace {

/// Tells the first frame at which a formula has no answer.
class AnswerWatch final : public ClipWatch {
public:
    AnswerWatch(const Formula& formula, const ClipCheck& check)
        : formula_(formula), document_(check.document), clip_(check.clip), evaluator_(check.evaluator) {}

    void look(const Pose& pose, double frame) override {
        if (!first_ && !formula_value(document_, clip_, formula_, evaluator_, pose, frame)) first_ = frame;
    }
    void tell(ClipCheck& out) const override {
        if (!first_) return;
        out.add("formula.no_answer", formula_.driven.part(),
                fmt::format("the formula of '{}' has no answer {}: it divides by nothing, or takes a root or "
                            "logarithm of what has none; the channel stands as by hand there",
                            channel_name(document_, formula_.driven), out.at(*first_)),
                first_);
    }

private:
    Formula formula_;
    const Document& document_;
    const Clip& clip_;
    const Evaluator& evaluator_;
    std::optional<double> first_;
};

}  // namespace

void check(const Formula& formula, ElementCheck& out) {
    const std::string name = channel_name(out.document, formula.driven);
    if (const ReadFormula read = read_formula(formula); read.problem)
        out.add(
            Stage::Rig, "formula.broken", formula.driven.part(),
            fmt::format("the formula of '{}' cannot be read at '{}': {}", name,
                        formula.text.substr(read.problem->at, read.problem->length), read.problem->message));
    for (const FormulaInput& input : formula.inputs)
        if (!input.lost.empty())
            out.add(Stage::Rig, "formula.lost", formula.driven.part(),
                    fmt::format("in the formula of '{}', '{}' stands at {}: '{}' was removed", name,
                                input.name, input_words(out.document, input), input.lost));
}

void watch(const Formula& formula, ClipCheck& out) {
    if (!formula.off && !read_formula(formula).problem)
        out.watch(std::make_unique<AnswerWatch>(formula, out));
}

void map(const Formula& formula, DriveMapper& out) {
    for (const FormulaInput& input : formula.inputs)
        if (input.kind == InputKind::Channel) out.add(input.channel, formula.driven, "formula");
}

}  // namespace pivrak
