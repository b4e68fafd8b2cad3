#pragma once

#include <span>
#include <vector>

#include "core/model/clip.h"

namespace pivrak {

/// How a compiled curve runs from a key to the next one.
enum class CurveRun : std::uint8_t {
    Line,
    Cubic,     ///< by both slopes, handles a third of the way long
    Weighted,  ///< by both slopes and weights
    Step,
};

/// Keys made ready for sampling: slopes are worked out once.
///
/// A smooth stretch is a cubic Hermite curve whose slopes never overshoot the keys: Steffen's monotone slopes
/// inside, level at the first and last key, so a move eases in and out. Where the channel repeats beyond that
/// key, and closes, its slope there is that of the seam; where it goes straight on, Steffen's one-sided
/// slope. Own handles that are not a third of the way long make it a Bezier curve in frame and value, as W3C
/// CSS Easing Functions Level 1 has it. Source: M. Steffen, A simple method for monotonic interpolation in
/// one dimension, Astron. Astrophys. 239 (1990), pp. 443-450.
struct CurveKey {
    double frame, value;
    double in, out;  ///< slopes [a frame]
    double weight_in = 1.0 / 3, weight_out = 1.0 / 3;
    CurveRun run;
};

/// Pre: keys in rising order of frames. Same length as the keys.
std::vector<CurveKey> compile_curve(std::span<const Key> keys, Beyond before = Beyond::Hold,
                                    Beyond after = Beyond::Hold);

/// Value at a frame; beyond the keys that of the nearest one. Pre: at least one key.
double sample_curve(std::span<const CurveKey> keys, double frame);

/// The same, beyond the keys as asked.
double sample_curve(std::span<const CurveKey> keys, Beyond before, Beyond after, double frame);

/// Slope at a frame [a frame]: of two the one behind it. Pre: as above.
double curve_slope(std::span<const CurveKey> keys, Beyond before, Beyond after, double frame);

/// How far along its run, 0 to 1, a weighted one gets to a share of the frames between two keys.
double weighted_share(double weight_out, double weight_in, double share);

}  // namespace pivrak
