#include "core/rig/formulas/formula_tokens.h"

#include <fmt/format.h>

#include <charconv>

namespace pivrak {
namespace {

using Cut = FormulaToken::What;

struct Spelling {
    std::string_view written, meant;
};

/// Signs, the longer of two that begin alike first.
constexpr Spelling signs[] = {
    {"<=", "<="}, {">=", ">="}, {"==", "=="}, {"!=", "!="}, {"≤", "<="}, {"≥", ">="}, {"≠", "!="}, {"×", "*"},
    {"·", "*"},   {"÷", "/"},   {"−", "-"},   {"<", "<"},   {">", ">"},  {"=", "="},  {"+", "+"},  {"-", "-"},
    {"*", "*"},   {"/", "/"},   {"^", "^"},   {"(", "("},   {")", ")"},  {",", ","},  {"%", "%"}};
constexpr Spelling names[] = {{"°", "deg"}, {"π", "pi"}};

bool is_letter(char c) {
    return (c >= 'a' && c <= 'z') || (c >= 'A' && c <= 'Z') || c == '_';
}
bool is_digit(char c) {
    return c >= '0' && c <= '9';
}

class Cutter {
public:
    explicit Cutter(std::string_view text) : text_(text) {}

    FormulaTokens run() {
        while (at_ < text_.size() && !out_.problem) next();
        add(Cut::End, 0);
        return std::move(out_);
    }

private:
    void add(Cut what, std::size_t length, std::string_view meant = {}, double number = 0) {
        out_.tokens.push_back({what, number, meant, at_, length});
        at_ += length;
    }

    void next() {
        const char c = text_[at_];
        if (c == ' ' || c == '\t' || c == '\r') {
            ++at_;
        } else if (c == '\n' || c == ';') {
            add(Cut::LineEnd, 1);
        } else if (is_digit(c) || (c == '.' && at_ + 1 < text_.size() && is_digit(text_[at_ + 1]))) {
            number();
        } else if (is_letter(c)) {
            std::size_t end = at_;
            while (end < text_.size() && (is_letter(text_[end]) || is_digit(text_[end]))) ++end;
            add(Cut::Name, end - at_, text_.substr(at_, end - at_));
        } else if (!spelled(names, Cut::Name) && !spelled(signs, Cut::Sign)) {
            std::size_t length = 1;
            while (at_ + length < text_.size() && (text_[at_ + length] & 0xC0) == 0x80) ++length;
            out_.problem = {at_, length, fmt::format("'{}' has no meaning here", text_.substr(at_, length))};
        }
    }

    template <std::size_t n>
    bool spelled(const Spelling (&known)[n], Cut what) {
        for (const Spelling& one : known)
            if (text_.substr(at_).starts_with(one.written)) {
                add(what, one.written.size(), one.meant);
                return true;
            }
        return false;
    }

    /// With one point, whatever the machine's language.
    void number() {
        double value = 0;
        const char* begin = text_.data() + at_;
        const auto read = std::from_chars(begin, text_.data() + text_.size(), value);
        const auto length = static_cast<std::size_t>(read.ptr - begin);
        if (read.ec != std::errc())
            out_.problem = {at_, length, "this number is too large or too small"};
        else
            add(Cut::Number, length, {}, value);
    }

    std::string_view text_;
    std::size_t at_ = 0;
    FormulaTokens out_;
};

}  // namespace

FormulaTokens cut_formula(std::string_view text) {
    return Cutter(text).run();
}

}  // namespace pivrak
