#pragma once

#include <string>

#include "core/model/document.h"

namespace pivrak {

/// A length that is larger than what is allowed, in words that never read the same as those of what is
/// allowed.
inline std::string length_over(double metres, double allowed_m, const Document& document) {
    std::string words = format_length(metres, document);
    for (int decimals = 4; words == format_length(allowed_m, document) && decimals < 12; ++decimals)
        words = format_length(metres, LengthUnit::Millimetre, decimals);
    return words;
}

/// The same for an angle, to so many decimals or more.
inline std::string angle_over(double radians, double allowed_rad, int decimals) {
    std::string words = format_angle(radians, decimals);
    for (int more = decimals + 1; words == format_angle(allowed_rad, decimals) && more < 12; ++more)
        words = format_angle(radians, more);
    return words;
}

}  // namespace pivrak
