#include "core/rig/formulas/formula_text.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <numeric>

#include "core/geometry/types.h"
#include "core/rig/formulas/formula_tokens.h"

namespace pivrak {
namespace {

using What = FormulaNode::What;

constexpr std::size_t longest_text = 4000;
constexpr int deepest = 200;

struct Unit {
    std::string_view word;
    double factor;
    FormulaQuantity quantity;
};

/// Factors to metres, degrees, seconds. Inch and foot: ISO 80000-3:2019, Annex; the others are those of the
/// SI.
constexpr Unit units[] = {
    {"mm", 1e-3, length_quantity},  {"cm", 1e-2, length_quantity},     {"m", 1, length_quantity},
    {"km", 1e3, length_quantity},   {"in", 0.0254, length_quantity},   {"ft", 0.3048, length_quantity},
    {"deg", 1, angle_quantity},     {"rad", 180 / pi, angle_quantity}, {"turn", 360, angle_quantity},
    {"turns", 360, angle_quantity}, {"s", 1, time_quantity},           {"ms", 1e-3, time_quantity},
    {"min", 60, time_quantity},     {"%", 0.01, ratio_quantity},
};
constexpr std::string_view words[] = {"and", "or", "not", "if", "pi"};

const Unit* unit_named(std::string_view word) {
    const auto found =
        std::find_if(std::begin(units), std::end(units), [&](const Unit& unit) { return unit.word == word; });
    return found == std::end(units) ? nullptr : found;
}

/// How many letters have to be changed, put in or left out.
std::size_t letters_apart(std::string_view a, std::string_view b) {
    std::vector<std::size_t> row(b.size() + 1);
    std::iota(row.begin(), row.end(), std::size_t{0});
    for (std::size_t i = 1; i <= a.size(); ++i) {
        std::size_t diagonal = std::exchange(row[0], i);
        for (std::size_t j = 1; j <= b.size(); ++j) {
            const std::size_t changed = diagonal + (a[i - 1] != b[j - 1]);
            diagonal = row[j];
            row[j] = std::min({changed, row[j] + 1, row[j - 1] + 1});
        }
    }
    return row.back();
}

/// Recursive descent, each rule a function; whatever goes wrong first is what is told.
class Reader {
public:
    Reader(std::string_view text, std::span<const FormulaName> inputs, double unit_m)
        : text_(text), inputs_(inputs), unit_m_(unit_m) {}

    ReadFormula run() {
        if (text_.size() > longest_text) {
            problem(
                longest_text, 1,
                fmt::format("a formula has at most {} characters, this has {}", longest_text, text_.size()));
            return std::move(out_);
        }
        FormulaTokens cut = cut_formula(text_);
        tokens_ = std::move(cut.tokens);
        out_.problem = std::move(cut.problem);
        if (!out_.problem) lines();
        return std::move(out_);
    }

private:
    using Node = std::uint32_t;

    // ---- tokens
    const FormulaToken& now() const { return tokens_[at_]; }
    const FormulaToken& following() const { return tokens_[std::min(at_ + 1, tokens_.size() - 1)]; }
    bool is(FormulaToken::What what) const { return now().what == what; }
    bool is_sign(std::string_view sign) const { return is(FormulaToken::What::Sign) && now().text == sign; }
    bool is_name(std::string_view name) const { return is(FormulaToken::What::Name) && now().text == name; }
    bool take_sign(std::string_view sign) {
        if (!is_sign(sign)) return false;
        ++at_;
        return true;
    }
    bool ended() const { return is(FormulaToken::What::LineEnd) || is(FormulaToken::What::End); }

    Node problem(std::size_t at, std::size_t length, std::string message) {
        if (!out_.problem) out_.problem = {at, length, std::move(message)};
        return 0;
    }
    Node problem_here(std::string message) {
        const std::size_t length = std::max<std::size_t>(now().length, 1);
        const std::size_t at = std::min(now().at, text_.empty() ? 0 : text_.size() - 1);
        return problem(at, length, std::move(message));
    }
    bool failed() const { return out_.problem.has_value(); }

    Node add(FormulaNode node) {
        out_.tree.nodes.push_back(std::move(node));
        return static_cast<Node>(out_.tree.nodes.size() - 1);
    }
    /// One made of others, from the first's beginning to here.
    Node add(What what, std::size_t from, std::vector<Node> of, std::string_view sign = {}, Node index = 0) {
        const FormulaToken& last = tokens_[at_ - 1];
        return add({what, 0, {}, index, sign, std::move(of), from, last.at + last.length - from});
    }

    // ---- rules
    void lines() {
        bool have_result = false;
        while (!failed()) {
            while (is(FormulaToken::What::LineEnd)) ++at_;
            if (is(FormulaToken::What::End)) break;
            if (have_result) {
                problem_here(
                    "the line before gives the result already; give its value a name, or take it out");
                return;
            }
            have_result = !line();
        }
        if (!have_result) problem_here(text_.empty() ? "a formula is asked for" : "the result is missing");
    }

    /// Whether it gives a value a name.
    bool line() {
        const bool names = is(FormulaToken::What::Name) && following().what == FormulaToken::What::Sign &&
                           following().text == "=";
        std::string_view name;
        if (names) {
            name = now().text;
            if (!is_formula_name(name))
                return problem_here(fmt::format("'{}' is a word of formulas; take another name", name)), true;
            if (input_named(name) || local_named(name))
                return problem_here(fmt::format("'{}' has a value already", name)), true;
            at_ += 2;
        }
        const Node value = either();
        if (!failed() && !ended())
            problem_here(is_sign("=")   ? "'=' gives a name a value; to compare, write '=='"
                         : is_sign(")") ? "')' closes nothing"
                                        : "a sign is missing before this");
        if (failed()) return true;
        if (names) {
            out_.tree.locals.push_back(value);
            local_names_.push_back(name);
        } else {
            out_.tree.result = value;
        }
        return names;
    }

    template <class Next>
    Node in_row(std::initializer_list<std::pair<std::string_view, std::string_view>> written, Next next) {
        const std::size_t from = now().at;
        Node left = next();
        for (bool again = true; again && !failed();) {
            again = false;
            for (const auto& [sign, meant] : written)
                if (!failed() && (is_sign(sign) || is_name(sign))) {
                    ++at_;
                    const Node right = next();
                    left = add(What::Operator, from, {left, right}, meant);
                    again = true;
                    break;
                }
        }
        return left;
    }

    Node either() {
        if (++depth_ > deepest)
            return problem_here(fmt::format("brackets nested more than {} deep", deepest));
        const Node node = in_row({{"or", "||"}}, [this] {
            return in_row({{"and", "&&"}}, [this] { return negated(); });
        });
        --depth_;
        return node;
    }
    Node negated() {
        if (!is_name("not")) return compared();
        const std::size_t from = now().at;
        ++at_;
        if (++depth_ > deepest) return problem_here("too many 'not' in a row");
        const Node of = negated();
        --depth_;
        return add(What::Not, from, {of});
    }
    Node compared() {
        return in_row({{"<", "<"}, {"<=", "<="}, {">", ">"}, {">=", ">="}, {"==", "=="}, {"!=", "!="}},
                      [this] { return sum(); });
    }
    Node sum() {
        return in_row({{"+", "+"}, {"-", "-"}}, [this] { return product(); });
    }
    Node product() {
        return in_row({{"*", "*"}, {"/", "/"}}, [this] { return signed_value(); });
    }
    Node signed_value() {
        const std::size_t from = now().at;
        if (take_sign("+")) return deeper();
        if (!take_sign("-")) return powered();
        const Node of = deeper();
        return add(What::Negative, from, {of});
    }
    Node deeper() {
        if (++depth_ > deepest) return problem_here("too many signs in a row");
        const Node node = signed_value();
        --depth_;
        return node;
    }
    /// `2^-3^2` is 2^(-(3^2)).
    Node powered() {
        const std::size_t from = now().at;
        const Node base = with_unit();
        if (failed() || !take_sign("^")) return base;
        const Node exponent = deeper();
        return add(What::Operator, from, {base, exponent}, "^");
    }

    const Unit* unit_here() const {
        if (is_sign("%")) return unit_named("%");
        // A name that is called is none.
        const bool called = following().what == FormulaToken::What::Sign && following().text == "(";
        return is(FormulaToken::What::Name) && !called ? unit_named(now().text) : nullptr;
    }
    FormulaNode number(double value, std::size_t from) const {
        const FormulaToken& last = tokens_[at_ - 1];
        return {What::Number, value, plain_quantity, 0, {}, {}, from, last.at + last.length - from};
    }
    double factor_of(const Unit& unit) const {
        return unit.quantity == length_quantity ? unit.factor / unit_m_ : unit.factor;
    }
    Node with_unit() {
        const std::size_t from = now().at;
        if (is(FormulaToken::What::Number)) {
            double value = now().number;
            // `1/3 turn` is a third of a turn.
            const bool fraction = at_ + 3 < tokens_.size() && tokens_[at_ + 1].text == "/" &&
                                  tokens_[at_ + 2].what == FormulaToken::What::Number;
            if (fraction) {
                const std::size_t begin = at_;
                at_ += 3;
                if (const Unit* unit = unit_here()) {
                    value *= factor_of(*unit) / tokens_[begin + 2].number;
                    ++at_;
                    FormulaNode node = number(value, from);
                    node.quantity = unit->quantity;
                    return add(std::move(node));
                }
                at_ = begin;
            }
            ++at_;
            const Unit* unit = unit_here();
            if (unit) value *= factor_of(*unit), ++at_;
            FormulaNode node = number(value, from);
            if (unit) node.quantity = unit->quantity;
            return add(std::move(node));
        }
        const bool bracket = is_sign("(");
        const Node value = single();
        const Unit* unit = bracket && !failed() ? unit_here() : nullptr;
        if (!unit) return value;
        ++at_;
        FormulaNode factor = number(factor_of(*unit), tokens_[at_ - 1].at);
        factor.quantity = unit->quantity;
        const Node by = add(std::move(factor));
        return add(What::Operator, from, {value, by}, "*");
    }

    Node single() {
        const std::size_t from = now().at;
        if (take_sign("(")) {
            const Node inside = either();
            if (!failed() && !take_sign(")"))
                return ended() ? problem(from, 1, "this bracket is not closed")
                               : problem_here("a sign or ')' is missing before this");
            return inside;
        }
        if (is(FormulaToken::What::Name)) return named();
        if (ended()) {
            const std::size_t before = at_ > 0 ? at_ - 1 : 0;
            return problem(tokens_[before].at, std::max<std::size_t>(tokens_[before].length, 1),
                           "a value is missing after this");
        }
        return problem_here(
            fmt::format("a value is missing before '{}'", text_.substr(now().at, now().length)));
    }

    std::optional<Node> input_named(std::string_view name) const {
        for (Node i = 0; i < inputs_.size(); ++i)
            if (inputs_[i].name == name) return i;
        return std::nullopt;
    }
    std::optional<Node> local_named(std::string_view name) const {
        for (Node i = 0; i < local_names_.size(); ++i)
            if (local_names_[i] == name) return i;
        return std::nullopt;
    }

    Node named() {
        const FormulaToken token = now();
        ++at_;
        if (is_sign("(")) return called(token);
        if (const auto input = input_named(token.text)) return add(What::Input, token.at, {}, {}, *input);
        if (const auto local = local_named(token.text)) return add(What::Local, token.at, {}, {}, *local);
        if (token.text == "pi") return add(number(pi, token.at));
        --at_;
        return problem_here(unknown(token.text));
    }

    std::string unknown(std::string_view name) const {
        for (const FormulaFunction& function : formula_functions())
            if (function.name == name)
                return fmt::format("'{}' takes values in brackets: {}", name, function.words);
        if (unit_named(name)) return fmt::format("'{}' is a unit and stands behind a number", name);
        std::string_view nearest;
        std::size_t least = 3;
        const auto look = [&](std::string_view known) {
            const std::size_t apart = letters_apart(name.substr(0, 40), known.substr(0, 40));
            if (apart < least && apart < name.size()) least = apart, nearest = known;
        };
        for (const FormulaName& input : inputs_) look(input.name);
        for (const std::string_view local : local_names_) look(local);
        for (const FormulaFunction& function : formula_functions()) look(function.name);
        const std::string shown(name.substr(0, 40));
        return nearest.empty() ? fmt::format("'{}' is no input; add it to the table", shown)
                               : fmt::format("'{}' is no input; '{}' is one like it", shown, nearest);
    }

    Node called(const FormulaToken& name) {
        const auto& functions = formula_functions();
        const auto function = std::find_if(functions.begin(), functions.end(),
                                           [&](const FormulaFunction& f) { return f.name == name.text; });
        const bool chooses = name.text == "if";
        if (!chooses && function == functions.end()) {
            --at_;
            const bool is_value = input_named(name.text) || local_named(name.text);
            return problem_here(is_value
                                    ? fmt::format("'{}' is a value; a sign is missing behind it", name.text)
                                    : fmt::format("there is no function '{}'", name.text.substr(0, 40)));
        }
        const std::size_t open = now().at;
        ++at_;
        std::vector<Node> of;
        if (!is_sign(")")) do {
                of.push_back(either());
            } while (!failed() && take_sign(","));
        if (failed()) return 0;
        if (!take_sign(")"))
            return ended() ? problem(open, 1, "this bracket is not closed")
                           : problem_here("a sign, ',' or ')' is missing before this");
        const int count = static_cast<int>(of.size()), fewest = chooses ? 3 : function->fewest,
                  most = chooses ? 3 : function->most;
        if (count < fewest || (most >= 0 && count > most))
            return problem(
                name.at, name.length,
                fmt::format("{}; here are {} values",
                            chooses ? "if(condition, then, else) chooses" : function->words, count));
        if (chooses) return add(What::If, name.at, std::move(of));
        return add(What::Call, name.at, std::move(of), {}, static_cast<Node>(function - functions.begin()));
    }

    std::string_view text_;
    std::span<const FormulaName> inputs_;
    double unit_m_;
    std::vector<FormulaToken> tokens_;
    std::size_t at_ = 0;
    int depth_ = 0;
    std::vector<std::string_view> local_names_;
    ReadFormula out_;
};

}  // namespace

ReadFormula read_formula(std::string_view text, std::span<const FormulaName> inputs, double unit_m) {
    return Reader(text, inputs, unit_m).run();
}

bool is_formula_name(std::string_view name) {
    const auto letter = [](char c) { return (c >= 'a' && c <= 'z') || (c >= 'A' && c <= 'Z') || c == '_'; };
    const auto good = [&](char c) { return letter(c) || (c >= '0' && c <= '9'); };
    if (name.empty() || name.size() > 40 || !letter(name.front())) return false;
    if (!std::all_of(name.begin(), name.end(), good)) return false;
    if (std::find(std::begin(words), std::end(words), name) != std::end(words) || unit_named(name))
        return false;
    return std::none_of(formula_functions().begin(), formula_functions().end(),
                        [&](const FormulaFunction& function) { return function.name == name; });
}

}  // namespace pivrak
