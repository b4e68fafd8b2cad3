#pragma once

#include <string>

#include "core/model/document.h"

namespace pivrak {

/// `15.00° per m`, `x -0.5`, `curve`: for an arrow.
std::string gain_words(const Follow& follow);

/// `15 degrees for each m`, `0.5 times`, `by a curve of 3 points`: for a sentence.
std::string rule_words(const Follow& follow);

/// Of the driven for each of the driver's, in degrees and metres, as it is typed.
double typed_gain(const Follow& follow);
/// The gain that is meant by such a number.
double gain_from_typed(const Follow& follow, double typed);

/// A response curve's slope in degrees and metres, as it is typed; and what is meant by such a number.
double typed_slope(const Follow& follow, double slope);
double slope_from_typed(const Follow& follow, double typed);

/// `0 m: 0 deg, 0.4 m: 30 deg slope 12`: a curve as it is typed, with digits enough to give the same again.
std::string curve_words(const Follow& follow);

}  // namespace pivrak
