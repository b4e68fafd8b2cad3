#pragma once

#include <span>
#include <vector>

#include "core/model/clip.h"

namespace pivrak {

/// Keys made ready for sampling: slopes are worked out once.
///
/// A linear stretch is a straight line. A smooth stretch is a cubic Hermite curve whose slopes never
/// overshoot the keys: Steffen's monotone slopes inside, level at the first and last key, so a move eases
/// in and out. Before the first key and after the last one the value holds.
/// Source: M. Steffen, A simple method for monotonic interpolation in one dimension, Astron. Astrophys. 239
/// (1990), pp. 443-450.
struct CurveKey {
    double frame, value, slope;
    bool smooth;
};

/// Pre: keys in rising order of frames. Same length as the keys.
std::vector<CurveKey> compile_curve(std::span<const Key> keys);

/// Value at a frame. Pre: at least one key.
double sample_curve(std::span<const CurveKey> keys, double frame);

}  // namespace pivrak
