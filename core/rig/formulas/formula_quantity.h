#pragma once

#include <cstdint>
#include <string>

#include "core/model/channel.h"

namespace pivrak {

/// What a number of a formula counts: powers of lengths, angles, times and frames. A number that was typed
/// without a unit is `plain`, and takes what stands beside it.
struct FormulaQuantity {
    std::int8_t length = 0, angle = 0, time = 0, frames = 0;
    bool plain = false;

    bool has_none() const { return !length && !angle && !time && !frames; }
    bool operator==(const FormulaQuantity&) const = default;
    /// Whether two may be added or compared.
    bool goes_with(const FormulaQuantity& other) const;
};

inline constexpr FormulaQuantity ratio_quantity{}, plain_quantity{0, 0, 0, 0, true}, length_quantity{1},
    angle_quantity{0, 1}, time_quantity{0, 0, 1}, frames_quantity{0, 0, 0, 1};

FormulaQuantity times(const FormulaQuantity& a, const FormulaQuantity& b);
FormulaQuantity over(const FormulaQuantity& a, const FormulaQuantity& b);
FormulaQuantity to_the(const FormulaQuantity& a, int power);

/// What a channel counts.
FormulaQuantity quantity_of(ChannelKind kind);

/// `a length`, `an angle`, `a length per time`.
std::string words_for(const FormulaQuantity& quantity);

}  // namespace pivrak
