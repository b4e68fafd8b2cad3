#include "app/timeline/player.h"

#include <cmath>

namespace pivrak {

Player::Player(Session& session, QObject* parent) : QObject(parent), session_(session) {
    timer_.setTimerType(Qt::PreciseTimer);
    timer_.setInterval(8);
    connect(&timer_, &QTimer::timeout, this, &Player::tick);
    connect(&session_, &Session::arrived, this, &Player::stop);
}

double Player::frameAfter(const Clip& clip, double from, double seconds, double rate) {
    const double played = from - clip.first_frame + std::floor(seconds * rate + 1e-9),
                 length = clip.last_frame - clip.first_frame;
    if (!clip.loop) return clip.first_frame + std::min(played, length);
    return clip.first_frame + std::fmod(played, length);
}

void Player::toggle() {
    if (isPlaying()) return stop();
    const Clip& clip = session_.clip();
    const bool inside = session_.frame() >= clip.first_frame && session_.frame() < clip.last_frame;
    start_frame_ = inside ? session_.frame() : clip.first_frame;
    clock_.start();
    timer_.start();
    emit playingChanged(true);
}

void Player::stop() {
    if (!isPlaying()) return;
    timer_.stop();
    emit playingChanged(false);
}

void Player::tick() {
    const Clip& clip = session_.clip();
    session_.setFrame(frameAfter(clip, start_frame_, static_cast<double>(clock_.elapsed()) / 1000,
                                 session_.document().settings.frame_rate));
    if (!clip.loop && session_.frame() >= clip.last_frame) stop();
}

}  // namespace pivrak
