#pragma once

#include <string>
#include <string_view>

#include "core/base/result.h"

namespace pivrak {

/// The unit lengths are shown and typed in. Core computes in metres whatever it is.
enum class LengthUnit { Millimetre, Centimetre, Metre };

enum class Dimension { None, Length, Angle };

double metres_per(LengthUnit unit);
std::string_view symbol(LengthUnit unit);
/// `mm`, `cm` or `m`; anything else is `unit.unknown`.
Result<LengthUnit> length_unit_from(std::string_view symbol);

/// Whether a length [m], an angle [rad] or a bare number is one that can be worked with: lengths and angles
/// to 1e9, other numbers to 1e15. Beyond, doubles have no millimetre and no degree left. Errors:
/// `quantity.range`.
Result<void> check_quantity(double value, Dimension dimension);

/// Reads what a person types: arithmetic with units, for example `3*25.4 mm`, `1/3 turn`, `2 m + 40 mm`.
/// A number without a unit takes the window's: `bare` for lengths, degrees for angles. The answer is in
/// metres, radians, or a plain number. A unit of the wrong dimension is refused.
/// Errors: `quantity.empty`, `quantity.syntax` (with the place), `quantity.not_finite`, `quantity.range`.
Result<double> parse_quantity(std::string_view text, Dimension dimension,
                              LengthUnit bare = LengthUnit::Metre);

/// A length with its unit and at most `decimals` decimals, for example `272.0 mm`.
std::string format_length(double metres, LengthUnit unit, int decimals);
/// A length as a project tells it: in its own unit, and where that is the metre, in millimetres below one;
/// from thousandths of a millimetre on, what is smaller, but not nothing, is called so. Modules, pitches and
/// wires are told in millimetres whatever the unit is: the trade does.
std::string format_length(double metres, LengthUnit unit);
/// An angle in degrees, for example `45.00°`.
std::string format_angle(double radians, int decimals = 2);
/// How far something is from where it should be: `12.4 mm, 3.100°`; what is nothing is left out.
std::string format_miss(double metres, double radians, LengthUnit unit);

}  // namespace pivrak
