#pragma once

#include <QElapsedTimer>
#include <QObject>
#include <QTimer>

#include "app/session/session.h"

namespace pivrak {

/// Plays the clip in real time: whole frames, late ones left out, so that a slow picture never slows time.
class Player : public QObject {
    Q_OBJECT

public:
    explicit Player(Session& session, QObject* parent = nullptr);
    bool isPlaying() const { return timer_.isActive(); }
    void toggle();
    void stop();

    /// The frame to show after some time, from a frame on. Outside a loop it stays at the last one.
    static double frameAfter(const Clip& clip, double from_frame, double seconds, double frame_rate);

signals:
    void playingChanged(bool playing);

private:
    void tick();
    Session& session_;
    QTimer timer_;
    QElapsedTimer clock_;
    double start_frame_ = 0;
};

}  // namespace pivrak
