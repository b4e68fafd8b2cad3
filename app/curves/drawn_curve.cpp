#include "app/curves/drawn_curve.h"

#include <algorithm>

namespace pivrak {
namespace {

constexpr double bend_px = 4, beyond_px = 2;  // from point to point of what is no straight line

class Drawing {
public:
    Drawing(const CompiledTrack& track, const Ruler& ruler, const std::function<double(double)>& y)
        : track_(track), ruler_(ruler), y_(y) {}

    DrawnCurve draw() {
        const auto& keys = track_.curve;
        beyond(out_.before, track_.track.before, ruler_.first_frame,
               std::min(ruler_.last_frame, keys.front().frame));
        // From the last key before what is seen to the first one behind it.
        const auto later = [](double frame, const CurveKey& key) { return frame < key.frame; };
        auto key = std::upper_bound(keys.begin(), keys.end(), ruler_.first_frame, later);
        if (key != keys.begin()) --key;
        for (; key != keys.end(); ++key) {
            if (key->frame > ruler_.last_frame) break;
            add(out_.inside, key->frame, key->value);
            if (key + 1 != keys.end()) run(*key, *(key + 1));
        }
        beyond(out_.behind, track_.track.after, std::max(ruler_.first_frame, keys.back().frame),
               ruler_.last_frame);
        return std::move(out_);
    }

private:
    void add(QPolygonF& line, double frame, double value) const {
        line << QPointF(ruler_.x_at(frame), y_(value));
    }

    void run(const CurveKey& from, const CurveKey& to) {
        if (from.run == CurveRun::Step) return add(out_.inside, to.frame, from.value);
        const double seen_from = std::max(from.frame, ruler_.first_frame),
                     seen_to = std::min(to.frame, ruler_.last_frame);
        if (from.run == CurveRun::Line || seen_to <= seen_from) {
            if (to.frame > ruler_.last_frame) add(out_.inside, to.frame, to.value);
            return;
        }
        const int pieces = std::clamp(
            static_cast<int>((seen_to - seen_from) * ruler_.pixels_per_frame() / bend_px), 1, 2000);
        for (int i = from.frame < ruler_.first_frame ? 0 : 1; i < pieces; ++i) {
            const double frame = seen_from + (seen_to - seen_from) * i / pieces;
            add(out_.inside, frame, track_.at(frame));
        }
        if (to.frame > ruler_.last_frame) add(out_.inside, seen_to, track_.at(seen_to));
    }

    void beyond(QPolygonF& line, Beyond how, double from, double to) const {
        if (!(to > from)) return;
        const bool straight = how == Beyond::Hold || how == Beyond::Straight;
        const int pieces =
            straight
                ? 1
                : std::clamp(static_cast<int>((to - from) * ruler_.pixels_per_frame() / beyond_px), 1, 4000);
        for (int i = 0; i <= pieces; ++i) {
            const double frame = from + (to - from) * i / pieces;
            add(line, frame, track_.at(frame));
        }
    }

    const CompiledTrack& track_;
    const Ruler& ruler_;
    const std::function<double(double)>& y_;
    DrawnCurve out_;
};

}  // namespace

DrawnCurve drawn_curve(const CompiledTrack& track, const Ruler& ruler,
                       const std::function<double(double)>& y) {
    return Drawing(track, ruler, y).draw();
}

}  // namespace pivrak
