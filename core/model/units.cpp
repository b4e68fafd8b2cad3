#include "core/model/units.h"

#include <fmt/format.h>
#include <muParser.h>

#include <cmath>

#include "core/geometry/types.h"

namespace pivrak {

double metres_per(LengthUnit unit) {
    switch (unit) {
        case LengthUnit::Millimetre:
            return 1e-3;
        case LengthUnit::Centimetre:
            return 1e-2;
        case LengthUnit::Metre:
            return 1.0;
    }
    return 1.0;
}

std::string_view symbol(LengthUnit unit) {
    switch (unit) {
        case LengthUnit::Millimetre:
            return "mm";
        case LengthUnit::Centimetre:
            return "cm";
        case LengthUnit::Metre:
            return "m";
    }
    return "m";
}

Result<LengthUnit> length_unit_from(std::string_view text) {
    for (const LengthUnit unit : {LengthUnit::Millimetre, LengthUnit::Centimetre, LengthUnit::Metre})
        if (text == symbol(unit)) return unit;
    return Error{"unit.unknown", fmt::format("'{}' is not a length unit: use mm, cm or m", text),
                 std::string(text)};
}

namespace {

/// Unit suffixes carry a value that no typed number has, so that a bare result can be told from one with a
/// unit: they are plain factors to SI, and a flag notes that one was met.
thread_local bool met_unit = false;

template <int numerator, int denominator>
double length_factor(double value) {
    met_unit = true;
    return value * numerator / denominator;
}
double degrees(double value) {
    met_unit = true;
    return value * rad_per_deg;
}
double radians(double value) {
    met_unit = true;
    return value;
}
double turns(double value) {
    met_unit = true;
    return value * 2 * pi;
}

void define_units(mu::Parser& parser, Dimension dimension) {
    if (dimension == Dimension::Length) {
        parser.DefinePostfixOprt("mm", length_factor<1, 1000>, false);
        parser.DefinePostfixOprt("cm", length_factor<1, 100>, false);
        parser.DefinePostfixOprt("km", length_factor<1000, 1>, false);
        parser.DefinePostfixOprt("m", length_factor<1, 1>, false);
        parser.DefinePostfixOprt("in", length_factor<254, 10000>, false);
        parser.DefinePostfixOprt("ft", length_factor<3048, 10000>, false);
    }
    if (dimension == Dimension::Angle) {
        parser.DefinePostfixOprt("deg", degrees, false);
        parser.DefinePostfixOprt("rad", radians, false);
        parser.DefinePostfixOprt("turns", turns, false);
        parser.DefinePostfixOprt("turn", turns, false);
    }
}

/// The degree sign is written `deg`, and a unit at the end of `3*25.4 mm` or `1/3 turn` binds to its last
/// number, which for products and quotients gives what is meant.
std::string plain(std::string_view text) {
    std::string out(text);
    for (std::size_t at; (at = out.find("°")) != std::string::npos;)
        out.replace(at, std::string("°").size(), " deg");
    for (std::size_t at; (at = out.find("−")) != std::string::npos;)
        out.replace(at, std::string("−").size(), "-");
    return out;
}

/// In `1/3 turn` the person means a third of a turn; bound to the 3 alone it would be 1/(3 turn).
std::string unit_to_the_front(std::string text) {
    const std::size_t last = text.find_last_not_of(" \t");
    if (last == std::string::npos) return text;
    std::size_t start = last + 1;
    while (start > 0 && std::isalpha(static_cast<unsigned char>(text[start - 1]))) --start;
    const std::string unit = text.substr(start, last + 1 - start);
    const std::string rest = text.substr(0, start);
    const bool other_letters =
        rest.find_first_of("abcdefghijklmnopqrstuvwxyzABCDEFGHIJKLMNOPQRSTUVWXYZ") != std::string::npos;
    if (unit.empty() || rest.find_first_not_of(" \t") == std::string::npos || other_letters) return text;
    return "(" + rest + ")" + unit;
}

}  // namespace

Result<void> check_quantity(double value, Dimension dimension) {
    constexpr double most = 1e9, most_bare = 1e15;
    if (std::abs(value) <= (dimension == Dimension::None ? most_bare : most)) return {};
    const std::string limit = dimension == Dimension::Length ? fmt::format("lengths go to {:.0e} m", most)
                              : dimension == Dimension::Angle
                                  ? fmt::format("angles go to {:.2e} turns", most / (2 * pi))
                                  : fmt::format("numbers go to {:.0e}", most_bare);
    return Error{"quantity.range",
                 fmt::format("{:.4g} is out of range: {}",
                             dimension == Dimension::Angle ? value / (2 * pi) : value, limit),
                 ""};
}

Result<double> parse_quantity(std::string_view text, Dimension dimension, LengthUnit bare) {
    if (text.find_first_not_of(" \t") == std::string_view::npos)
        return Error{"quantity.empty", "nothing was typed: a number is needed", ""};
    try {
        mu::Parser parser;
        define_units(parser, dimension);
        parser.SetExpr(unit_to_the_front(plain(text)));
        met_unit = false;
        double value = parser.Eval();
        if (!met_unit && dimension == Dimension::Length) value *= metres_per(bare);
        if (!met_unit && dimension == Dimension::Angle) value *= rad_per_deg;
        if (!std::isfinite(value))
            return Error{"quantity.not_finite", fmt::format("'{}' has no finite value", text),
                         std::string(text)};
        PIVRAK_CHECK(check_quantity(value, dimension));
        return value;
    } catch (const mu::Parser::exception_type& problem) {
        return Error{"quantity.syntax",
                     fmt::format("'{}' cannot be read as {}: {}", text,
                                 dimension == Dimension::Length  ? "a length"
                                 : dimension == Dimension::Angle ? "an angle"
                                                                 : "a number",
                                 problem.GetMsg()),
                     std::string(text)};
    }
}

namespace {

/// What is rounded to nothing has no sign.
std::string fixed(double value, int decimals) {
    std::string digits = fmt::format("{:.{}f}", value, decimals);
    if (digits.front() == '-' && digits.find_first_not_of("-0.") == std::string::npos) digits.erase(0, 1);
    return digits;
}

}  // namespace

std::string format_length(double metres, LengthUnit unit, int decimals) {
    return fmt::format("{} {}", fixed(metres / metres_per(unit), decimals), symbol(unit));
}

std::string format_length(double metres, LengthUnit unit) {
    const double size = std::abs(metres);
    if (size < 1e-6 && size > 0) return unit == LengthUnit::Centimetre ? "below 0.0001 cm" : "below 0.001 mm";
    if (unit == LengthUnit::Centimetre) return format_length(metres, unit, size >= 0.01 ? 2 : 4);
    if (unit == LengthUnit::Metre && size >= 1.0) return format_length(metres, unit, 3);
    return format_length(metres, LengthUnit::Millimetre, size >= 0.01 ? 1 : 3);
}

std::string format_angle(double radians, int decimals) {
    return fixed(radians * deg_per_rad, decimals) + "°";
}

std::string format_miss(double metres, double radians, LengthUnit unit) {
    const bool place = metres >= 5e-7, turn = radians >= 5e-4 * rad_per_deg;
    std::string words = place ? format_length(metres, unit) : "";
    if (turn) words += (place ? ", " : "") + format_angle(radians, 3);
    return words;
}

}  // namespace pivrak
