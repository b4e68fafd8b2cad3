#include "core/motion/curve.h"

#include <algorithm>
#include <cmath>

namespace pivrak {
namespace {

struct Place {
    double frame, value;
};

double secant(const Place& a, const Place& b) {
    return (b.value - a.value) / (b.frame - a.frame);
}

double steffen_slope(const Place& before, const Place& here, const Place& after) {
    const double left = here.frame - before.frame, right = after.frame - here.frame;
    const double left_secant = secant(before, here), right_secant = secant(here, after);
    if (left_secant * right_secant <= 0) return 0;
    const double parabola = (left_secant * right + right_secant * left) / (left + right);
    const double least = std::min({std::abs(left_secant), std::abs(right_secant), 0.5 * std::abs(parabola)});
    return std::copysign(2 * least, left_secant);
}

/// At an end, from the two keys beside it: Steffen's rule for boundaries.
double one_sided_slope(const Place& end, const Place& next, const Place& second) {
    const double near = next.frame - end.frame, far = second.frame - next.frame;
    const double first = secant(end, next), other = secant(next, second);
    const double slope = first * (1 + near / (near + far)) - other * near / (near + far);
    if (slope * first <= 0) return 0;
    return std::abs(slope) > 2 * std::abs(first) ? 2 * first : slope;
}

Place place(const Key& key) {
    return {key.frame, key.value};
}

bool repeats(Beyond beyond) {
    return beyond == Beyond::Repeat || beyond == Beyond::AddUp;
}

/// Of the first key and the last one, seen as one key where what repeats has no jump there.
std::optional<double> seam_slope(std::span<const Key> keys, bool adds_up) {
    const Key &first = keys.front(), &last = keys.back();
    const double step = adds_up ? last.value - first.value : 0;
    double size = 1;
    for (const Key& key : keys) size = std::max(size, std::abs(key.value));
    if (std::abs(last.value - first.value - step) > 1e-9 * size) return std::nullopt;
    const Key &before = keys[keys.size() - 2], &after = keys[1];
    const double around = last.frame - first.frame;
    return steffen_slope({before.frame - around, before.value - step}, place(first), place(after));
}

class Slopes {
public:
    Slopes(std::span<const Key> keys, Beyond before, Beyond after) : keys_(keys) {
        if (keys.size() < 2) return;
        first_ =
            end_slope(before, after, keys.front(), keys[1], keys[std::min<std::size_t>(2, keys.size() - 1)]);
        last_ = end_slope(after, before, keys.back(), keys[keys.size() - 2],
                          keys[keys.size() > 2 ? keys.size() - 3 : 0]);
    }
    double smooth(std::size_t i) const {
        if (i == 0) return first_;
        if (i + 1 == keys_.size()) return last_;
        return steffen_slope(place(keys_[i - 1]), place(keys_[i]), place(keys_[i + 1]));
    }

private:
    double end_slope(Beyond here, Beyond there, const Key& end, const Key& next, const Key& second) const {
        if (here == Beyond::Straight)
            return keys_.size() == 2 ? secant(place(end), place(next))
                                     : one_sided_slope(place(end), place(next), place(second));
        // The seam has one slope, whichever side it is seen from.
        const Beyond way = repeats(here) ? here : there;
        if (!repeats(way)) return 0;
        return seam_slope(keys_, way == Beyond::AddUp).value_or(0);
    }

    std::span<const Key> keys_;
    double first_ = 0, last_ = 0;
};

bool is_third(double weight) {
    return std::abs(weight - 1.0 / 3) < 1e-12;
}

double bezier(double a, double b, double c, double d, double t) {
    const double u = 1 - t;
    return u * u * u * a + 3 * u * u * t * b + 3 * u * t * t * c + t * t * t * d;
}

/// Between two keys; `frame` is theirs, or between.
double between(const CurveKey& a, const CurveKey& b, double frame) {
    if (a.run == CurveRun::Step) return a.value;
    const double span = b.frame - a.frame;
    double t = (frame - a.frame) / span;
    if (a.run == CurveRun::Line) return a.value + t * (b.value - a.value);
    if (a.run == CurveRun::Weighted) {
        t = weighted_share(a.weight_out, b.weight_in, t);
        return bezier(a.value, a.value + a.out * a.weight_out * span, b.value - b.in * b.weight_in * span,
                      b.value, t);
    }
    const double u = 1 - t;
    return a.value * (1 + 2 * t) * u * u + b.value * (3 - 2 * t) * t * t +
           span * t * u * (a.out * u - b.in * t);
}

double slope_between(const CurveKey& a, const CurveKey& b, double frame) {
    if (a.run == CurveRun::Step) return 0;
    const double span = b.frame - a.frame, rise = b.value - a.value;
    if (a.run == CurveRun::Line) return rise / span;
    double t = (frame - a.frame) / span;
    const double x1 = a.run == CurveRun::Weighted ? a.weight_out : 1.0 / 3,
                 x2 = a.run == CurveRun::Weighted ? 1 - b.weight_in : 2.0 / 3;
    if (a.run == CurveRun::Weighted) t = weighted_share(a.weight_out, b.weight_in, t);
    const double u = 1 - t, y1 = a.out * x1 * span, y2 = rise - b.in * (1 - x2) * span;
    const double dx = 3 * (u * u * x1 + 2 * u * t * (x2 - x1) + t * t * (1 - x2)) * span,
                 dy = 3 * (u * u * y1 + 2 * u * t * (y2 - y1) + t * t * (rise - y2));
    return dx > 1e-15 * span ? dy / dx : (b.in + a.out) / 2;
}

/// Where between the keys a frame beyond them lies, and what is added to its value and times its slope.
struct Turned {
    double frame, added = 0, way = 1;
};

Turned turned_in(std::span<const CurveKey> keys, Beyond beyond, double frame) {
    const double first = keys.front().frame, around = keys.back().frame - first;
    double rounds = std::floor((frame - first) / around);
    double inside = frame - rounds * around;
    // Rounding may leave it a hair outside.
    inside = std::clamp(inside, first, keys.back().frame);
    if (beyond == Beyond::AddUp) return {inside, rounds * (keys.back().value - keys.front().value)};
    if (beyond == Beyond::Swing && std::fmod(std::abs(rounds), 2) == 1)
        return {first + keys.back().frame - inside, 0, -1};
    return {inside};
}

Beyond beyond_at(std::span<const CurveKey> keys, Beyond before, Beyond after, double frame) {
    if (keys.size() < 2) return Beyond::Hold;
    return frame < keys.front().frame ? before : frame > keys.back().frame ? after : Beyond::Hold;
}

/// With which a curve leaves its end.
double end_slope(std::span<const CurveKey> keys, bool first) {
    const CurveKey &a = first ? keys[0] : keys[keys.size() - 2], &b = first ? keys[1] : keys.back();
    return slope_between(a, b, first ? a.frame : b.frame);
}

}  // namespace

std::vector<CurveKey> compile_curve(std::span<const Key> keys, Beyond before, Beyond after) {
    std::vector<CurveKey> curve;
    curve.reserve(keys.size());
    const Slopes slopes(keys, before, after);
    for (std::size_t i = 0; i < keys.size(); ++i) {
        const Key& key = keys[i];
        const bool own = key.interpolation == Interpolation::Own;
        const double usual = key.interpolation == Interpolation::Flat ? 0
                             : own && key.out                         ? key.out->slope
                                                                      : slopes.smooth(i);
        CurveKey one{key.frame, key.value, key.in ? key.in->slope : usual, usual};
        if (key.in) one.weight_in = key.in->weight;
        if (own && key.out) one.weight_out = key.out->weight;
        one.run = key.interpolation == Interpolation::Linear    ? CurveRun::Line
                  : key.interpolation == Interpolation::Stepped ? CurveRun::Step
                                                                : CurveRun::Cubic;
        curve.push_back(one);
    }
    for (std::size_t i = 0; i + 1 < curve.size(); ++i)
        if (curve[i].run == CurveRun::Cubic &&
            !(is_third(curve[i].weight_out) && is_third(curve[i + 1].weight_in)))
            curve[i].run = CurveRun::Weighted;
    return curve;
}

double sample_curve(std::span<const CurveKey> keys, double frame) {
    if (frame <= keys.front().frame) return keys.front().value;
    if (frame >= keys.back().frame) return keys.back().value;
    const auto next = std::upper_bound(keys.begin(), keys.end(), frame,
                                       [](double f, const CurveKey& key) { return f < key.frame; });
    return between(*(next - 1), *next, frame);
}

double sample_curve(std::span<const CurveKey> keys, Beyond before, Beyond after, double frame) {
    const Beyond beyond = beyond_at(keys, before, after, frame);
    if (beyond == Beyond::Hold) return sample_curve(keys, frame);
    if (beyond == Beyond::Straight) {
        const bool first = frame < keys.front().frame;
        const CurveKey& end = first ? keys.front() : keys.back();
        return end.value + end_slope(keys, first) * (frame - end.frame);
    }
    const Turned at = turned_in(keys, beyond, frame);
    return sample_curve(keys, at.frame) + at.added;
}

double curve_slope(std::span<const CurveKey> keys, Beyond before, Beyond after, double frame) {
    const Beyond beyond = beyond_at(keys, before, after, frame);
    if (beyond == Beyond::Straight) return end_slope(keys, frame < keys.front().frame);
    double at = frame, way = 1;
    if (beyond != Beyond::Hold) {
        const Turned turned = turned_in(keys, beyond, frame);
        at = turned.frame;
        way = turned.way;
    }
    if (keys.size() < 2 || at < keys.front().frame || at > keys.back().frame) return 0;
    auto next = std::upper_bound(keys.begin(), keys.end(), at,
                                 [](double f, const CurveKey& key) { return f < key.frame; });
    if (next == keys.end()) --next;
    return way * slope_between(*(next - 1), *next, at);
}

/// Newton's steps, kept between ends that close in.
double weighted_share(double weight_out, double weight_in, double share) {
    const double x1 = weight_out, x2 = 1 - weight_in;
    double low = 0, high = 1, t = std::clamp(share, 0.0, 1.0);
    for (int i = 0; i < 60; ++i) {
        const double miss = bezier(0, x1, x2, 1, t) - share;
        if (std::abs(miss) < 1e-15) break;
        (miss < 0 ? low : high) = t;
        const double u = 1 - t, slope = 3 * (u * u * x1 + 2 * u * t * (x2 - x1) + t * t * (1 - x2));
        const double next = slope > 0 ? t - miss / slope : -1;
        const double before = t;
        t = next > low && next < high ? next : 0.5 * (low + high);
        if (t == before) break;
    }
    return t;
}

}  // namespace pivrak
