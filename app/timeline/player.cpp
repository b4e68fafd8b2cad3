#include "app/timeline/player.h"

#include <algorithm>
#include <cmath>

namespace pivrak {

Player::Player(Session& session, QObject* parent) : QObject(parent), session_(session) {
    timer_.setTimerType(Qt::PreciseTimer);
    timer_.setInterval(8);
    connect(&timer_, &QTimer::timeout, this, &Player::tick);
    connect(&session_, &Session::arrived, this, &Player::stop);
}

double Player::frameAfter(const Clip& clip, double from, double seconds, double rate) {
    const double gone = seconds * rate, length = clip.last_frame - clip.first_frame;
    const double played =
        from - clip.first_frame + (gone < 0 ? std::ceil(gone - 1e-9) : std::floor(gone + 1e-9));
    if (!clip.loop) return clip.first_frame + std::clamp(played, 0.0, length);
    const double inside = std::fmod(played, length);
    return clip.first_frame + (inside < 0 ? inside + length : inside);
}

void Player::setPace(double pace, bool every_frame) {
    const bool playing = isPlaying();
    stop();
    pace_ = pace;
    every_frame_ = every_frame;
    if (playing) toggle();
}

void Player::toggle() {
    if (isPlaying()) return stop();
    const Clip& clip = session_.clip();
    const bool back = pace_ < 0;
    const bool inside = session_.frame() >= clip.first_frame && session_.frame() <= clip.last_frame &&
                        session_.frame() != (back ? clip.first_frame : clip.last_frame);
    start_frame_ = inside ? session_.frame() : back ? clip.last_frame : clip.first_frame;
    shown_ = left_out_ = 0;
    due_ = 0;
    session_.setFrame(start_frame_);
    clock_.start();
    timer_.start();
    emit playingChanged(true);
}

void Player::stop() {
    if (!isPlaying()) return;
    timer_.stop();
    emit playingChanged(false);
}

/// As many frames as are due by now; those that there was no time for are left out and counted. With every
/// frame shown, no more than the next one.
void Player::tick() {
    const Clip& clip = session_.clip();
    const double rate = frame_rate_of(session_.document(), clip);
    const double due =
        std::floor(static_cast<double>(clock_.elapsed()) / 1000 * std::abs(pace_) * rate + 1e-9);
    if (due <= due_) return;
    if (every_frame_) {
        // The clock waits for what takes long.
        due_ += 1;
        if (due > due_) clock_.restart(), start_frame_ = session_.frame(), due_ = 1;
    } else {
        left_out_ += static_cast<int>(due - due_) - 1;
        due_ = due;
    }
    ++shown_;
    session_.setFrame(frameAfter(clip, start_frame_, std::copysign(due_ / rate, pace_), rate));
    emit played(shown_, left_out_);
    const double end = pace_ < 0 ? clip.first_frame : clip.last_frame;
    if (!clip.loop && session_.frame() == end) stop();
}

}  // namespace pivrak
