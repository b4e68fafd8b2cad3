#include "core/motion/curve_edit.h"

#include <algorithm>
#include <cmath>

namespace pivrak {
namespace {

/// Slopes that differ by less than this, against how steep they are, are one.
constexpr double same_slope = 1e-9;

double value_at(const Track& track, const std::vector<CurveKey>& curve, double frame) {
    return sample_curve(curve, track.before, track.after, frame);
}

bool is_straight_or_step(const Key& key) {
    return key.interpolation == Interpolation::Linear || key.interpolation == Interpolation::Stepped;
}

/// The same, known what the curve is.
void freeze(Key& key, const CurveKey& as) {
    key.in = Handle{as.in, as.weight_in};
    if (is_straight_or_step(key)) return;
    key.interpolation = Interpolation::Own;
    key.out = Handle{as.out, as.weight_out};
}

struct Point {
    double x, y;
    Point towards(const Point& other, double t) const {
        return {x + t * (other.x - x), y + t * (other.y - y)};
    }
};

/// A Bezier curve of one run, divided at a share of it.
struct Divided {
    Point left_out, left_in, middle, right_out, right_in;
};

Divided divide(const CurveKey& a, const CurveKey& b, double t) {
    const double span = b.frame - a.frame;
    const bool weighted = a.run == CurveRun::Weighted;
    const double out = weighted ? a.weight_out : 1.0 / 3, in = weighted ? b.weight_in : 1.0 / 3;
    const Point p0{a.frame, a.value}, p1{a.frame + out * span, a.value + a.out * out * span},
        p2{b.frame - in * span, b.value - b.in * in * span}, p3{b.frame, b.value};
    const Point p01 = p0.towards(p1, t), p12 = p1.towards(p2, t), p23 = p2.towards(p3, t);
    const Point left = p01.towards(p12, t), right = p12.towards(p23, t);
    return {p01, left, left.towards(right, t), right, p23};
}

Handle handle(const Point& from, const Point& to, double span) {
    const double way = to.x - from.x;
    return {(to.y - from.y) / way, std::clamp(std::abs(way) / span, 1e-9, most_weight)};
}

}  // namespace

namespace {

/// Of what goes on beyond its keys the ends have slopes that follow from keys further away.
void freeze_ends(Track& track) {
    if (track.keys.size() < 2 || (track.before == Beyond::Hold && track.after == Beyond::Hold)) return;
    const auto curve = compile_curve(track.keys, track.before, track.after);
    freeze(track.keys.front(), curve.front());
    freeze(track.keys.back(), curve.back());
}

}  // namespace

void freeze_key(Track& track, std::size_t at) {
    freeze(track.keys[at], compile_curve(track.keys, track.before, track.after)[at]);
}

void insert_key(Track& track, double frame) {
    const auto next = std::lower_bound(track.keys.begin(), track.keys.end(), frame,
                                       [](const Key& key, double f) { return key.frame < f; });
    if (next == track.keys.begin() || next == track.keys.end() || next->frame == frame) return;
    const auto at = static_cast<std::size_t>(next - track.keys.begin());
    freeze_ends(track);
    const std::vector<CurveKey> curve = compile_curve(track.keys, track.before, track.after);
    const CurveKey &a = curve[at - 1], &b = curve[at];
    Key made{frame, value_at(track, curve, frame), track.keys[at - 1].interpolation};
    freeze(track.keys[at - 1], a);
    freeze(track.keys[at], b);
    if (a.run == CurveRun::Cubic || a.run == CurveRun::Weighted) {
        const double share = (frame - a.frame) / (b.frame - a.frame);
        const double t =
            a.run == CurveRun::Weighted ? weighted_share(a.weight_out, b.weight_in, share) : share;
        const Divided d = divide(a, b, t);
        const Point start{a.frame, a.value}, end{b.frame, b.value};
        made.interpolation = Interpolation::Own;
        made.value = d.middle.y;
        made.in = handle(d.middle, d.left_in, frame - a.frame);
        made.out = handle(d.middle, d.right_out, b.frame - frame);
        track.keys[at - 1].out = handle(start, d.left_out, frame - a.frame);
        track.keys[at].in = handle(end, d.right_in, b.frame - frame);
    }
    track.keys.insert(track.keys.begin() + static_cast<std::ptrdiff_t>(at), made);
}

double furthest_apart(const Track& a, const Track& b, double from, double to) {
    const auto one = compile_curve(a.keys, a.before, a.after),
               other = compile_curve(b.keys, b.before, b.after);
    double most = 0;
    const double tenths = std::ceil((to - from) * 10);
    for (double i = 0; i <= tenths; ++i) {
        const double frame = std::min(from + 0.1 * i, to);
        most = std::max(most, std::abs(value_at(a, one, frame) - value_at(b, other, frame)));
    }
    return most;
}

namespace {

/// Keeps the fewest keys that it finds, from one kept key to the furthest that may be the next.
class Thinner {
public:
    Thinner(const Track& track, double from, double to, double tolerance)
        : track_(track),
          from_(from),
          to_(to),
          tolerance_(tolerance),
          curve_(compile_curve(track.keys, track.before, track.after)),
          bent_(curve_) {
        // Keys of straight runs stand for something that has a slope there.
        for (std::size_t i = 0; i < curve_.size(); ++i) {
            if (i > 0 && curve_[i - 1].run == CurveRun::Line) bent_[i].in = parabola_slope(i);
            if (curve_[i].run == CurveRun::Line) bent_[i].out = parabola_slope(i);
        }
    }

    /// Numbers of the keys that stay.
    std::vector<std::size_t> kept() const {
        std::vector<std::size_t> all;
        for (std::size_t i = 0; i < curve_.size(); i = next_after(i)) all.push_back(i);
        return all;
    }

    /// A key as it stays, with a gap before it, behind it, or both.
    Key stays(std::size_t i, bool gap_before, bool gap_behind) const {
        Key key = track_.keys[i];
        if (!gap_before && !gap_behind) return key;
        freeze(key, curve_[i]);
        if (gap_before) key.in = Handle{bent_[i].in};
        if (gap_behind) {
            key.interpolation = Interpolation::Own;
            key.out = Handle{bent_[i].out};
        }
        return key;
    }

private:
    /// Of the parabola through a key and its neighbours; at an end of that through the two beside it.
    double parabola_slope(std::size_t i) const {
        const std::size_t last = curve_.size() - 1;
        if (last == 0) return 0;
        const auto secant = [&](std::size_t a, std::size_t b) {
            return (curve_[b].value - curve_[a].value) / (curve_[b].frame - curve_[a].frame);
        };
        if (last == 1) return secant(0, 1);
        const std::size_t middle = std::clamp<std::size_t>(i, 1, last - 1);
        const double before = curve_[middle].frame - curve_[middle - 1].frame,
                     behind = curve_[middle + 1].frame - curve_[middle].frame,
                     one = secant(middle - 1, middle), other = secant(middle, middle + 1),
                     bend = (other - one) / (before + behind);
        return (one * behind + other * before) / (before + behind) +
               2 * bend * (curve_[i].frame - curve_[middle].frame);
    }

    bool may_go(std::size_t i) const {
        const CurveKey& key = bent_[i];
        const double steep = 1 + std::abs(key.in) + std::abs(key.out);
        return key.frame > from_ && key.frame < to_ && key.run != CurveRun::Step &&
               std::abs(key.in - key.out) < same_slope * steep;
    }

    /// Whether one bent run from a key to another stays near the curve between them.
    bool is_near(std::size_t first, std::size_t last) const {
        std::vector<CurveKey> run{bent_[first], bent_[last]};
        run[0].run = CurveRun::Cubic;
        run[0].weight_out = run[1].weight_in = 1.0 / 3;
        const auto off = [&](double frame) {
            return std::abs(sample_curve(run, frame) - value_at(track_, curve_, frame)) > tolerance_;
        };
        for (double i = 1; run[0].frame + 0.1 * i < run[1].frame; ++i)
            if (off(run[0].frame + 0.1 * i)) return false;
        for (std::size_t k = first + 1; k < last; ++k)
            if (off(curve_[k].frame)) return false;
        return true;
    }

    /// Looked for by steps that double, and are halved again.
    std::size_t next_after(std::size_t first) const {
        if (first + 1 >= curve_.size()) return first + 1;
        std::size_t end = first + 1;
        if (curve_[first].frame >= from_ && curve_[first].run != CurveRun::Step)
            while (end + 1 < curve_.size() && may_go(end) && curve_[end + 1].frame <= to_) ++end;
        std::size_t good = first + 1, step = 1;
        for (; good + step <= end && is_near(first, good + step); step *= 2) good += step;
        for (; step > 0; step /= 2)
            while (good + step <= end && is_near(first, good + step)) good += step;
        return good;
    }

    const Track& track_;
    double from_, to_, tolerance_;
    std::vector<CurveKey> curve_, bent_;
};

}  // namespace

std::size_t thin_keys(Track& track, double from, double to, double tolerance) {
    Track frozen = track;
    freeze_ends(frozen);
    const Thinner thinner(frozen, from, to, tolerance);
    const std::vector<std::size_t> kept = thinner.kept();
    const std::size_t gone = track.keys.size() - kept.size();
    if (gone == 0) return 0;
    std::vector<Key> keys;
    for (std::size_t n = 0; n < kept.size(); ++n)
        keys.push_back(thinner.stays(kept[n], n > 0 && kept[n - 1] + 1 < kept[n],
                                     n + 1 < kept.size() && kept[n + 1] > kept[n] + 1));
    track.keys = std::move(keys);
    return gone;
}

void reverse_keys(Track& track, std::size_t first, std::size_t last) {
    const auto curve = compile_curve(track.keys, track.before, track.after);
    const double sum = track.keys[first].frame + track.keys[last].frame;
    std::vector<Key> turned;
    for (std::size_t i = last + 1; i-- > first;) {
        // What ran towards a key leaves it now; what leaves the run stays as it was.
        Key key{sum - curve[i].frame, curve[i].value, Interpolation::Own};
        key.in = Handle{-curve[i].out, curve[i].weight_out};
        key.out = Handle{-curve[i].in, curve[i].weight_in};
        const CurveRun run = i > first ? curve[i - 1].run : curve[last].run;
        if (run == CurveRun::Line) key.interpolation = Interpolation::Linear, key.out.reset();
        if (run == CurveRun::Step) key.interpolation = Interpolation::Stepped, key.out.reset();
        if (i == first) key.out = Handle{curve[last].out, curve[last].weight_out};
        if (i == first && key.interpolation != Interpolation::Own) key.out.reset();
        if (i == last) key.in = Handle{curve[first].in, curve[first].weight_in};
        turned.push_back(key);
    }
    std::copy(turned.begin(), turned.end(), track.keys.begin() + static_cast<std::ptrdiff_t>(first));
}

}  // namespace pivrak
