#pragma once

#include <algorithm>
#include <utility>

namespace pivrak {

/// The stretch of a clip's frames that lanes show: the whole range, or a part of it that was zoomed to. It
/// reaches as far beyond the range as the range is long, where keys may lie.
class ShownFrames {
public:
    /// Another range, of another clip or the same: what was zoomed to stays where it lies within reach.
    void setRange(double first, double last) {
        if (first == first_ && last == last_) return;
        const bool whole = isWhole();
        first_ = first;
        last_ = std::max(last, first + 1);
        if (whole) showAll();
        set(from_, to_);
    }
    void showAll() { from_ = first_, to_ = last_; }
    bool isWhole() const { return from_ == first_ && to_ == last_; }
    double from() const { return from_; }
    double to() const { return to_; }

    /// Closer by a factor, farther below 1; one frame stays where it is seen.
    void zoom(double factor, double about) {
        set(about - (about - from_) / factor, about + (to_ - about) / factor);
    }
    void pan(double frames) {
        const double length = to_ - from_, reach = last_ - first_;
        from_ = std::clamp(from_ + frames, first_ - reach, last_ + reach - length);
        to_ = from_ + length;
    }
    /// So that a frame is seen: a page on when it runs out at an end.
    void follow(double frame) {
        constexpr double margin = 0.05;
        if (frame >= from_ && frame <= to_) return;
        pan(frame - from_ - margin * (to_ - from_));
    }

private:
    static constexpr double least = 2;  ///< frames
    void set(double from, double to) {
        const double reach = last_ - first_;
        from_ = std::clamp(from, first_ - reach, last_ + reach - least);
        to_ = std::clamp(to, from_ + least, last_ + reach);
    }

    double first_ = 0, last_ = 1, from_ = 0, to_ = 1;
};

}  // namespace pivrak
