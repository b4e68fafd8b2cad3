#include "core/motion/curve.h"

#include <algorithm>
#include <cmath>

namespace pivrak {
namespace {

double steffen_slope(const Key& before, const Key& here, const Key& after) {
    const double left = here.frame - before.frame, right = after.frame - here.frame;
    const double left_secant = (here.value - before.value) / left,
                 right_secant = (after.value - here.value) / right;
    if (left_secant * right_secant <= 0) return 0;
    const double parabola = (left_secant * right + right_secant * left) / (left + right);
    const double least = std::min({std::abs(left_secant), std::abs(right_secant), 0.5 * std::abs(parabola)});
    return std::copysign(2 * least, left_secant);
}

}  // namespace

std::vector<CurveKey> compile_curve(std::span<const Key> keys) {
    std::vector<CurveKey> curve;
    curve.reserve(keys.size());
    for (std::size_t i = 0; i < keys.size(); ++i) {
        const bool inside = i > 0 && i + 1 < keys.size();
        curve.push_back({keys[i].frame, keys[i].value,
                         inside ? steffen_slope(keys[i - 1], keys[i], keys[i + 1]) : 0,
                         keys[i].interpolation == Interpolation::Smooth});
    }
    return curve;
}

double sample_curve(std::span<const CurveKey> keys, double frame) {
    if (frame <= keys.front().frame) return keys.front().value;
    if (frame >= keys.back().frame) return keys.back().value;
    const auto next = std::upper_bound(keys.begin(), keys.end(), frame,
                                       [](double f, const CurveKey& key) { return f < key.frame; });
    const CurveKey &a = *(next - 1), &b = *next;
    const double span = b.frame - a.frame, t = (frame - a.frame) / span;
    if (!a.smooth) return a.value + t * (b.value - a.value);
    const double u = 1 - t;
    return a.value * (1 + 2 * t) * u * u + b.value * (3 - 2 * t) * t * t +
           span * t * u * (a.slope * u - b.slope * t);
}

}  // namespace pivrak
