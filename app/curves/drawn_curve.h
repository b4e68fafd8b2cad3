#pragma once

#include <QPolygonF>
#include <functional>

#include "app/timeline/ruler.h"
#include "core/motion/curve.h"

namespace pivrak {

/// A track made ready to be drawn and asked: its curve is compiled once for as long as its keys stay.
struct CompiledTrack {
    Track track;
    std::vector<CurveKey> curve;

    explicit CompiledTrack(const Track& of) : track(of), curve(compile_curve(of.keys, of.before, of.after)) {}
    double at(double frame) const { return sample_curve(curve, track.before, track.after, frame); }
    double slope(double frame) const { return curve_slope(curve, track.before, track.after, frame); }
};

/// What a curve looks like within a ruler [px]: as many points as its bends ask for, keys among them.
struct DrawnCurve {
    QPolygonF before, inside, behind;
};
/// `y` of a value [px]. Pre: the track has a key.
DrawnCurve drawn_curve(const CompiledTrack& track, const Ruler& ruler,
                       const std::function<double(double)>& y);

}  // namespace pivrak
