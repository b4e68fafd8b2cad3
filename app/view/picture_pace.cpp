#include "app/view/picture_pace.h"

#include <algorithm>

namespace pivrak {
namespace {

constexpr int rest_ms = 150;      // nothing moved for so long: it rests
constexpr int opens_ms = 20;      // after the first picture nothing is waited for
constexpr int goes_on_ms = 400;   // a move so soon after another one belongs to it
constexpr double fluent_ms = 14;  // leaves more than as much for everything else
constexpr double much_less = 0.75, far_less = 0.3;
constexpr double least_share = 0.5;

}  // namespace

PicturePace::PicturePace(QObject* parent) : QObject(parent) {
    rest_.setSingleShot(true);
    connect(&rest_, &QTimer::timeout, this, [this] {
        moves_ = false;
        if (shows_simple_) emit rested();
    });
}

/// One move alone is drawn in full at once.
void PicturePace::moved() {
    moves_ =
        last_.isValid() && static_cast<double>(last_.elapsed()) < goes_on_ms + 1.5 * full_ms_.value_or(0);
    last_.restart();
    rest_.start(rest_ms);
}

void PicturePace::rest() {
    moves_ = opens_ = false;
    rest_.stop();
}

void PicturePace::tookFull(double ms) {
    opens_ = shows_simple_ = false;
    full_ms_ = ms;
}

/// By steps, so that a picture now and then that takes long changes little.
void PicturePace::tookSimple(double ms) {
    shows_simple_ = true;
    if (opens_) {
        opens_ = false;
        rest_.start(opens_ms);
        return;
    }
    if (ms > fluent_ms && lines_)
        lines_ = false;
    else if (ms > fluent_ms)
        share_ = std::max(least_share, 0.85 * share_);
    if (share_ == 1 && ms <= far_less * fluent_ms) lines_ = true;
    if (ms <= much_less * fluent_ms) share_ = std::min(1.0, share_ / 0.9);
}

bool PicturePace::isFull() const {
    if (!by_processor_) return true;
    return !opens_ && (!moves_ || (full_ms_ && *full_ms_ <= fluent_ms));
}

}  // namespace pivrak
