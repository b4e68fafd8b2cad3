#include <fmt/format.h>

#include <cmath>

#include "core/rig/formulas/formula_text.h"

namespace pivrak {
namespace {

using What = FormulaNode::What;

/// What makes one quantity of another, as it is typed.
std::string repair(const FormulaQuantity& from, const FormulaQuantity& to) {
    if (from == length_quantity && to == angle_quantity) return "divide it by a radius, times 1 rad";
    if (from == angle_quantity && to == length_quantity) return "multiply it by a radius, divided by 1 rad";
    if (from == angle_quantity && to.has_none()) return "divide it by 360 deg for turns";
    if (from.has_none() && to == angle_quantity) return "multiply it by 360 deg for turns";
    if (from == frames_quantity && to == time_quantity) return "take the seconds instead of the frame";
    if (from == time_quantity && to == frames_quantity) return "take the frame instead of the seconds";
    const FormulaQuantity factor = over(to, from);
    if (factor.has_none()) return "";
    return fmt::format("multiply it by {}", words_for(factor));
}

/// Nodes stand behind those they are made of, so one pass from the first to the last sees all.
class Kinds {
public:
    Kinds(const FormulaTree& tree, std::span<const FormulaName> inputs) : tree_(tree), inputs_(inputs) {}

    FormulaQuantity result() {
        for (const FormulaNode& node : tree_.nodes) of_.push_back(quantity(node));
        return of_[tree_.result];
    }
    std::vector<FormulaNote> run(const FormulaQuantity& wanted) {
        result();
        const FormulaNode& result = tree_.nodes[tree_.result];
        const FormulaQuantity& gives = of_[tree_.result];
        if (!gives.goes_with(wanted))
            note(result,
                 fmt::format("the result is {}, what it drives {}", words_for(gives), words_for(wanted)),
                 repair(gives, wanted));
        return std::move(notes_);
    }

private:
    void note(const FormulaNode& at, std::string message, const std::string& mend) {
        if (!mend.empty()) message += ": " + mend;
        notes_.push_back({at.at, at.length, std::move(message)});
    }
    const FormulaQuantity& of(const FormulaNode& node, std::size_t i) const { return of_[node.of[i]]; }

    /// All of them alike; what they are.
    FormulaQuantity alike(const FormulaNode& node, std::size_t from, std::size_t to) {
        FormulaQuantity all = of(node, from);
        for (std::size_t i = from + 1; i < to; ++i) {
            const FormulaQuantity& next = of(node, i);
            if (!all.goes_with(next))
                note(tree_.nodes[node.of[i]],
                     fmt::format("{} stands beside {}", words_for(next), words_for(all)), repair(next, all));
            else if (all.plain && all.has_none())
                all = next;
        }
        return all;
    }
    void expect(const FormulaNode& node, std::size_t i, const FormulaQuantity& wanted) {
        const FormulaQuantity& given = of(node, i);
        if (!given.goes_with(wanted))
            note(tree_.nodes[node.of[i]],
                 fmt::format("this is {}, where {} is asked for", words_for(given), words_for(wanted)),
                 repair(given, wanted));
    }

    FormulaQuantity quantity(const FormulaNode& node) {
        switch (node.what) {
            case What::Number:
                return node.quantity;
            case What::Input:
                return inputs_[node.index].quantity;
            case What::Local:
                return of_[tree_.locals[node.index]];
            case What::Negative:
                return of(node, 0);
            case What::Not:
                return ratio_quantity;
            case What::If:
                return alike(node, 1, 3);
            case What::Operator:
                return of_operator(node);
            case What::Call:
                return of_call(node, formula_functions()[node.index].rule);
        }
        return {};
    }

    FormulaQuantity of_operator(const FormulaNode& node) {
        if (node.sign == "*") return times(of(node, 0), of(node, 1));
        if (node.sign == "/") return over(of(node, 0), of(node, 1));
        if (node.sign == "^") return power(node);
        if (node.sign == "+" || node.sign == "-") return alike(node, 0, 2);
        if (node.sign != "&&" && node.sign != "||") alike(node, 0, 2);
        return ratio_quantity;
    }
    /// Of a quantity only a whole power that is typed is known.
    FormulaQuantity power(const FormulaNode& node) {
        const FormulaNode& exponent = tree_.nodes[node.of[1]];
        const bool whole = exponent.what == What::Number && std::abs(exponent.number) <= 4 &&
                           exponent.number == std::round(exponent.number);
        if (whole) return to_the(of(node, 0), static_cast<int>(exponent.number));
        expect(node, 0, ratio_quantity);
        return ratio_quantity;
    }
    FormulaQuantity root(const FormulaNode& node) {
        const FormulaQuantity& q = of(node, 0);
        if (q.length % 2 || q.angle % 2 || q.time % 2 || q.frames % 2) {
            note(tree_.nodes[node.of[0]], fmt::format("the root of {} counts nothing", words_for(q)), "");
            return ratio_quantity;
        }
        const auto half = [](std::int8_t x) { return static_cast<std::int8_t>(x / 2); };
        return {half(q.length), half(q.angle), half(q.time), half(q.frames), q.plain};
    }

    FormulaQuantity of_call(const FormulaNode& node, FunctionRule rule) {
        switch (rule) {
            case FunctionRule::Same:
                return alike(node, 0, node.of.size());
            case FunctionRule::Compares:
                alike(node, 0, node.of.size());
                return ratio_quantity;
            case FunctionRule::OfAngle:
                expect(node, 0, angle_quantity);
                return ratio_quantity;
            case FunctionRule::ToAngle:
                expect(node, 0, ratio_quantity);
                return angle_quantity;
            case FunctionRule::Angle:
                alike(node, 0, 2);
                return angle_quantity;
            case FunctionRule::OfRatio:
                expect(node, 0, ratio_quantity);
                return ratio_quantity;
            case FunctionRule::Sign:
                return ratio_quantity;
            case FunctionRule::Root:
                return root(node);
            case FunctionRule::Power:
                return power(node);
            case FunctionRule::Mix:
                expect(node, 2, ratio_quantity);
                return alike(node, 0, 2);
        }
        return {};
    }

    const FormulaTree& tree_;
    std::span<const FormulaName> inputs_;
    std::vector<FormulaQuantity> of_;
    std::vector<FormulaNote> notes_;
};

}  // namespace

FormulaQuantity quantity_of_result(const FormulaTree& tree, std::span<const FormulaName> inputs) {
    return Kinds(tree, inputs).result();
}

std::vector<FormulaNote> unlike_quantities(const FormulaTree& tree, std::span<const FormulaName> inputs,
                                           const FormulaQuantity& result) {
    return Kinds(tree, inputs).run(result);
}

}  // namespace pivrak
